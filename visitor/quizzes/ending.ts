import type { Request, Response } from 'express'
import { formHtml } from '../../core/capture/formHtml.ts'
import type { FormState } from '../../core/capture/shownForm.ts'
import { html, type Html } from '../../core/html.ts'
import type { PageContext } from '../../core/pages/context.ts'
import { addressHtml, shareHtml, sharesHtml } from '../../core/quizzes/quizHtml.ts'
import { formAsSent, type PublishedForm } from '../../server/capture/publishedForms.ts'
import type { PassToken } from '../../server/junctions/passTokens.ts'
import { formMark } from '../../server/pages/readers.ts'
import { openResultShares } from '../../server/quizzes/resultShares.ts'
import { markAddressed } from '../../server/quizzes/takes.ts'
import { hrefForSender } from '../capture/afterForm.ts'
import { receiveForm } from '../capture/receiveForm.ts'
import { readPosted, sourceOf } from '../capture/submission.ts'
import { emptyForm, noPage } from '../pages/pageContext.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { keepMark } from '../pages/readerCookie.ts'
import { renderQuizPage } from './quizPage.ts'
import type { QuizPages } from './quizPages.ts'
import { placeOf, resultOf, type Taking } from './taking.ts'

/** The block of the form that asks for the address. */
const addressBlock = 'takeaddress'

/** Says that a confirmation is waited for: of every address alike, or it would tell whether somebody is on the list. */
const waitsFlag = 'waits=1'
const skipFlag = 'skip=1'

/** The end of a quiz: the address, and the result. */
export function openEnding({ platform, tokens, desk }: PublicSite, pages: QuizPages) {
  const { database, clock } = platform
  const { takingOf, sayOver, viewOf, send, leadOn, plainPage, nextPlace } = pages
  const reception = { platform, desk, tokens }
  const resultShares = openResultShares(database, clock)

  /** The form that asks for the address, as long as none was given. */
  function addressForm({ site, quiz, take }: Taking): PublishedForm | undefined {
    const { ask, form } = quiz.content.address
    return ask === 'never' || take?.addressed ? undefined : site.forms.get(form ?? 0)
  }

  function askedForm(taking: Taking, form: PublishedForm, context: PageContext): Html {
    const { ask, words } = taking.quiz.content.address
    const skip = ask === 'skippable' ? placeOf(taking, 'end', skipFlag) : null
    return addressHtml(words, formHtml(addressBlock, form, context), skip)
  }

  function showAddress(
    request: Request,
    response: Response,
    taking: Taking,
    form: PublishedForm,
    state: FormState,
    status = 200,
  ): void {
    const { site, quiz, reader, framed } = taking
    const view = viewOf(request, response, reader, state, placeOf(taking, 'end'))
    const rendered = renderQuizPage(platform, site, quiz, view, plainPage(quiz, framed), (context) => ({
      before: askedForm(taking, form, context),
    }))
    send(response, rendered, { framed, status })
  }

  /** Where a result leads that has no page; null when it has one, or leads nowhere. */
  function resultHref(
    request: Request,
    response: Response,
    taking: Taking,
    sender: PassToken | null,
  ): string | null {
    const { site, quiz, reader } = taking
    const result = resultOf(taking)
    if (result?.shows.by !== 'target') return null
    const view = viewOf(request, response, reader, emptyForm, '#')
    const sent = { sender, added: null, source: sourceOf(request.query) }
    return hrefForSender(platform, site, result.shows.target, view, sent, { quiz: quiz.id })
  }

  async function showResult(
    request: Request,
    response: Response,
    taking: Taking,
    state: FormState,
    status = 200,
  ): Promise<void> {
    const { site, quiz, token, reader, isOwn, framed } = taking
    const { content } = quiz
    const result = resultOf(taking)
    if (!result) {
      sayOver(response, quiz)
      return
    }
    const known = isOwn ? reader.contact : null
    const sender = known === null ? null : { contact: known, proven: true, once: `take ${token.name}` }
    const href = resultHref(request, response, taking, sender)
    if (href !== null) {
      leadOn(request, response, href)
      return
    }
    const form = content.address.ask === 'after' ? addressForm(taking) : undefined
    const view = viewOf(request, response, reader, state, placeOf(taking, 'end'))
    const shares = content.showsShares ? await resultShares(quiz.id) : null
    const address = `${platform.settings.publicUrl}/q/${quiz.path}/r/${result.id}`
    const share = shareHtml(content, result, address)
    const isAbove = content.share.place === 'above'
    const waits = request.query.waits === '1'
    const page = plainPage(quiz, framed, {
      title: `${content.title}: ${result.name}`,
      document: result.shows.by === 'page' ? result.shows.document : null,
    })
    const rendered = renderQuizPage(platform, site, quiz, view, page, (context) => ({
      before: html`${
        waits &&
        html`<p class="in" role="status">
          Look in your mailbox: we have sent you a link to confirm your address.
        </p>`
      }${isAbove && share}`,
      after: html`${form && askedForm(taking, form, context)}${
        shares && sharesHtml(content, result.id, shares)
      }${!isAbove && share}`,
    }))
    send(response, rendered, { framed, status })
  }

  async function showEnd(request: Request, response: Response): Promise<void> {
    const taking = await takingOf(request, response)
    if (!taking) return
    if (!taking.take?.finished) {
      leadOn(request, response, nextPlace(taking))
      return
    }
    const { ask } = taking.quiz.content.address
    const asksFirst = ask === 'before' || (ask === 'skippable' && request.query.skip !== '1')
    const form = asksFirst ? addressForm(taking) : undefined
    if (form) showAddress(request, response, taking, form, { ...emptyForm, values: sourceOf(request.query) })
    else await showResult(request, response, taking, emptyForm)
  }

  /** Takes in the form that asks for the address; a take with it is somebody's. */
  async function receiveAddress(request: Request, response: Response): Promise<void> {
    const taking = await takingOf(request, response)
    if (!taking) return
    const { quiz, reader, take, isOwn } = taking
    const read = readPosted(request.body)
    const form = await formAsSent(database, addressForm(taking), read.version)
    if (!take?.finished || !form) {
      leadOn(request, response, nextPlace(taking))
      return
    }
    const received = await receiveForm(reception, {
      form,
      posted: { ...read, block: addressBlock },
      place: { name: `quiz ${quiz.name}` },
      scope: `page ${noPage}`,
      ip: request.ip ?? null,
      acceptLanguage: request.headers['accept-language'] ?? '',
      known: reader.known,
      proven: isOwn,
      take: take.id,
    })
    if ('status' in received) {
      const { state, status } = received
      if (quiz.content.address.ask === 'after') await showResult(request, response, taking, state, status)
      else showAddress(request, response, taking, form, state, status)
      return
    }
    const { added, sender, waits } = received
    await markAddressed(platform, take.id)
    if (added !== null && reader.contact === null) keepMark(request, response, formMark(platform, added))
    const href = resultHref(request, response, taking, sender)
    leadOn(request, response, href ?? placeOf(taking, 'end', waits ? waitsFlag : ''))
  }

  return { showResult, showEnd, receiveAddress }
}
