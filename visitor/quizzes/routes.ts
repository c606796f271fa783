import { Router, urlencoded, type Request, type Response } from 'express'
import { faultOf } from '../../core/quizzes/asking.ts'
import { coverHtml, questionHtml, sharedResultHtml } from '../../core/quizzes/quizHtml.ts'
import type { QuizQuestion } from '../../core/quizzes/quiz.ts'
import { notFound } from '../../server/http/problems.ts'
import { personNow, survivorOf } from '../../server/audience/people/contacts.ts'
import { finishTake } from '../../server/quizzes/finishing.ts'
import { beginTake, doneTakeOf, keepAnswers, type Take } from '../../server/quizzes/takes.ts'
import { sourceOf } from '../capture/submission.ts'
import type { Limits } from '../limits.ts'
import { isRead } from '../pages/countVisit.ts'
import { emptyForm } from '../pages/pageContext.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { openEnding } from './ending.ts'
import { renderQuizPage } from './quizPage.ts'
import { openQuizPages } from './quizPages.ts'
import { quizScript } from './quizScript.ts'
import {
  carriedQuery,
  givenIn,
  placeOf,
  questionsOf,
  readPostedAnswer,
  resultOf,
  withAnswer,
  type Taking,
} from './taking.ts'

const largestAnswer = '20kb'

/** A question that is shown. */
interface Asked {
  question: QuizQuestion
  /** From 1. */
  at: number
  fault: string | null
  status: number
}

/** Quizzes: a cover, one question after the other, the address, and the result. */
export function quizRoutes(publicSite: PublicSite, limits: Limits): Router {
  const routes = Router()
  const { platform, quizViews } = publicSite
  const { database, clock } = platform
  const pages = openQuizPages(publicSite)
  const { quizOf, comerOf, takingOf, inVersion, viewOf, send, leadOn, plainPage, nextPlace } = pages
  const posted = urlencoded({ extended: false, limit: largestAnswer, parameterLimit: 200 })
  const { showResult, showEnd, receiveAddress } = openEnding(publicSite, pages)

  routes.get(quizScript.path, (_request, response) => {
    response.set('cache-control', 'public, max-age=31536000, immutable').type('js').send(quizScript.source)
  })

  /** The take by which somebody got their result of a quiz that is taken once, to be shown again; null otherwise. */
  async function doneTaking(request: Request, taking: Taking): Promise<Taking | null> {
    const { quiz, reader, site } = taking
    if (quiz.content.takes !== 'once' || reader.contact === null) return null
    const take = await doneTakeOf(database, quiz.id, reader.contact)
    const then = take && (await inVersion(quiz, take.version))
    const result = then && resultOf({ quiz: then, take })
    return then && result ? { ...taking, quiz: then, take, ...(await comerOf(request, site, result)) } : null
  }

  routes.get('/q/:path', limits.source, async (request, response) => {
    const found = await quizOf(request, response)
    if (!found) return
    const { site, quiz } = found
    const comer = await comerOf(request, site, null)
    const token = beginTake(platform, quiz, comer.reader.contact)
    const taking: Taking = { ...found, ...comer, token, take: null }
    const done = await doneTaking(request, taking)
    if (done) {
      await showResult(request, response, done, emptyForm)
      return
    }
    if (isRead(request) && !comer.reader.rehearsal) quizViews.seen(quiz.id)
    if (quiz.content.cover === null) {
      leadOn(request, response, placeOf(taking, 1))
      return
    }
    const { framed } = comer
    const view = viewOf(request, response, comer.reader, emptyForm, '#')
    const page = plainPage(quiz, framed, { listed: true })
    const rendered = renderQuizPage(platform, site, quiz, view, page, (context) => ({
      before: coverHtml(quiz.content, placeOf(taking, 1), context),
    }))
    send(response, rendered, { framed })
  })

  // What others see of a result says nothing of who asks, nor of who got it.
  routes.get('/q/:path/r/:result', limits.source, async (request, response) => {
    const found = await quizOf(request, response)
    if (!found) return
    const { site, quiz } = found
    const result = quiz.content.results.find(({ id }) => id === request.params.result)
    if (!result) throw notFound('This result')
    const { query, framed } = carriedQuery(request)
    const { reader } = await comerOf(request, site, null)
    const page = plainPage(quiz, framed, {
      path: `/q/${quiz.path}/r/${result.id}`,
      title: result.sharing.title || `${quiz.content.title}: ${result.name}`,
      sharing: result.sharing,
    })
    const view = viewOf(request, response, reader, emptyForm, '#')
    const rendered = renderQuizPage(platform, site, quiz, view, page, (context) => ({
      before: sharedResultHtml(quiz.content, result, `/q/${quiz.path}${query}`, context),
    }))
    send(response, rendered, { framed })
  })

  function showQuestion(
    request: Request,
    response: Response,
    taking: Taking,
    { question, at, fault, status }: Asked,
  ): void {
    const { site, quiz, token, reader, framed, query } = taking
    const view = viewOf(request, response, reader, emptyForm, '#')
    const of = questionsOf(taking).length
    const cover = quiz.content.cover ? `/q/${quiz.path}${query}` : null
    const page = plainPage(quiz, framed, { title: `${quiz.content.title}: question ${at} of ${of}` })
    const shown = {
      question,
      given: givenIn(taking),
      seed: token.order,
      place: at,
      of,
      action: placeOf(taking, at),
      back: at > 1 ? placeOf(taking, at - 1) : cover,
      fault,
    }
    const rendered = renderQuizPage(platform, site, quiz, view, page, (context) => ({
      before: questionHtml(shown, context),
    }))
    send(response, rendered, { framed, status })
  }

  routes.get('/q/:path/t/:token/end', limits.source, showEnd)
  routes.post('/q/:path/t/:token/end', limits.source, posted, receiveAddress)

  routes.get('/q/:path/t/:token/:at', limits.source, async (request, response) => {
    const taking = await takingOf(request, response)
    if (!taking) return
    const at = Number(request.params.at)
    const questions = questionsOf(taking)
    const question = questions[at - 1]
    const given = givenIn(taking)
    const isOpen = questions.slice(0, at - 1).every(({ id }) => given[id] !== undefined)
    if (taking.take?.addressed || !question || !isOpen) leadOn(request, response, nextPlace(taking))
    else showQuestion(request, response, taking, { question, at, fault: null, status: 200 })
  })

  routes.post('/q/:path/t/:token/:at', limits.source, posted, async (request, response) => {
    const taking = await takingOf(request, response)
    if (!taking) return
    const answer = readPostedAnswer(request.body)
    const place = questionsOf(taking).findIndex(({ id }) => id === answer.question)
    const question = questionsOf(taking)[place]
    if (!question || taking.take?.addressed) {
      leadOn(request, response, nextPlace(taking))
      return
    }
    const value = answer.for(question)
    const fault = faultOf(question, value)
    if (fault !== null) {
      showQuestion(request, response, taking, { question, at: place + 1, fault, status: 422 })
      return
    }
    const { reader, isOwn, quiz, token } = taking
    const take = await keepAnswers(platform, token, quiz.content, withAnswer(taking, question, value), {
      contact: isOwn ? reader.contact : null,
      rehearsal: reader.rehearsal,
      source: sourceOf(request.query),
    })
    const after: Taking = { ...taking, take }
    if (take?.finished && isOwn && take.contact === reader.contact) await settle(take, reader.contact)
    // Who went back goes forward one by one.
    const next = questionsOf(after).findIndex(({ id }) => id === question.id) + 1
    leadOn(request, response, next < questionsOf(after).length ? placeOf(after, next + 1) : nextPlace(after))
  })

  /** Somebody whom we know for sure has finished what they began: what the quiz does is done. */
  async function settle(take: Take, contact: number | null): Promise<void> {
    if (contact === null) return
    await database.inTransaction(async (tx) => {
      const whose = await survivorOf(tx, contact, 'change')
      if (!whose) return
      const at = personNow(clock, whose)
      await finishTake(platform, tx, { take: take.id, contact: whose.id, at, trusted: true })
    })
  }

  return routes
}
