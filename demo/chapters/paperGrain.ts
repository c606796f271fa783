import type { PageContent } from '../../core/capture/page.ts'
import type { Program } from '../../core/followups/program.ts'
import type { Queries } from '../../server/database/connect.ts'
import { business } from '../business.ts'
import type { Person } from '../person.ts'
import { createFollowup, createPage, createTag } from './create.ts'

const day = 86_400_000

const pageContent: PageContent = {
  headline: 'Paper grain in ten minutes',
  promise:
    'A short lesson that saves you a warped book: how to find the grain of any sheet with your bare hands.',
  points: [
    'Three tests that need no tools',
    'What happens when you get it wrong',
    'A card to keep at the bench',
  ],
  form: {
    button: 'Send me the lesson',
    consentWording:
      'Yes, send me the lesson and, now and then, news about bookbinding from Quillfeather Bindery. I can stop it with one click in every email.',
  },
  thanks: {
    headline: 'The lesson is on its way',
    next: ['Look for an email from Mara Ellery.'],
  },
}

/** The follow-up behind the lesson. */
export function paperGrainProgram(page: number, email: number): Program {
  return {
    startsWhen: [{ kind: 'formSent', page }],
    reentry: 'never',
    zone: business.zone,
    steps: [
      { kind: 'send', id: 'deliver', email },
      { kind: 'end', id: 'done' },
    ],
  }
}

/** The second free thing: a lesson, by a page that many come back to. */
export interface PaperGrain {
  page: number
}

/** @param lesson the email that brings it */
export async function make(q: Queries, lesson: number, at: Date): Promise<PaperGrain> {
  const tag = await createTag(q, 'Paper grain', 'Asked for the lesson on paper grain', at)
  const page = await createPage(
    q,
    { slug: 'paper-grain', name: 'Paper grain', tagId: tag, content: pageContent },
    at,
  )
  await createFollowup(q, 'Paper grain lesson', paperGrainProgram(page.id, lesson), at)
  return { page: page.id }
}

/** Visits the page, the keen ones more than once. */
export function live(person: Person, { page }: PaperGrain): void {
  const { chance, keen, arrival } = person
  const visits = chance.below(2) + (chance.flip(keen) ? 1 + chance.below(3) : 0)
  for (let i = 0; i < visits; i += 1)
    person.did({ kind: 'pageVisited', at: arrival + chance.delay(20 * day), details: { page } })
}
