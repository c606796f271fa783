import type { Request, Response } from 'express'
import type { FormState } from '../../core/capture/shownForm.ts'
import type { QuizResult } from '../../core/quizzes/quiz.ts'
import { notFound } from '../../server/http/problems.ts'
import {
  conditionsOf,
  contactOfMark,
  isOwnMark,
  loadReader,
  type Reader,
} from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import { quizVersion, type PublishedQuiz } from '../../server/quizzes/publishedQuizzes.ts'
import { quizPaths } from '../../server/quizzes/quizzes.ts'
import { readTake, takeOf } from '../../server/quizzes/takes.ts'
import { baseOf, noPage, type View } from '../pages/pageContext.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { markOf } from '../pages/readerCookie.ts'
import { markupOf } from '../pages/readyPages.ts'
import type { RenderedPage } from '../pages/renderPage.ts'
import { sendNotice } from '../respond.ts'
import type { QuizPage } from './quizPage.ts'
import { carriedQuery, givenIn, placeOf, questionsOf, resultOf, type Taking } from './taking.ts'

const notAgain = 'This quiz was begun too long ago. Begin anew: it takes no longer than the first time.'

/** The script of quizzes says by this that it asks: it is told where to lead, since it cannot follow elsewhere. */
const ofScript = 'x-quiz-script'

/** A quiz that somebody asks for. */
interface FoundQuiz {
  site: Site
  quiz: PublishedQuiz
}

/** Who comes to a quiz. */
type Comer = Pick<Taking, 'reader' | 'isOwn' | 'query' | 'framed'>

/** What the pages of quizzes have in common. */
export function openQuizPages({ platform, published, tokens }: PublicSite) {
  const { database } = platform

  /** The quiz of a request; sends on who has an address that it had before. */
  async function quizOf(request: Request, response: Response): Promise<FoundQuiz | null> {
    const path = String(request.params.path).toLowerCase()
    const site = await published.site()
    const quiz = [...site.quizzes.values()].find((each) => each.path === path)
    if (quiz) return { site, quiz }
    const moved = await quizPaths.moved(database, path)
    if (moved === null) throw notFound('This quiz')
    response.redirect(301, request.originalUrl.replace(/^\/q\/[^/?]*/, `/q/${moved}`))
    return null
  }

  /** @param result that they are shown, if one is */
  async function comerOf(request: Request, site: Site, result: QuizResult | null): Promise<Comer> {
    const { mark } = markOf(request)
    const contact = await contactOfMark(platform, mark)
    const conditions =
      result?.shows.by === 'page' ? conditionsOf({ limitedTo: null, document: result.shows.document }) : []
    const reader = await loadReader(platform, contact, conditions, site.business.zone)
    return { ...carriedQuery(request), reader, isOwn: reader.contact !== null && isOwnMark(platform, mark) }
  }

  function sayOver(response: Response, { content, name }: PublishedQuiz): void {
    sendNotice(response, 410, content.title || name, notAgain)
  }

  /** Somebody's take by its address; null once the answer was given: it is over, gone, or elsewhere. */
  async function takingOf(request: Request, response: Response): Promise<Taking | null> {
    const found = await quizOf(request, response)
    if (!found) return null
    const { site, quiz: now } = found
    const token = readTake(platform, String(request.params.token))
    const quiz = token?.quiz === now.id ? await inVersion(now, token.version) : null
    if (!token || !quiz) {
      sayOver(response, now)
      return null
    }
    const take = await takeOf(database, token)
    return { site, quiz, token, take, ...(await comerOf(request, site, resultOf({ quiz, take }))) }
  }

  /** Whoever has begun another version finishes that one; null when it is gone. */
  const inVersion = async (now: PublishedQuiz, version: number): Promise<PublishedQuiz | null> =>
    version === now.version ? now : quizVersion(database, now.id, version)

  const viewOf = (
    request: Request,
    response: Response,
    reader: Reader,
    form: FormState,
    formAction: string,
  ): View => {
    const { mark, inAddress } = markOf(request)
    return {
      reader,
      mark: inAddress && reader.contact !== null ? (mark ?? null) : null,
      base: baseOf(response),
      form,
      formAction,
    }
  }

  function send(
    response: Response,
    rendered: RenderedPage,
    { framed, status = 200 }: { framed: boolean; status?: number },
  ): void {
    response.set({
      'content-security-policy': rendered.policy,
      'cache-control': 'private, no-store',
      ...(!rendered.listed && { 'x-robots-tag': 'noindex' }),
    })
    if (framed) response.set('cross-origin-resource-policy', 'cross-origin').removeHeader('x-frame-options')
    response
      .type('html')
      .status(status)
      .end(markupOf(tokens, rendered, noPage))
  }

  /** Leads on; what is no page of a quiz is led to by the browser itself. */
  function leadOn(request: Request, response: Response, href: string): void {
    response.set('cache-control', 'no-store')
    if (request.get(ofScript) !== undefined && !href.startsWith('/q/')) response.json({ go: href })
    else response.redirect(request.method === 'POST' ? 303 : 302, href)
  }

  const plainPage = (quiz: PublishedQuiz, framed: boolean, given: Partial<QuizPage> = {}): QuizPage => ({
    path: `/q/${quiz.path}`,
    title: quiz.content.title,
    sharing: null,
    document: null,
    listed: false,
    framed,
    ...given,
  })

  /** Where somebody goes on: the first question that is still open, or the end. */
  function nextPlace(taking: Taking): string {
    const given = givenIn(taking)
    const open = questionsOf(taking).findIndex(({ id }) => given[id] === undefined)
    return placeOf(taking, open < 0 ? 'end' : open + 1)
  }

  return { quizOf, comerOf, takingOf, inVersion, sayOver, viewOf, send, leadOn, plainPage, nextPlace }
}

export type QuizPages = ReturnType<typeof openQuizPages>
