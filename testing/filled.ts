import { hash } from '@node-rs/argon2'
import { signInOf } from '../demo/accounts.ts'
import { business } from '../demo/business.ts'
import { make } from '../demo/chapters/templatePack.ts'
import { templatePackEmails } from '../demo/chapters/templatePackEmails.ts'
import type { Queries } from '../server/database/connect.ts'
import { createBusiness } from '../server/workspace/business.ts'
import { Account } from '../server/workspace/models.ts'

/** Where tests' clocks begin: a Tuesday in winter, Dublin at UTC. */
export const testStart = Date.parse('2026-11-24T10:00:00Z')

export const account = { address: signInOf.address, password: signInOf.password }

/** The things that every test install begins with, by their ids. */
export interface Filled {
  ids: { page: number; form: number; file: number; tag: number; invited: number; followup: number }
  emails: Record<'delivery' | 'reminder' | 'invitation' | 'grain', number>
}

/** Creates the owner's account, and the template pack's page, emails and follow-up; nobody is on the list. */
export async function fill(q: Queries): Promise<void> {
  const at = new Date(testStart - 86_400_000)
  await createBusiness(q, business, at)
  await Account.create({
    name: signInOf.name,
    address: account.address,
    addressKey: account.address,
    // What a check costs stands in the hash: here little, since every test signs in.
    passwordHash: await hash(account.password, { memoryCost: 1_024, timeCost: 1 }),
    createdAt: at,
  })
  await make(q, null, at)
}

/** Looks the ids of those things up in a copy. */
export async function readFilled(q: Queries): Promise<Filled> {
  const idsIn = async (table: string): Promise<Record<string, number>> => {
    const rows = await q.rows<{ name: string; id: number }>(`select name, id from ${table}`)
    return Object.fromEntries(rows.map(({ name, id }) => [name, id]))
  }
  const one = (ids: Record<string, number>, name: string): number => {
    const id = ids[name]
    if (id === undefined) throw new Error(`the template has no ${name}`)
    return id
  }
  const [pages, forms, files, tags, followups, emails] = await Promise.all([
    idsIn('page'),
    idsIn('form'),
    idsIn('file'),
    idsIn('tag'),
    idsIn('followup'),
    idsIn('email'),
  ])
  const written = templatePackEmails(1)
  return {
    ids: {
      page: one(pages, 'Template pack'),
      form: one(forms, 'Template pack'),
      file: one(files, 'Five-Hole Pamphlet templates.pdf'),
      tag: one(tags, 'Template pack'),
      invited: one(tags, 'Invited to Stitch-Along'),
      followup: one(followups, 'Template pack'),
    },
    emails: {
      delivery: one(emails, written.delivery.name),
      reminder: one(emails, written.reminder.name),
      invitation: one(emails, written.invitation.name),
      grain: one(emails, written.grain.name),
    },
  }
}
