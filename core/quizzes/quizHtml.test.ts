import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { attacks } from '../../testing/documents.ts'
import { dangersIn, faultsOf } from '../../testing/markup.ts'
import { pageContextOf } from '../../testing/pageContext.ts'
import { answerId, countingQuestion, plainResult, quizId, quizOf } from '../../testing/quizzes.ts'
import { html } from '../html.ts'
import { quizQuestion, type QuizQuestion } from './quiz.ts'
import {
  addressHtml,
  coverHtml,
  questionHtml,
  sharedResultHtml,
  shareHtml,
  sharesHtml,
  type ShownQuestion,
} from './quizHtml.ts'

const context = pageContextOf()
const asked = (given: object): QuizQuestion =>
  quizQuestion.parse({ id: 'asked111', words: 'Which?', ...given })
const answers = [
  { id: 'answer11', words: 'One' },
  { id: 'answer22', words: 'Two' },
]
const show = (question: QuizQuestion, given: Partial<ShownQuestion> = {}): string =>
  questionHtml(
    {
      question,
      given: {},
      seed: 'seed',
      place: 2,
      of: 5,
      action: '/q/which/t/token/2',
      back: '/q/which/t/token/1',
      fault: null,
      ...given,
    },
    context,
  ).markup
const whole = (body: string): string =>
  `<!DOCTYPE html><html lang="en"><head><title>Quiz</title></head><body><main>${body}</main></body></html>`

describe('a question without a script', () => {
  it('is a form with a legend, its progress said aloud, and a way back', () => {
    const markup = show(asked({ asks: 'one', answers }))
    expect(markup).toMatch(/<form[^>]* method="post" action="\/q\/which\/t\/token\/2"/)
    expect(markup).toMatch(/<fieldset>\s*<legend id="asked"[^>]*>Which\?<\/legend>/)
    expect(markup).toContain('<p class="way" role="status">Question 2 of 5</p>')
    expect(markup).toContain('<a class="back" href="/q/which/t/token/1">Back</a>')
    expect(markup.match(/type="radio"/g)).toHaveLength(2)
    expect(markup).toContain('>Next</button>')
    expect(show(asked({ asks: 'one', answers }), { place: 5, back: null })).toContain('>Finish</button>')
    expect(show(asked({ asks: 'one', answers }), { back: null })).not.toContain('class="back"')
  })

  it('shows what was answered before, also when it is asked once more', () => {
    const chosen = show(asked({ asks: 'one', answers }), { given: { asked111: ['answer22'] } })
    expect(chosen).toMatch(/value="answer22"\s+checked/)
    expect(chosen).not.toMatch(/value="answer11"\s+checked/)
    const typed = show(asked({ asks: 'text' }), { given: { asked111: 'Łódź “fold”' } })
    expect(typed).toContain('>Łódź “fold”</textarea>')
    const number = show(asked({ asks: 'number', answers: [] }), { given: { asked111: '3,5' } })
    expect(number).toMatch(/inputmode="decimal"[^>]*value="3,5"/)
  })

  it('takes several by boxes, and says how many', () => {
    const markup = show(asked({ asks: 'several', answers, most: 2 }))
    expect(markup.match(/type="checkbox"/g)).toHaveLength(2)
    expect(markup).toContain('<p class="help" id="help">Choose up to 2.</p>')
    expect(markup).toContain('<fieldset aria-describedby="help">')
    const own = show(asked({ asks: 'several', answers, most: 2, help: 'Two at most.' }))
    expect(own).toContain('Two at most.')
    expect(own).not.toContain('Choose up to')
    expect(show(asked({ asks: 'several', answers, most: 1 }))).toContain('type="radio"')
  })

  it('has the ends of a scale, and pictures of answers', () => {
    const scale = show(asked({ asks: 'scale', answers, low: 'never', high: 'always' }))
    expect(scale).toMatch(/class="ends"><span>never<\/span><span>always<\/span>/)
    expect(show(asked({ asks: 'scale', answers }))).not.toContain('class="ends"')
    const pictured = show(asked({ asks: 'one', answers: [{ ...answers[0], picture: 1 }] }))
    expect(pictured).toContain('choices one pictures')
    expect(pictured).toContain('/pictures/1-abcd')
  })

  it('says what is wrong beside the field that it is about', () => {
    const markup = show(asked({ asks: 'text' }), { fault: 'Please write something.' })
    expect(markup).toContain('<p class="fault" id="fault" role="alert">Please write something.</p>')
    expect(markup).toMatch(/aria-describedby="help fault"|aria-describedby="fault"/)
    expect(markup).toContain('aria-invalid="true"')
  })

  it('keeps one order of answers for one person, and not the same for all', () => {
    const many = Array.from({ length: 8 }, (_, n) => ({ id: `answer${n}x`, words: `Answer ${n}` }))
    const question = asked({ asks: 'one', answers: many, shuffles: true })
    const order = (seed: string): string[] =>
      [...show(question, { seed }).matchAll(/value="(answer\dx)"/g)].map(([, id]) => id ?? '')
    expect(order('one')).toEqual(order('one'))
    expect(new Set(['one', 'two', 'three', 'four'].map((seed) => order(seed).join())).size).toBeGreaterThan(1)
    expect([...order('one')].sort()).toEqual(many.map(({ id }) => id))
  })
})

describe('a quiz, whatever is written in it', () => {
  const written = fc.constantFrom(...attacks, 'ひらがな', 'مرحبا', '', '“quoted” & <b>bold</b>')

  it('is valid HTML that runs nothing and asks nobody (fast-check)', () => {
    fc.assert(
      fc.property(written, written, written, (title, words, name) => {
        const content = quizOf({
          title: title.slice(0, 100),
          cover: { words, picture: 1, button: name.slice(0, 60) },
          questions: [countingQuestion(0, [[1]], { words: words.slice(0, 100), help: title.slice(0, 100) })],
          results: [
            plainResult(0, {
              name: name.slice(0, 100),
              sharing: { title: title.slice(0, 100), words: words.slice(0, 100), picture: 1 },
            }),
          ],
          share: { buttons: ['copy', 'email', 'device'], place: 'below' },
        })
        const [first] = content.questions
        const [result] = content.results
        if (!first || !result) throw new Error('a quiz without parts')
        const parts = [
          coverHtml(content, '/q/x/t/y/1', context).markup,
          show(first, { given: { [first.id]: [answerId(0, 0)] } }),
          addressHtml(words, html`<p>form</p>`, '/q/x/t/y/end?skip=1').markup,
          html`${shareHtml(content, result, 'https://pages.example/q/x/r/y')}`.markup,
          sharesHtml(content, result.id, { [result.id]: 0.4 }).markup,
          sharedResultHtml(content, result, '/q/x', context).markup,
        ]
        for (const part of parts) {
          const page = whole(part)
          expect(faultsOf(page)).toEqual([])
          expect(dangersIn(page, 'https://pages.example')).toEqual([])
        }
      }),
      { numRuns: 30 },
    )
  })
})

describe('a result that is shown to others', () => {
  const content = quizOf({
    title: 'Which binding?',
    results: [plainResult(0, { name: 'Coptic' }), plainResult(1, { name: 'Long-stitch' })],
    share: { buttons: ['copy', 'email', 'device'], place: 'below' },
  })
  const [coptic] = content.results
  const address = 'https://pages.example/q/which/r/result0'

  it('has buttons by choice and none by default; those that need a script wait for it', () => {
    if (!coptic) throw new Error('no result')
    const markup = html`${shareHtml(content, coptic, address)}`.markup
    expect(markup).toContain(`data-title="Which binding?: Coptic"`)
    expect(markup.match(/data-by="(copy|device)" hidden/g)).toHaveLength(2)
    expect(markup).toContain(`mailto:?subject=${encodeURIComponent('Which binding?: Coptic')}`)
    expect(shareHtml(quizOf({ results: content.results }), coptic, address)).toBe(false)
  })

  it('says how many got each, one’s own marked', () => {
    const markup = sharesHtml(content, quizId('result', 1), { [quizId('result', 0)]: 0.256 }).markup
    expect(markup).toMatch(/<li>\s*<span>Coptic<\/span>.*value="0.256".*<b>26 %<\/b>/s)
    expect(markup).toMatch(/<li class="own">\s*<span>Long-stitch<\/span>.*<b>0 %<\/b>/s)
  })

  it('invites to take the quiz, and tells nothing of who got it', () => {
    if (!coptic) throw new Error('no result')
    const markup = sharedResultHtml(content, coptic, '/q/which?utm_source=letter', context).markup
    expect(markup).toContain('Which binding?: Coptic')
    expect(markup).toContain('href="/q/which?utm_source=letter"')
  })
})
