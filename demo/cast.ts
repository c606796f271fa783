/** Given names and family names, mixed at random: none is anybody's. */
export const firstNames = (
  'Ada Aoife Bram Brigid Caspar Chiyo Clio Dara Dov Edda Elif Emre Fara Femi Fionn Greta Hana Hugo Ilse Imre Ines Ivo ' +
  'Jonas Juno Kaia Kamal Kofi Lena Leif Liv Lucan Maeve Malik Mina Nadia Niall Noor Odile Olga Orla Otto Petra Priya ' +
  'Quill Rafe Rhea Rosa Runa Sacha Selma Signe Soren Tadhg Tamsin Tove Uma Vera Viggo Wanda Wren Yara Yusuf Zeno Zofia'
).split(' ')

export const lastNames = (
  'Alder Ashgrove Barrow Bellweather Birkfield Bracken Brightwater Calloway Cinderby Copperleaf Dunmore Eastlake ' +
  'Elderfen Fairburn Fennimore Fothergale Glasswing Greyling Hallowell Harrowgate Hawkmoor Inglewood Juniper Kestrelby ' +
  'Larkhill Lindqvale Loamfield Marlowe Merrivale Mossbank Nettleford Oakhurst Ottermere Pemberley Pinewright ' +
  'Quarrystone Ravensby Rookwood Saltmarsh Sedgewick Stonebridge Tanglewood Thistledown Underhay Vellumsby Waterleigh ' +
  'Weldgrove Whinfell Wolder Yarrowby'
).split(' ')

/** Where the audience lives: country, zone, and how much of the audience. */
export const places: readonly (readonly [{ country: string; zone: string }, number])[] = (
  [
    ['IE', 'Europe/Dublin', 22],
    ['GB', 'Europe/London', 20],
    ['US', 'America/New_York', 14],
    ['US', 'America/Denver', 5],
    ['US', 'America/Los_Angeles', 7],
    ['CA', 'America/Toronto', 5],
    ['DE', 'Europe/Berlin', 6],
    ['AT', 'Europe/Vienna', 1.5],
    ['CH', 'Europe/Zurich', 1.5],
    ['NL', 'Europe/Amsterdam', 3],
    ['BE', 'Europe/Brussels', 1.5],
    ['FR', 'Europe/Paris', 3],
    ['ES', 'Europe/Madrid', 2],
    ['PT', 'Europe/Lisbon', 1],
    ['IT', 'Europe/Rome', 2],
    ['SE', 'Europe/Stockholm', 1.5],
    ['NO', 'Europe/Oslo', 1],
    ['DK', 'Europe/Copenhagen', 1.2],
    ['FI', 'Europe/Helsinki', 0.8],
    ['PL', 'Europe/Warsaw', 1],
    ['CZ', 'Europe/Prague', 0.7],
    ['GR', 'Europe/Athens', 0.6],
    ['IN', 'Asia/Kolkata', 3],
    ['NP', 'Asia/Kathmandu', 0.4],
    ['JP', 'Asia/Tokyo', 1.2],
    ['SG', 'Asia/Singapore', 0.6],
    ['AU', 'Australia/Sydney', 4],
    ['AU', 'Australia/Lord_Howe', 0.2],
    ['NZ', 'Pacific/Auckland', 1.5],
    ['ZA', 'Africa/Johannesburg', 1],
    ['NG', 'Africa/Lagos', 0.8],
    ['KE', 'Africa/Nairobi', 0.5],
    ['BR', 'America/Sao_Paulo', 1],
    ['AR', 'America/Argentina/Buenos_Aires', 0.5],
    ['MX', 'America/Mexico_City', 0.6],
  ] as const
).map(([country, zone, weight]) => [{ country, zone }, weight] as const)

/** Mail providers of the story; all end in names that belong to nobody. */
export const domains: readonly (readonly [string, number])[] = [
  ['postbox.test', 5],
  ['letterhill.test', 3],
  ['inkmail.test', 2],
  ['parcel.example', 2],
  ['northlight.test', 1],
]

/** Made-up people for rehearsals, and what each is there to show. */
export const rehearsalPeople = [
  { firstName: 'Ada', lastName: 'Finch', shows: 'opens and clicks everything' },
  { firstName: 'Bram', lastName: 'Okafor', shows: 'opens, never clicks' },
  { firstName: 'Chiyo', lastName: 'Larsen', shows: 'never opens' },
  { firstName: 'Dov', lastName: 'Marek', shows: 'buys on the third email' },
  { firstName: 'Elif', lastName: 'Santos', shows: 'registers ten minutes before the start' },
  { firstName: 'Femi', lastName: 'Novak', shows: 'leaves the checkout twice, then buys' },
] as const

/** The address of a rehearsal person. */
export function rehearsalAddress(person: { firstName: string; lastName: string }): string {
  return `${person.firstName}.${person.lastName}@rehearsal.example`.toLowerCase()
}
