import type { Vocabulary } from '../contract/audience/segments.ts'
import { noNames } from '../core/audience/segments/names.ts'

/** Things by name, as the builder of conditions is told of them; 77 is the id of something deleted. */
export const vocabulary: Vocabulary = {
  names: {
    ...noNames(),
    tags: { 1: 'Template pack', 2: 'Bookbinder' },
    emails: { 4: 'Grain direction' },
    links: { 11: 'Read it', 12: 'Watch it' },
    scorecards: { 7: 'Interest' },
    topics: { 9: 'Newsletter' },
    segments: { 5: 'Warm and here' },
    followups: { 6: 'Your template pack' },
    fields: { 3: 'Binding' },
    forms: { 2: 'Template pack' },
    quizzes: { 14: 'Which binding' },
    junctions: { 15: 'What next' },
    products: { 16: 'Bind Your First Journal' },
    wordings: { 13: 'Template pack' },
  },
  fields: [
    { id: 3, name: 'Binding', kind: 'oneOf', options: [{ id: 'coptic', label: 'Coptic' }] },
    { id: 8, name: 'Books sewn', kind: 'number', options: [] },
    { id: 10, name: 'First fair', kind: 'date', options: [] },
  ],
  links: { 4: [11, 12] },
  parts: {
    results: { 14: [{ id: 'folder', name: 'Folder' }] },
    answers: { 14: [{ id: 'thread', name: 'Thread' }] },
    rules: { 15: [{ id: 'newcomers', name: 'New here' }] },
    prices: { 16: [{ id: 'inthree1', name: '3 × €29' }] },
  },
  deadlines: ['Workshop, once more'],
  coupons: ['COME-BACK'],
  scorecards: {
    7: {
      behaviours: [],
      profile: [],
      bands: [
        { id: 'cool', name: 'Cool', from: null },
        { id: 'hot', name: 'Hot', from: 30 },
      ],
    },
  },
}
