import type { z } from 'zod'
import type { Block } from '../../blocks/block.ts'
import { composer, type Composer } from '../../blocks/compose.ts'
import type { Section } from '../../blocks/document.ts'
import { walk } from '../../blocks/walk.ts'
import { simpleForm, type formContent } from '../../capture/form.ts'
import { deadline } from '../../commerce/deadline.ts'
import { productContent } from '../../commerce/product.ts'
import { emptyEmail, type EmailContent } from '../../email/email.ts'
import type { Program } from '../../followups/program.ts'
import { usual } from '../../followups/usualSteps.ts'
import type { QuizContent } from '../../quizzes/quiz.ts'
import { purposes, type PageContent, type PagePurpose } from '../../pages/page.ts'
import type { Station } from '../funnel.ts'
import { emptyFunnelFile, type FunnelFile } from '../funnelFile.ts'
import { noFunnelSettings } from '../settings.ts'
import type { Wishes } from './wishes.ts'
import type { Goal } from '../funnel.ts'

interface NewPage {
  /** What it is called after the funnel. */
  name: string
  /** The rest of its address; the funnel's own when empty. */
  at?: string
  purpose: PagePurpose
  title?: string
  description?: string
  opens?: PageContent['opens']
  /** The personal deadline while which it is open. */
  deadline?: string
  course?: number
  limitedTo?: PageContent['limitedTo']
  sections: (compose: Composer) => Section[]
}

interface NewEmail {
  name: string
  subject: string
  preheader: string
  purpose?: EmailContent['purpose']
  blocks: (compose: Composer) => Block[]
}

const asked = 'You get this because you asked for it.'
const agreed = 'You get this because you agreed to hear from us.'

/** Writes a funnel thing by thing; each gets a number by which the others name it. */
export function funnelWriter(goal: Goal, wishes: Wishes, newId: () => string) {
  const { name, path, labels, currency, zone } = wishes
  const file: FunnelFile = emptyFunnelFile({
    name,
    goal,
    labels: [...labels],
    settings: { ...noFunnelSettings, path, currency },
    stations: [],
  })
  const compose = composer(newId)
  let last = 0
  const next = (): number => (last += 1)
  const called = (part: string): string => `${name}: ${part}`.slice(0, 120)

  return {
    file,
    compose,
    newId,
    /** A number for a page that others lead to before it is written. */
    reserve: next,

    /** A page that waits by itself, off the line. @param id one that was reserved */
    page({ name: part, at = '', purpose, opens, course, ...rest }: NewPage, id: number = next()): number {
      file.pages.push({
        id,
        name: called(part),
        path: at === '' ? path : `${path}/${at}`,
        purpose,
        course: course ?? null,
        content: {
          title: (rest.title ?? name).slice(0, 120),
          description: rest.description ?? '',
          language: 'en',
          listed: purposes[purpose].listed,
          sharing: { title: '', words: '', picture: null },
          icon: null,
          limitedTo: rest.limitedTo ?? null,
          opens: opens ?? { when: 'atOnce' },
          deadline: rest.deadline ?? null,
          document: compose.document(...rest.sections(compose)),
        },
      })
      return id
    },
    /** Puts a page at the end of the line. */
    station(page: number, other?: { page: number; share: number }): void {
      const station: Station = { kind: 'page', id: newId(), page, ...(other && { other }) }
      file.funnel.stations.push(station)
    },

    form(part: string, given: Partial<z.input<typeof formContent>>, wording?: string): number {
      const id = next()
      file.forms.push({ id, name: called(part), content: simpleForm(given, wording) })
      return id
    },

    quiz(part: string, content: QuizContent): number {
      const id = next()
      file.quizzes.push({ id, name: called(part), labels: [], content })
      return id
    },
    /** Puts a quiz at the end of the line. */
    sorter(station: { kind: 'quiz'; quiz: number }): void {
      file.funnel.stations.push({ id: newId(), ...station })
    },

    email({ name: part, subject, preheader, purpose = 'marketing', blocks }: NewEmail): number {
      const id = next()
      const content = emptyEmail({
        subject,
        preheader,
        purpose,
        why: purpose === 'transactional' ? asked : agreed,
        document: compose.document(compose.section([{ blocks: blocks(compose) }])),
      })
      file.emails.push({ id, name: called(part), content })
      return id
    },

    followup(part: string, program: Partial<Program> & Pick<Program, 'steps'>): number {
      const id = next()
      file.followups.push({ id, name: called(part), content: { ...usual, zone, ...program } })
      return id
    },

    /** A follow-up that nothing on the line starts belongs to the funnel all the same. */
    belongs(followup: number): void {
      file.funnel.followups.push(followup)
    },

    /** Something that is sold. @returns its number */
    product(part: string, content: z.input<typeof productContent>): number {
      const id = next()
      file.products.push({
        id,
        name: (part === '' ? name : called(part)).slice(0, 120),
        content: productContent.parse(content),
      })
      return id
    },
    /** A personal deadline. @returns its name */
    deadline(part: string, given: Omit<z.input<typeof deadline>, 'name'>): string {
      const made = deadline.parse({ ...given, name: called(part).slice(0, 80) })
      file.deadlines.push(made)
      return made.name
    },

    tag(part: string): number {
      const id = next()
      file.tags.push({ id, name: (part === '' ? name : called(part)).slice(0, 80) })
      return id
    },
    topic(called: string): number {
      const id = next()
      file.topics.push({ id, name: called })
      return id
    },
    course(): number {
      const id = next()
      file.courses.push({ id, name })
      return id
    },

    /** Every button with this label waits for the file that the funnel gives away. */
    givesFile(label: string): void {
      for (const { id, content } of file.pages)
        for (const { block } of walk(content.document))
          if (block.kind === 'button' && block.label === label)
            file.funnel.fileSlots.push({ in: 'page', page: id, block: block.id })
      for (const { id, content } of file.emails)
        for (const { block } of walk(content.document))
          if (block.kind === 'button' && block.label === label)
            file.funnel.fileSlots.push({ in: 'email', email: id, block: block.id })
    },
  }
}

export type FunnelWriter = ReturnType<typeof funnelWriter>
