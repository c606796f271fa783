import { randomBytes } from 'node:crypto'
import type { ErrorRequestHandler, Response } from 'express'
import type { Logger } from 'pino'
import { logUnexpected, problemOf } from '../server/http/problems.ts'
import { plainBrand, type Brand } from '../core/pages/brand.ts'
import { html } from '../core/html.ts'
import { publicPage, type PublicPage } from './frame.ts'

/** The brand of the business, where it is known by now: a page must also say that the database is away. */
const brandOf = ({ locals }: Response): Brand => (locals.brand as Brand | undefined) ?? plainBrand

/** Sends a public page with the policy that lets its own style in, and nothing else. */
export function sendPage(response: Response, page: PublicPage, status = 200): void {
  const nonce = randomBytes(16).toString('base64')
  const policy = [
    "default-src 'none'",
    `style-src 'nonce-${nonce}'`,
    "font-src 'self'",
    "img-src 'self' data:",
    ...(page.card ? [`frame-src ${page.card.origin}`, "script-src 'self'", "connect-src 'self'"] : []),
    "form-action 'self'",
    "base-uri 'none'",
    "frame-ancestors 'none'",
  ]
  if (page.unlisted) response.set('x-robots-tag', 'noindex')
  response
    .status(status)
    .set({ 'content-security-policy': policy.join('; '), 'cache-control': 'no-store' })
    .type('html')
    .send(publicPage(page, brandOf(response), nonce))
}

/** A page that says one thing. */
export function sendNotice(response: Response, status: number, title: string, words: string): void {
  const body = html`<h1>${title}</h1>
    <p>${words}</p>`
  sendPage(response, { title, business: '', unlisted: true, body }, status)
}

/** What visitors are told: what happened to their request, and what they can do. */
const words: Readonly<Record<number, { title: string; words: string }>> = {
  404: {
    title: 'Page not found',
    words: 'The link may be old or incomplete. If it came by email, try to copy all of it.',
  },
  421: {
    title: 'Unknown host name',
    words: 'Please use the address that you were given.',
  },
  413: {
    title: 'That was too long',
    words: 'Nothing was saved. Please go back, shorten your text, and send it again.',
  },
  429: {
    title: 'Too many requests',
    words: 'Nothing was saved. Please wait a minute, go back, and send it again.',
  },
  503: {
    title: 'We are temporarily unavailable',
    words:
      'Nothing was saved. Please wait a minute, go back, and send it again. Your text is still in the form.',
  },
}

const unreadable = {
  title: 'This link cannot be read',
  words: 'Part of it is missing or garbled. If it came by email, try to copy all of it.',
}

const unforeseen = {
  title: 'Something went wrong on our side',
  words: 'Please go back and try again in a minute.',
}

/** The last middleware of the public pages. */
export function visitorErrorHandler(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    const problem = problemOf(error)
    logUnexpected(log, error, problem, request.path)
    if (response.headersSent) {
      next(error)
      return
    }
    if (problem.status === 503 || problem.status === 429) response.set('retry-after', '60')
    const told = words[problem.status] ?? (problem.status < 500 ? unreadable : unforeseen)
    sendNotice(response, problem.status, told.title, told.words)
  }
}
