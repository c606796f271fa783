import { indexSteps } from '../core/followups/track.ts'
import type { Names } from '../core/audience/segments/names.ts'
import { loadAllNames } from '../server/audience/segments/names.ts'
import { Page, StoredFile } from '../server/capture/models.ts'
import { formToken, submitForm } from '../server/capture/forms.ts'
import type { Database, Queries } from '../server/database/connect.ts'
import { ensureActivityMonths } from '../server/database/migrate.ts'
import { createEmail } from '../server/email/emails.ts'
import { EmailLink, type Email } from '../server/email/models.ts'
import { Followup } from '../server/followups/models.ts'
import { fixedClock } from '../server/clock.ts'
import type { Platform } from '../server/platform.ts'
import { Account, Business } from '../server/workspace/models.ts'
import { hashPassword } from '../server/workspace/passwords.ts'
import { helperOf, signInOf } from './accounts.ts'
import { rehearsalAddress, rehearsalPeople } from './cast.ts'
import { chanceFrom } from '../core/chance.ts'
import { templatePackLetters } from './letters.ts'
import { describeAudience, importFairList } from './audience.ts'
import type { Shelf } from './habits.ts'
import { arrivalTimes, live, type Stage } from './lives.ts'
import { sendNewsletter } from './newsletter.ts'
import { makeShelf } from './shelf.ts'
import { storeLives } from './store.ts'
import {
  business,
  paperGrainPage,
  paperGrainProgram,
  templatePackPage,
  templatePackProgram,
} from './story.ts'
import { templatePack } from './templatePack.ts'

/** People of the story, and the seed that makes them the same every time. */
const audience = { people: 2400, seed: 20261124 }

/** Throws everything away that the install holds. */
export async function startOver(database: Database): Promise<void> {
  await database.rows('drop schema public cascade')
  await database.rows('create schema public')
  await database.rows('drop schema if exists graphile_worker cascade')
}

async function makeAccounts(q: Queries, at: Date): Promise<void> {
  await Business.create({ ...business, createdAt: at }, { transaction: q.transaction ?? null })
  for (const { name, address, password } of [signInOf, helperOf])
    await Account.create(
      { name, address, addressKey: address, passwordHash: await hashPassword(password), createdAt: at },
      { transaction: q.transaction ?? null },
    )
}

async function makeTag(q: Queries, name: string, at: Date): Promise<number> {
  const tag = await q.row<{ id: number }>('insert into tag (name, created_at) values ($1, $2) returning id', [
    name,
    at,
  ])
  if (!tag) throw new Error(`the tag ${name} was not made`)
  return tag.id
}

/** Makes the pages, emails and follow-ups of the story. */
async function makeThings(q: Queries, at: Date): Promise<Stage> {
  const transaction = q.transaction ?? null
  const file = await StoredFile.create(
    {
      name: 'Five-Hole Pamphlet templates.pdf',
      mediaType: 'application/pdf',
      content: await templatePack(at),
      createdAt: at,
    },
    { transaction },
  )
  const packTag = await makeTag(q, 'Template pack', at)
  const invited = await makeTag(q, 'Invited to Stitch-Along', at)
  const grainTag = await makeTag(q, 'Paper grain', at)
  const page = await Page.create(
    {
      slug: 'template-pack',
      name: 'Template pack',
      state: 'live',
      tagId: packTag,
      content: templatePackPage,
      createdAt: at,
    },
    { transaction },
  )
  const grainPage = await Page.create(
    {
      slug: 'paper-grain',
      name: 'Paper grain',
      state: 'live',
      tagId: grainTag,
      content: paperGrainPage,
      createdAt: at,
    },
    { transaction },
  )
  const shelf = await makeShelf(q, grainPage.id, at)
  const letters = templatePackLetters(file.id)
  const emails = {
    delivery: await createEmail(q, { ...letters.delivery, at }),
    reminder: await createEmail(q, { ...letters.reminder, at }),
    invitation: await createEmail(q, { ...letters.invitation, at }),
    grain: await createEmail(q, { ...letters.grain, at }),
  }
  const program = templatePackProgram({
    page: page.id,
    tags: { invited },
    emails: {
      delivery: emails.delivery.id,
      reminder: emails.reminder.id,
      invitation: emails.invitation.id,
      grain: emails.grain.id,
    },
  })
  await Followup.create({ name: 'Template pack', state: 'live', program, createdAt: at }, { transaction })
  await Followup.create(
    {
      name: 'Paper grain lesson',
      state: 'live',
      program: paperGrainProgram(grainPage.id, emails.grain.id),
      createdAt: at,
    },
    { transaction },
  )
  return stageOf(q, { page, file: file.id, packTag, program, emails: Object.values(emails), shelf })
}

async function stageOf(
  q: Queries,
  things: {
    page: Page
    file: number
    packTag: number
    program: Stage['program']
    emails: Email[]
    shelf: Shelf
  },
): Promise<Stage> {
  const links = await EmailLink.findAll({ order: ['id'], transaction: q.transaction ?? null })
  const names: Names = await loadAllNames(q)
  return {
    page: things.page.id,
    packTag: things.packTag,
    file: things.file,
    program: things.program,
    track: indexSteps(things.program),
    emails: Object.fromEntries(
      things.emails.map(({ id, purpose }) => [
        id,
        { purpose, links: links.filter((link) => link.emailId === id).map((link) => link.id) },
      ]),
    ),
    names,
    shelf: things.shelf,
    consentWording: things.page.content.form.consentWording,
    consentSource: things.page.name,
  }
}

async function makeRehearsalPeople(q: Queries, at: Date): Promise<void> {
  for (const person of rehearsalPeople) {
    const address = rehearsalAddress(person)
    await q.rows(
      `insert into contact (address, address_key, first_name, last_name, zone, country, rehearsal, created_at, updated_at)
       values ($1, $1, $2, $3, $4, 'IE', true, $5, $5)`,
      [address, person.firstName, person.lastName, business.zone, at],
    )
  }
}

/** Ada has just asked for the templates, so that a rehearsal is under way when somebody looks. */
async function letAdaSignUp(platform: Platform): Promise<void> {
  const page = await Page.findOne({ where: { slug: 'template-pack' }, rejectOnEmpty: true })
  const [ada] = rehearsalPeople
  const address = rehearsalAddress(ada)
  await submitForm(
    platform,
    page,
    {
      firstName: ada.firstName,
      address: { shown: address, key: address },
      consent: 'yes',
      token: formToken(platform, page),
      website: '',
      source: {},
    },
    null,
  )
}

/** Fills an empty install with the demo's story; one that has a business is left as it is. */
export async function seedDemo(platform: Platform): Promise<void> {
  const { database, clock } = platform
  if (await Business.findByPk(1)) return
  const now = clock.now()
  await ensureActivityMonths(database, now, 15)
  const shelf = await database.inTransaction(async (tx) => {
    const founded = new Date(now - 430 * 24 * 3_600_000)
    await makeAccounts(tx, founded)
    const stage = await makeThings(tx, founded)
    const chance = chanceFrom(audience.seed)
    const arrivals = arrivalTimes(chance, audience.people, now, business.zone)
    await storeLives(
      tx,
      stage,
      arrivals.map((arrival, i) => live(chance, stage, arrival, i + 1, now)),
    )
    await makeRehearsalPeople(tx, new Date(now))
    return stage.shelf
  })
  // The planner knows nothing of tables that were just filled, and guesses badly.
  await database.rows('analyze')
  await sendNewsletter(platform, shelf, audience.seed)
  // The fair was nine days ago.
  await importFairList({ ...platform, clock: fixedClock(now - 9 * 24 * 3_600_000) })
  await describeAudience(platform, shelf)
  await letAdaSignUp(platform)
}
