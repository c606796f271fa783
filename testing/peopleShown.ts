import type { ContactRow, PersonView } from '../contract/audience/people.ts'

/** Somebody of a list, as the server tells of them. */
export function listed(id: number, part: Partial<ContactRow> = {}): ContactRow {
  return {
    id,
    name: `Person ${id}`,
    address: `person${id}@postbox.test`,
    marketingState: 'subscribed',
    country: 'IE',
    tags: [],
    rehearsal: false,
    createdAt: '2026-11-20T10:00:00.000Z',
    ...part,
  }
}

/** One person with everything that is known of them. */
export function known(part: Partial<PersonView> = {}): PersonView {
  return {
    ...listed(7, {
      name: 'Nia Fairburn',
      address: 'nia@postbox.test',
      tags: [{ id: 1, name: 'Template pack' }],
    }),
    firstName: 'Nia',
    lastName: 'Fairburn',
    phone: '+353 1 234 5678',
    language: 'en',
    zone: 'Europe/Dublin',
    source: { utm_source: 'fair' },
    pausedUntil: null,
    otherAddresses: [],
    fields: { 3: 'coptic' },
    topics: [],
    money: { currency: 'EUR', amount: 15_800, orders: 2 },
    scores: [],
    now: '2026-11-24T10:00:00.000Z',
    consents: [],
    journal: [],
    ...part,
  }
}
