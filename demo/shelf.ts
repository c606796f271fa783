import type { Scorecard } from '../core/audience/scores/scorecard.ts'
import type { Condition } from '../core/audience/segments/condition.ts'
import type { Queries } from '../server/database/connect.ts'
import { bindings, type Shelf } from './habits.ts'

async function make(q: Queries, sql: string, values: unknown[]): Promise<number> {
  const row = await q.row<{ id: number }>(`${sql} returning id`, values)
  if (!row) throw new Error(`nothing was made by: ${sql}`)
  return row.id
}

/** Makes the things that people of the story describe themselves by, buy, answer and attend. */
export async function makeShelf(q: Queries, grainPage: number, at: Date): Promise<Shelf> {
  const tag = (name: string, description: string): Promise<number> =>
    make(q, 'insert into tag (name, description, created_at) values ($1, $2, $3)', [name, description, at])
  const field = (name: string, kind: string, options: unknown[] = []): Promise<number> =>
    make(q, 'insert into field (name, kind, options, created_at) values ($1, $2, $3, $4)', [
      name,
      kind,
      JSON.stringify(options),
      at,
    ])
  const topic = (name: string, description: string): Promise<number> =>
    make(q, 'insert into topic (name, description, created_at) values ($1, $2, $3)', [name, description, at])
  const named = (table: 'product' | 'quiz' | 'live_session', name: string): Promise<number> =>
    make(q, `insert into ${table} (name, created_at) values ($1, $2)`, [name, at])

  const results: Record<string, number> = {}
  for (const [name] of bindings) results[name] = await tag(`Quiz: ${name}`, `The quiz said ${name}`)
  return {
    grainPage,
    products: {
      guide: await named('product', 'Thread & Needle Field Guide'),
      course: await named('product', 'Bind Your First Journal'),
    },
    quiz: await named('quiz', 'Which binding suits you?'),
    session: await named('live_session', 'Sunday Stitch-Along'),
    tags: { buyer: await tag('Buyer', 'Has bought anything'), results },
    topics: {
      letter: await topic('Bindery letter', 'Once a month: a technique, a book, a question.'),
      sessions: await topic('Session news', 'When the next live session is.'),
    },
    fields: {
      binding: await field(
        'Favourite binding',
        'oneOf',
        bindings.map(([label, id]) => ({ id, label })),
      ),
      sewn: await field('Books sewn', 'number'),
      firstBook: await field('First book on', 'date'),
    },
  }
}

/** The story's scorecard, made up by Mara over a coffee: the check shows how well she guessed. */
export function interest(shelf: Shelf): Scorecard {
  const rule = { details: {}, capPerDay: null, capInAll: null }
  return {
    behaviours: [
      { ...rule, id: 'opened', activity: 'emailOpened', points: 3, capPerDay: 6, halfLife: 30 },
      { ...rule, id: 'clicked', activity: 'emailClicked', points: 8, halfLife: 45 },
      {
        ...rule,
        id: 'visited',
        activity: 'pageVisited',
        details: { page: shelf.grainPage },
        points: 4,
        halfLife: 30,
      },
      { ...rule, id: 'quiz', activity: 'quizFinished', points: 6, capInAll: 6, halfLife: null },
      { ...rule, id: 'session', activity: 'sessionAttended', points: 10, halfLife: 60 },
    ],
    profile: [
      { id: 'letter', when: { kind: 'topic', topic: shelf.topics.letter }, points: 3 },
      { id: 'buyer', when: { kind: 'hasTag', tag: shelf.tags.buyer }, points: 5 },
    ],
    bands: [
      { id: 'cool', name: 'Cool', from: null },
      { id: 'warm', name: 'Warm', from: 8 },
      { id: 'hot', name: 'Hot', from: 20 },
    ],
  }
}

/** Segments that the story's owner uses. */
export function segmentsOf(shelf: Shelf, scorecard: number): { name: string; tree: Condition }[] {
  const subscribed: Condition = { kind: 'state', is: ['subscribed'] }
  return [
    {
      name: 'Ready for the course',
      tree: {
        kind: 'all',
        of: [
          subscribed,
          {
            kind: 'not',
            of: {
              kind: 'did',
              activity: 'productBought',
              details: { product: shelf.products.course },
              atLeast: 1,
            },
          },
          {
            kind: 'any',
            of: [
              { kind: 'not', of: { kind: 'band', scorecard, band: 'cool' } },
              {
                kind: 'did',
                activity: 'emailClicked',
                details: {},
                atLeast: 2,
                within: { kind: 'last', amount: 60, unit: 'days' },
              },
            ],
          },
        ],
      },
    },
    {
      name: 'Gone quiet',
      tree: {
        kind: 'all',
        of: [
          subscribed,
          {
            kind: 'not',
            of: {
              kind: 'did',
              activity: 'emailOpened',
              details: {},
              atLeast: 1,
              within: { kind: 'last', amount: 90, unit: 'days' },
            },
          },
          { kind: 'not', of: { kind: 'created', within: { kind: 'last', amount: 90, unit: 'days' } } },
        ],
      },
    },
    {
      name: 'Around Dublin and London',
      tree: {
        kind: 'all',
        of: [
          subscribed,
          { kind: 'field', field: 'country', test: { test: 'isAnyOf', values: ['IE', 'GB'] } },
        ],
      },
    },
    {
      name: 'Sewing on Sundays',
      tree: {
        kind: 'any',
        of: [
          { kind: 'did', activity: 'sessionAttended', details: { session: shelf.session }, atLeast: 1 },
          { kind: 'topic', topic: shelf.topics.sessions },
        ],
      },
    },
  ]
}

/** People whom Mara wrote down at a fair, as her spreadsheet exported them: with its faults. */
export const fairList = [
  'E-mail;First name;Last name;Country;Books sewn;Tags',
  ...[
    'Aoife;Underhay',
    'Bram;Vellumsby',
    'Clio;Weldgrove',
    'Dara;Yarrowby',
    'Edda;Quarrystone',
    'Fionn;Saltmarsh',
    'Greta;Loamfield',
    'Hugo;Nettleford',
    'Imre;Ottermere',
    'Juno;Ravensby',
    'Kaia;Thistledown',
    'Lucan;Inglewood',
  ].map(
    (name, i) =>
      `${name.replace(';', '.').toLowerCase()}@fair.example;${name};${i % 3 ? 'IE' : 'GB'};${i % 5};${i % 4 ? '' : 'Wants a workshop'}`,
  ),
  'noor at fair.example;Noor;Hallowell;IE;2;',
  'wren.alder@fair.example;Wren;Alder;Paperland;1;',
  'tove.barrow@fair.example;Tove;Barrow;IE;seven;',
  'aoife.underhay@fair.example;Aoife;Underhay-Alder;IE;4;Wants a workshop',
].join('\r\n')
