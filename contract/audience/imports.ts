import { z } from 'zod'
import { columnTarget } from '../../core/audience/imports/columns.ts'
import { workView } from '../work.ts'

export const encoding = z.enum(['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'])
export type Encoding = z.infer<typeof encoding>

/** How a file is to be read. */
export const fileFormat = z.object({
  encoding,
  delimiter: z.string().length(1),
  columns: z.array(z.string()),
  /** The first lines after the names of the columns. */
  samples: z.array(z.array(z.string())),
})
export type FileFormat = z.infer<typeof fileFormat>

/**
 * What these people have said to being written to: yes; nothing, so that they get no marketing email; or no, so that
 * they are never to be written to again.
 */
export const importPermission = z.enum(['agreed', 'notAsked', 'refused'])

export const importChoices = z
  .object({
    columns: z.array(columnTarget).max(200),
    /** What happens to who is on the list already. */
    existing: z.enum(['update', 'fillBlanks', 'skip']),
    tags: z.array(z.string().trim().min(1).max(80)).max(20),
    topics: z.array(z.number().int().positive()).max(50),
    permission: importPermission,
    /** Where and how they said so; kept with each person. */
    statement: z.string().trim().max(1000),
    startFollowups: z.boolean(),
  })
  .check(({ value, issues }) => {
    const fault = (path: string, message: string) =>
      issues.push({ code: 'custom', input: value, path: [path], message })
    if (!value.columns.some((each) => each.kind === 'builtIn' && each.field === 'address'))
      fault('columns', 'Choose the column with the email address')
    const used = value.columns.filter(({ kind }) => kind !== 'skip').map((each) => JSON.stringify(each))
    if (new Set(used).size < used.length) fault('columns', 'Two columns are imported as the same thing')
    if (value.permission !== 'notAsked' && value.statement.length < 10)
      fault(
        'statement',
        `Describe where and how they ${value.permission}, in at least ten characters: it is kept with each person`,
      )
    if (value.permission === 'refused' && value.existing === 'skip')
      fault('existing', 'People who refused cannot be left unchanged: choose “Fill in blanks only”')
  })
export type ImportChoices = z.infer<typeof importChoices>

/** What an import would do, or did. Lines are counted, people once. */
export const importCounts = z.object({
  lines: z.number().int(),
  invalid: z.number().int(),
  /** Lines that another line of the same address further down replaces. */
  repeated: z.number().int(),
  /** People who asked to be forgotten, or were listed not to be written to. */
  suppressed: z.number().int(),
  added: z.number().int(),
  changed: z.number().int(),
  same: z.number().int(),
  /** On the list already, but not subscribed any more: they stay so. */
  keptUnsubscribed: z.number().int(),
  reasons: z.array(z.object({ reason: z.string(), lines: z.number().int(), example: z.number().int() })),
})
export type ImportCounts = z.infer<typeof importCounts>

export const importView = z.object({
  id: z.number().int(),
  fileName: z.string(),
  size: z.number().int(),
  format: fileFormat,
  choices: importChoices,
  state: z.enum(['uploaded', 'checking', 'checked', 'running', 'done', 'undoing', 'undone']),
  counts: importCounts.nullable(),
  work: workView.nullable(),
  createdAt: z.iso.datetime(),
  endedAt: z.iso.datetime().nullable(),
})
export type ImportView = z.infer<typeof importView>

export const importRow = importView.pick({
  id: true,
  fileName: true,
  state: true,
  counts: true,
  createdAt: true,
  endedAt: true,
})
export const importList = z.array(importRow)
export type ImportRow = z.infer<typeof importRow>
