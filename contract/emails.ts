import { z } from 'zod'
import { purpose } from '../core/audience/people/permission.ts'
import { moneyIn } from './money.ts'
import { emailContent } from '../core/email/email.ts'
import { draftState, draftView, libraryName, saveOf, thingState, versionRoutes } from './drafts.ts'
import { created, get, post } from './route.ts'

/** An email of the Library. */
export const emailRow = z.object({
  id: z.number().int(),
  name: z.string(),
  subject: z.string(),
  purpose,
  /** What it is about, when it is marketing: a broadcast of it goes to who agreed to that. */
  topic: z.number().int().nullable(),
  state: thingState,
  hasDraft: z.boolean(),
  usedIn: z.array(z.string()),
  sent: z.number().int(),
  opened: z.number().int(),
  clicked: z.number().int(),
  changedAt: z.iso.datetime(),
})
export type EmailRow = z.infer<typeof emailRow>

export const emailView = draftView.extend({ content: emailContent })
export type EmailView = z.infer<typeof emailView>

/** A link of an email, with how often it was followed. */
export const emailLinkView = z.object({
  id: z.number().int(),
  key: z.string(),
  label: z.string(),
  /** It stands in the email no more. */
  gone: z.boolean(),
  people: z.number().int(),
  /** Followed by scanners of mail and the like. */
  machines: z.number().int(),
})
export type EmailLinkView = z.infer<typeof emailLinkView>

/** A click that was taken for that of a machine. */
export const machineClickView = z.object({
  id: z.number().int(),
  contact: z.number().int(),
  name: z.string(),
  label: z.string(),
  /** What it said of itself, or by what it was told. */
  agent: z.string(),
  /** It came in haste, and whether it was a machine is known in a moment. */
  undecided: z.boolean(),
  at: z.iso.datetime(),
})
export type MachineClickView = z.infer<typeof machineClickView>

/** What became of an email, over all that ever sent it; nobody in rehearsal counts. */
export const emailReport = z.object({
  name: z.string(),
  subject: z.string(),
  /** Opens and clicks are counted. */
  tracked: z.boolean(),
  sent: z.number().int(),
  held: z.number().int(),
  failed: z.number().int(),
  opened: z.number().int(),
  /** Asked for by a machine, and opened by nobody as far as one can tell. */
  machineOpened: z.number().int(),
  clicked: z.number().int(),
  unsubscribed: z.number().int(),
  /** Bought within seven days after a click in it, the last one before the order. */
  money: moneyIn,
  links: z.array(emailLinkView),
  /** How many had opened and clicked so many hours after they got it. */
  byHour: z.array(z.object({ hours: z.number().int(), opened: z.number().int(), clicked: z.number().int() })),
  byDomain: z.array(
    z.object({
      domain: z.string(),
      sent: z.number().int(),
      opened: z.number().int(),
      clicked: z.number().int(),
      failed: z.number().int(),
    }),
  ),
  byDevice: z.array(z.object({ device: z.string(), opened: z.number().int(), clicked: z.number().int() })),
})
export type EmailReport = z.infer<typeof emailReport>

/** What the sheet of the editor shows. */
export const emailDrawing = z.object({ style: z.string(), body: z.string() })

/** As whom the draft is read; as nobody in particular without. */
export const previewQuery = z.object({
  person: z.coerce.number().int().positive().optional(),
  pictures: z.enum(['on', 'off']).default('on'),
  dark: z.enum(['yes', 'no']).default('no'),
  /** What is being written, or what people get. */
  of: z.enum(['draft', 'published']).default('draft'),
})

export const emailPreview = z.object({ subject: z.string(), preheader: z.string(), text: z.string() })
export type EmailPreview = z.infer<typeof emailPreview>

/** Who of the team gets a test. */
export const testRequest = z.object({
  accounts: z.array(z.number().int().positive()).min(1, 'Choose who gets it').max(20),
  person: z.number().int().positive().nullable().default(null),
})

export const teamMember = z.object({
  id: z.number().int(),
  name: z.string(),
  address: z.string(),
  isMe: z.boolean(),
})

export const emails = {
  ...versionRoutes('/emails'),
  list: get('/emails', { answer: z.array(emailRow) }),
  view: get('/emails/:id', { answer: emailView }),
  create: post('/emails', {
    body: z.object({ name: libraryName, content: emailContent }),
    answer: created,
  }),
  rename: post('/emails/:id/rename', { body: z.object({ name: libraryName }) }),
  save: post('/emails/:id/save', { body: saveOf(emailContent), answer: draftState }),
  links: get('/emails/:id/links', { answer: z.array(emailLinkView) }),
  machineClicks: get('/emails/:id/machine-clicks', { answer: z.array(machineClickView) }),
  /** It was a person: the click counts, and does what it does. */
  readAsPerson: post('/emails/:id/machine-clicks/:click/person', {}),
  report: get('/emails/:id/report', { answer: emailReport }),
  /** The email with its clicks drawn over it. */
  reportHtml: get('/emails/:id/report-html', {}),
  reportCsv: get('/emails/:id/report.csv', {}),
  /** Makes an email of a page of HTML or of an `.eml` file; the body is the file itself. */
  import: post('/emails/import', {
    query: z.object({ name: z.string().trim().min(1).max(200) }),
    answer: created.extend({ leftOut: z.array(z.string()) }),
  }),
  /** The draft as a page of HTML, and as a message that any mail program opens. */
  exportHtml: get('/emails/:id/email.html', {}),
  exportEml: get('/emails/:id/email.eml', {}),
  /** Draws an email as it is written, before it is saved. */
  draw: post('/emails/draw', { body: z.object({ content: emailContent }), answer: emailDrawing }),
  /** The draft as somebody would read it. */
  preview: get('/emails/:id/preview', { query: previewQuery, answer: emailPreview }),
  previewHtml: get('/emails/:id/preview-html', { query: previewQuery }),
  team: get('/emails/team', { answer: z.array(teamMember) }),
  /** Sends the draft to people of the team. */
  test: post('/emails/:id/test', { body: testRequest }),
} as const
