import { wasScanned } from '../../core/email/haste.ts'
import type { Queries } from '../database/connect.ts'
import { announce } from '../http/live.ts'
import { Problem } from '../http/problems.ts'
import type { Device } from '../pages/visits.ts'
import type { Platform } from '../platform.ts'
import { countClick, followed } from './clicks.ts'
import type { MachineClickView } from '../../contract/emails.ts'

/** So many messages are looked at in one transaction. */
const batch = 100

interface Waiting {
  id: number
  message: number
  link: number
  at: number
  device: Device
}

/** Counts a click that was taken for a machine's as that of the person. In the transaction of `q`. */
async function countAsPerson(platform: Platform, q: Queries, click: Waiting): Promise<void> {
  const found = await followed(q, click.message, click.link)
  await q.rows('delete from machine_click where id = $1', [click.id])
  if (found) await countClick(platform, q, found, click)
}

const columns = `id, message_id message, link_id link, device,
  floor(extract(epoch from at) * 1000)::bigint at`

/**
 * Decides about clicks that came in haste, once it can be known: where all links were followed it was a scanner, else
 * a person who waited for the email. @returns how many messages were looked at
 */
export async function decideHastyClicks(platform: Platform): Promise<number> {
  return platform.database.inTransaction(async (tx) => {
    const clicks = await tx.rows<Waiting>(
      `select ${columns} from machine_click where undecided and decide_at < $1
       order by id limit ${batch} for update skip locked`,
      [new Date(platform.clock.now())],
    )
    const messages = [...new Set(clicks.map(({ message }) => message))]
    if (messages.length === 0) return 0
    const linksOf = await tx.rows<{ message: number; links: number[]; followed: number[] }>(
      `select message.id message, to_json(links) links,
         to_json(array(select distinct link_id from machine_click
           where message_id = message.id and decide_at is not null)) followed
       from message join email_version version
         on version.email_id = message.email_id and version.number = message.email_version
       where message.id = any($1)`,
      [messages],
    )
    for (const { message, links, followed: all } of linksOf) {
      const scanned = wasScanned(links, new Set(all))
      for (const click of clicks.filter((each) => each.message === message))
        if (scanned) await tx.rows('update machine_click set undecided = false where id = $1', [click.id])
        else await countAsPerson(platform, tx, click)
    }
    await announce(tx, 'audience', 'email')
    return messages.length
  })
}

/** What was taken for a machine, newest first. */
export async function listMachineClicks(q: Queries, email: number): Promise<MachineClickView[]> {
  const rows = await q.rows<Omit<MachineClickView, 'at'> & { at: Date }>(
    `select click.id, link.label, agent, click.at, undecided, contact.id contact,
       coalesce(nullif(trim(first_name || ' ' || last_name), ''), address) name
     from machine_click click join email_link link on link.id = click.link_id
     join message on message.id = click.message_id join contact on contact.id = message.contact_id
     where link.email_id = $1 and not rehearsal order by click.id desc limit 200`,
    [email],
  )
  return rows.map(({ at, ...row }) => ({ ...row, at: at.toISOString() }))
}

/** Somebody knows better: it was a person. It counts and does what a click does. @throws Problem 404, 409 */
export async function readAsPerson(platform: Platform, email: number, id: number): Promise<void> {
  await platform.database.inTransaction(async (tx) => {
    const click = await tx.row<Waiting>(
      `select ${columns} from machine_click where id = $1
       and link_id in (select id from email_link where email_id = $2) for update`,
      [id, email],
    )
    if (!click)
      throw new Problem(409, 'This click was read already', 'It counts as that of the person, or is gone.')
    await countAsPerson(platform, tx, click)
    await announce(tx, 'audience', 'email')
  })
}
