import { simpleForm } from '../../core/capture/form.ts'
import { optionsOf } from '../../core/quizzes/proof/options.ts'
import type { QuizContent } from '../../core/quizzes/quiz.ts'
import { outcomeOf } from '../../core/quizzes/scoring.ts'
import type { Queries } from '../../server/database/connect.ts'
import { quizDrafts } from '../../server/quizzes/quizDrafts.ts'
import { createQuiz } from '../../server/quizzes/quizzes.ts'
import { signInOf } from '../accounts.ts'
import type { Person } from '../person.ts'
import { createField, createForm, createTag, makeEach } from './create.ts'
import type { Pictures } from './pictures.ts'
import { bindingQuiz, bindings, type Binding } from './quizContent.ts'

const day = 86_400_000
const name = 'Which binding suits you?'

export interface Quiz {
  id: number
  content: QuizContent
  /** Tags by result. */
  tags: Record<Binding, number>
  /** The field "Favourite binding". */
  field: number
}

export async function make(
  q: Queries,
  { pictures, letter }: { pictures: Pictures; letter: number },
  at: Date,
): Promise<Quiz> {
  const names = Object.fromEntries(bindings.map(({ id, name: result }) => [id, result])) as Record<
    Binding,
    string
  >
  const tags = await makeEach(names, (result) =>
    createTag(q, `Quiz: ${result}`, `The quiz said ${result}`, at),
  )
  const field = await createField(
    q,
    'Favourite binding',
    'oneOf',
    bindings.map(({ name: label, option }) => ({ id: option, label })),
    at,
  )
  const asked = simpleForm(
    { button: 'Show me my binding' },
    'Yes, and now and then write to me about bookbinding.',
  )
  const form = await createForm(
    q,
    'Where shall we send your binding?',
    {
      ...asked,
      steps: asked.steps.map((step) => ({
        ...step,
        fields: step.fields.map((each) => (each.asks === 'consent' ? { ...each, topics: [letter] } : each)),
      })),
    },
    at,
  )
  const content = bindingQuiz(form, {
    tags,
    field,
    pictures: {
      cover: pictures.journal,
      answers: [pictures.longStitch, pictures.coptic, pictures.caseBound],
    },
  })
  const doing = { by: signInOf.name, at }
  const id = await createQuiz(q, { name, content, labels: ['bindings'] }, doing)
  await quizDrafts.publish(q, id, { version: 1, revision: 1 }, doing)
  return { id, content, tags, field }
}

/** Answers by chance until they give the result. */
function answersFor({ chance }: Person, content: QuizContent, result: Binding): string[] {
  for (;;) {
    const given = Object.fromEntries(
      content.questions.map((question) => [
        question.id,
        [
          ...chance.weighted(
            optionsOf(question, content, null).map((option) => [option.answers, option.chance] as const),
          ),
        ],
      ]),
    )
    if (outcomeOf(content, given).result?.id === result) return Object.values(given).flat()
  }
}

/** Finishes the quiz, or never begins it. */
export function live(person: Person, quiz: Quiz): void {
  const { chance } = person
  if (!chance.flip(0.12 + person.keen * 0.3)) return
  // One in four comes onto the list by it.
  const at = person.arrival + (chance.flip(0.25) ? 150_000 : chance.delay(12 * day))
  const { id, option } = chance.weighted(bindings.map((each) => [each, each.weight] as const))
  const answers = answersFor(person, quiz.content, id)
  if (!person.did({ kind: 'quizFinished', at, details: { quiz: quiz.id, result: id, answers } })) return
  person.fields[quiz.field] = option
  person.addTag(quiz.tags[id], at + 1000, `quiz ${name}`)
}
