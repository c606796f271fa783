import { describe, expect, it } from 'vitest'
import { marketingState } from '../audience/people/permission.ts'
import { mayGetBroadcast, type Recipient } from './broadcast.ts'

const willing: Recipient = {
  state: 'subscribed',
  paused: false,
  agreed: true,
  had: false,
  unreachable: false,
}

describe('a broadcast', () => {
  it('goes to people who want it, and have not had it', () => {
    expect(mayGetBroadcast(willing)).toEqual({ allowed: true, reason: 'the person is subscribed' })
  })

  it('goes to nobody who is anything but subscribed: even a delivery was not asked for by many', () => {
    const allowed = marketingState.options.filter((state) => mayGetBroadcast({ ...willing, state }).allowed)
    expect(allowed).toEqual(['subscribed'])
  })

  it.each([
    [{ paused: true }, 'the person has paused all email'],
    [{ agreed: false }, 'the person did not agree to the topic'],
    [{ had: true }, 'the person has had this email'],
    // What they said weighs more than what they have had.
    [{ state: 'unsubscribed', had: true }, 'the person is unsubscribed'],
    [{ state: 'bounced', paused: true }, 'the address bounced: nothing is sent to it'],
  ] as [Partial<Recipient>, string][])('leaves out who is %j', (but, reason) => {
    expect(mayGetBroadcast({ ...willing, ...but })).toEqual({ allowed: false, reason })
  })
})
