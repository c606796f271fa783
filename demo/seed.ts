import { chanceFrom } from '../core/chance.ts'
import { openFormDesk } from '../server/capture/formDesk.ts'
import { formVersion } from '../server/capture/publishedForms.ts'
import { openFormTokens } from '../server/capture/formTokens.ts'
import { fixedClock } from '../server/clock.ts'
import type { Database, Queries } from '../server/database/connect.ts'
import { ensureActivityMonths } from '../server/database/migrate.ts'
import type { Platform } from '../server/platform.ts'
import { createBusiness } from '../server/workspace/business.ts'
import { Account, Business } from '../server/workspace/models.ts'
import { hashPassword } from '../server/workspace/passwords.ts'
import { helperOf, signInOf } from './accounts.ts'
import { arrivalTimes, livelyArrivals } from './arrivals.ts'
import { business } from './business.ts'
import { rehearsalAddress, rehearsalPeople } from './cast.ts'
import * as fair from './chapters/fair.ts'
import * as followups from './chapters/followups.ts'
import { writeAtelier } from './chapters/autumnAtelier.ts'
import * as funnels from './chapters/funnels.ts'
import * as junctions from './chapters/junctions.ts'
import * as letter from './chapters/letter.ts'
import * as newsletter from './chapters/newsletter.ts'
import * as segments from './chapters/segments.ts'
import { storeLearners } from './chapters/firstJournal.ts'
import * as paperGrain from './chapters/paperGrain.ts'
import { storeLooks } from './chapters/onceMore.ts'
import { storeLeftCarts, storeOrders, tellGateway } from './chapters/orders.ts'
import * as quizTakes from './chapters/quizTakes.ts'
import { Person } from './person.ts'
import { storePeople } from './store.ts'
import { storeVisits } from './visits.ts'
import { live, makeStory, type Story } from './story.ts'

/** The seed that makes the people of the story the same every time. */
const seed = 20261124
const day = 86_400_000

/** Throws everything away that the install holds. */
export async function startOver(database: Database): Promise<void> {
  await database.rows('drop schema public cascade')
  await database.rows('create schema public')
  await database.rows('drop schema if exists graphile_worker cascade')
}

async function createAccounts(q: Queries, at: Date): Promise<void> {
  const transaction = q.transaction ?? null
  await createBusiness(q, business, at)
  for (const { name, address, password } of [signInOf, helperOf])
    await Account.create(
      { name, address, addressKey: address, passwordHash: await hashPassword(password), createdAt: at },
      { transaction },
    )
}

/** The people of the story one after another, in the order in which they arrived. */
function* peopleOf(story: Story, count: number, now: number): Generator<Person> {
  const chance = chanceFrom(seed)
  const lively = livelyArrivals(now, 2 * day)
  const arrivals = [
    ...arrivalTimes(chance, Math.max(0, count - lively.length), now, business.zone),
    ...lively,
  ]
  arrivals.sort((a, b) => a - b)
  for (const [i, arrival] of arrivals.entries()) {
    const person = new Person(chance, arrival, i + 1, now)
    live(person, story)
    yield person
  }
}

async function createRehearsalPeople(q: Queries, at: Date): Promise<void> {
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
async function signAdaUp(platform: Platform, { templatePack }: Story): Promise<void> {
  const { id: page, name } = templatePack.page
  const [ada] = rehearsalPeople
  const address = rehearsalAddress(ada)
  const form = await formVersion(platform.database, templatePack.form, 1)
  if (!form) throw new Error('the template pack has no form')
  await openFormDesk(platform).send({
    form,
    place: { name, page, pageVersion: 1 },
    answers: {
      address: { shown: address, key: address },
      firstName: ada.firstName,
      own: {},
      agreed: ['consent'],
    },
    source: {},
    ip: null,
    token: openFormTokens(platform).make(`page ${page}`),
    country: null,
    proven: true,
  })
}

/**
 * Fills an empty install with the demo's story; one that has a business is left as it is.
 * @param people how many there are
 */
export async function seedDemo(platform: Platform, people: number): Promise<void> {
  const { database, clock } = platform
  if (await Business.findByPk(1)) return
  const now = clock.now()
  await ensureActivityMonths(database, now, 15)
  const story = await database.inTransaction(async (tx) => {
    const founded = new Date(now - 430 * day)
    await createAccounts(tx, founded)
    const made = await makeStory(tx, founded)
    await storePeople(tx, peopleOf(made, people, now))
    await createRehearsalPeople(tx, new Date(now))
    await storeOrders(tx, made.shop, made.orderPages, now)
    await storeLearners(tx, made.firstJournal, made.shop.course, now)
    await paperGrain.storeLearners(tx, made.paperGrain)
    await storeLooks(tx, made.shop.course, now)
    await storeLeftCarts(tx, made.shop, made.orderPages, now)
    await storeVisits(tx, made, now)
    await funnels.create(tx, founded)
    return made
  })
  await tellGateway(platform)
  // The planner knows nothing of tables that were just filled, and guesses badly.
  await database.rows('analyze')
  await letter.sendLetters(platform, story.letter, seed)
  // The fair was nine days ago.
  await fair.importList({ ...platform, clock: fixedClock(now - 9 * day) })
  await newsletter.signPeopleUp(platform, story.newsletter, seed)
  await segments.create(platform, story)
  await followups.create(platform, story, seed)
  await junctions.create(platform, story, new Date(now - 430 * day))
  await quizTakes.create(platform, story.quiz)
  await signAdaUp(platform, story)
  // Begun last week.
  const lately = { by: signInOf.name, at: new Date(now - 7 * day) }
  await database.inTransaction((tx) => writeAtelier(tx, lately))
}
