import type { BlockKind } from '../../../core/blocks/block.ts'
import type { SiteView } from '../../../contract/pages.ts'

/** The things of the business that one chooses by name, and where the editor finds them. */
export const things = {
  tag: 'tags',
  course: 'courses',
  form: 'forms',
  quiz: 'quizzes',
  file: 'files',
  ownField: 'fields',
  topic: 'topics',
  followup: 'followups',
  scorecard: 'scorecards',
  email: 'emails',
  detail: 'details',
  page: 'pages',
} as const satisfies Record<string, keyof SiteView>
export type Thing = keyof typeof things

/** A control of the inspector, and the path of the value that it sets. */
export type Field = { path: string; label: string; hint?: string } & (
  | { as: 'line' | 'sentences' | 'markup' | 'yes' | 'target' | 'picture' | 'moment' | 'deadline' }
  | { as: 'thing'; thing: Thing; several?: boolean }
  | { as: 'number'; least: number; most: number }
  /** Products at their prices: several, or one or none. */
  | { as: 'offers'; several: boolean }
  | { as: 'choice'; items: readonly { title: string; value: string | number }[] }
  /** Lines that one adds and takes out. */
  | { as: 'lines'; one: string }
  /** Things of several fields each. */
  | { as: 'entries'; one: string; fields: readonly Field[]; fresh: object; mayBeEmpty?: boolean }
  | { as: 'video' }
)

const align: Field = {
  path: 'align',
  label: 'Alignment',
  as: 'choice',
  items: [
    { title: 'Left', value: 'start' },
    { title: 'Centred', value: 'centre' },
  ],
}

const pictureFields: readonly Field[] = [
  { path: 'picture', label: 'Picture', as: 'picture' },
  { path: 'alt', label: 'What it shows', as: 'sentences', hint: 'Read out to people who cannot see it.' },
  { path: 'decorative', label: 'Decorative: says nothing', as: 'yes' },
  { path: 'target', label: 'Link', as: 'target' },
]

const sizes = [
  { title: 'Small', value: 'small' },
  { title: 'Medium', value: 'medium' },
  { title: 'Large', value: 'large' },
] as const

/** What can be set about each kind of block, most used first. Texts that one writes in the sheet stand there alone. */
export const inspectorFields: Record<BlockKind, readonly Field[]> = {
  heading: [
    { path: 'words', label: 'Words', as: 'line' },
    {
      path: 'level',
      label: 'Level',
      as: 'choice',
      items: [
        { title: '1: the page’s promise', value: 1 },
        { title: '2: a part', value: 2 },
        { title: '3: a part of a part', value: 3 },
      ],
    },
    align,
  ],
  text: [],
  picture: [
    ...pictureFields,
    {
      path: 'detail',
      label: 'Or that of a shared detail',
      as: 'thing',
      thing: 'detail',
    },
    {
      path: 'shape',
      label: 'Shape',
      as: 'choice',
      items: [
        { title: 'As it is', value: 'original' },
        { title: 'Square', value: 'square' },
        { title: 'Wide', value: 'wide' },
        { title: 'Circle', value: 'circle' },
      ],
    },
    {
      path: 'size',
      label: 'Size',
      as: 'choice',
      items: [
        { title: 'Small', value: 'small' },
        { title: 'Half', value: 'half' },
        { title: 'Full width', value: 'full' },
      ],
    },
    { path: 'caption', label: 'Caption', as: 'line' },
  ],
  button: [
    { path: 'label', label: 'Label', as: 'line' },
    { path: 'target', label: 'Leads to', as: 'target' },
    { path: 'newWindow', label: 'Opens in a new window', as: 'yes' },
    {
      path: 'look',
      label: 'Look',
      as: 'choice',
      items: [
        { title: 'Filled', value: 'filled' },
        { title: 'Outlined', value: 'outlined' },
      ],
    },
    align,
  ],
  form: [{ path: 'form', label: 'Form', as: 'thing', thing: 'form' }],
  quiz: [{ path: 'quiz', label: 'Quiz', as: 'thing', thing: 'quiz' }],
  list: [
    {
      path: 'marker',
      label: 'Marker',
      as: 'choice',
      items: [
        { title: 'Ticks', value: 'ticks' },
        { title: 'Numbers', value: 'numbers' },
      ],
    },
    { path: 'items', label: 'Points', as: 'lines', one: 'point' },
  ],
  quotes: [
    {
      path: 'quotes',
      label: 'Quotes',
      as: 'entries',
      one: 'quote',
      fresh: { words: '', name: '', about: '', picture: null },
      fields: [
        { path: 'words', label: 'Words', as: 'sentences' },
        { path: 'name', label: 'Name', as: 'line' },
        { path: 'about', label: 'About them', as: 'line' },
        { path: 'picture', label: 'Picture', as: 'picture' },
      ],
    },
  ],
  questions: [
    {
      path: 'items',
      label: 'Questions',
      as: 'entries',
      one: 'question',
      fresh: { question: '', answer: '' },
      fields: [
        { path: 'question', label: 'Question', as: 'line' },
        { path: 'answer', label: 'Answer', as: 'sentences' },
      ],
    },
  ],
  video: [
    { path: 'source', label: 'Video', as: 'video' },
    { path: 'title', label: 'Title', as: 'line' },
    { path: 'poster', label: 'Still', as: 'picture' },
  ],
  countdown: [
    { path: 'until', label: 'Counts down to', as: 'moment' },
    { path: 'deadline', label: 'Or to each one’s own deadline', as: 'deadline' },
    { path: 'words', label: 'Words before', as: 'line' },
    { path: 'after', label: 'Words afterwards', as: 'line' },
  ],
  pictureRow: [
    {
      path: 'pictures',
      label: 'Pictures',
      as: 'entries',
      one: 'picture',
      fresh: { picture: null, alt: '', decorative: false, target: { to: 'nowhere' } },
      fields: pictureFields,
    },
  ],
  logo: [{ path: 'size', label: 'Size', as: 'choice', items: sizes }, align],
  orderForm: [
    { path: 'offers', label: 'What it sells', as: 'offers', several: true },
    {
      path: 'steps',
      label: 'Steps',
      as: 'choice',
      items: [
        { title: 'Two: address first, kept at once', value: 'two' },
        { title: 'One: everything on one page', value: 'one' },
      ],
    },
    {
      path: 'extra',
      label: 'Extra on the form',
      as: 'offers',
      several: false,
      hint: 'Something small that is added with a tick.',
    },
    { path: 'extraWords', label: 'Why they should add it', as: 'sentences' },
    {
      path: 'name',
      label: 'Name',
      as: 'choice',
      items: [
        { title: 'First name', value: 'first' },
        { title: 'First and last name', value: 'whole' },
        { title: 'Not asked', value: 'none' },
      ],
    },
    {
      path: 'phone',
      label: 'Ask for a phone number',
      as: 'yes',
      hint: 'Every field more costs orders: ask only if you will call.',
    },
    {
      path: 'country',
      label: 'Ask for the country',
      as: 'yes',
      hint: 'Needed where the tax depends on it.',
    },
    { path: 'vatNumber', label: 'Ask businesses for their VAT number', as: 'yes' },
    { path: 'coupon', label: 'Field for a coupon', as: 'yes', hint: 'It sends people looking for one.' },
    {
      path: 'terms',
      label: 'What buyers must agree to',
      as: 'line',
      hint: 'Leave empty to ask for nothing.',
    },
    { path: 'termsPage', label: 'Page with the terms', as: 'thing', thing: 'page' },
    {
      path: 'consent',
      label: 'What they may agree to besides',
      as: 'sentences',
      hint: 'Such as your newsletter; apart from buying.',
    },
    { path: 'topics', label: 'Topics that this is for', as: 'thing', thing: 'topic', several: true },
    { path: 'label', label: 'Button', as: 'line' },
    { path: 'trust', label: 'Line below the button', as: 'line' },
  ],
  nextOffer: [
    { path: 'offer', label: 'What is offered', as: 'offers', several: false },
    { path: 'label', label: 'Yes', as: 'line', hint: 'One click: the card pays that paid just now.' },
    { path: 'yes', label: 'After a yes', as: 'target' },
    { path: 'decline', label: 'No', as: 'line' },
    { path: 'no', label: 'After a no', as: 'target' },
  ],
  purchase: [
    { path: 'greeting', label: 'Greeting; the name stands behind it', as: 'line' },
    { path: 'words', label: 'Words', as: 'sentences' },
  ],
  priceCard: [
    { path: 'name', label: 'Name', as: 'line' },
    { path: 'price', label: 'Price', as: 'line' },
    { path: 'points', label: 'Points', as: 'lines', one: 'point' },
    { path: 'label', label: 'Button', as: 'line' },
    { path: 'note', label: 'Note', as: 'line' },
    { path: 'target', label: 'Button leads to', as: 'target' },
  ],
  lessonCard: [
    { path: 'page', label: 'Lesson', as: 'thing', thing: 'page' },
    { path: 'title', label: 'Title', as: 'line', hint: 'The lesson’s own when it is empty.' },
    { path: 'words', label: 'Words', as: 'sentences' },
    { path: 'label', label: 'Button', as: 'line' },
  ],
  productCard: [
    { path: 'name', label: 'Name', as: 'line' },
    { path: 'picture', label: 'Picture', as: 'picture' },
    { path: 'alt', label: 'What it shows', as: 'sentences' },
    { path: 'words', label: 'Words', as: 'sentences' },
    { path: 'price', label: 'Price', as: 'line' },
    { path: 'label', label: 'Button', as: 'line', hint: 'It sells nothing yet: say where it leads.' },
    { path: 'target', label: 'Leads to', as: 'target' },
  ],
  sessionCard: [
    { path: 'title', label: 'Title', as: 'line' },
    { path: 'at', label: 'When', as: 'moment' },
    { path: 'words', label: 'Words', as: 'sentences' },
    { path: 'label', label: 'Button', as: 'line', hint: 'It registers nobody yet: say where it leads.' },
    { path: 'target', label: 'Leads to', as: 'target' },
  ],
  lessonList: [
    { path: 'course', label: 'Course', as: 'thing', thing: 'course' },
    { path: 'title', label: 'Title', as: 'line' },
  ],
  socialLinks: [
    {
      path: 'links',
      label: 'Profiles',
      as: 'entries',
      one: 'profile',
      fresh: { name: 'Profile', url: 'https://example.com' },
      fields: [
        { path: 'name', label: 'Name', as: 'line' },
        { path: 'url', label: 'Address', as: 'line' },
      ],
    },
    align,
  ],
  divider: [],
  spacer: [{ path: 'size', label: 'Height', as: 'choice', items: sizes }],
  ownHtml: [
    {
      path: 'markup',
      label: 'HTML',
      as: 'markup',
      hint: 'Scripts, styles and forms are taken out.',
    },
  ],
}
