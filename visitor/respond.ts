import { randomBytes } from 'node:crypto'
import type { ErrorRequestHandler, Response } from 'express'
import type { Logger } from 'pino'
import { logUnexpected, problemOf } from '../server/http/problems.ts'
import { html } from './html.ts'
import { publicPage, type PublicPage } from './frame.ts'

/** Sends a public page with the policy that lets its own style in, and nothing else. */
export function sendPage(response: Response, page: PublicPage, status = 200): void {
  const nonce = randomBytes(16).toString('base64')
  const policy = [
    "default-src 'none'",
    `style-src 'nonce-${nonce}'`,
    "font-src 'self'",
    "img-src 'self' data:",
    "form-action 'self'",
    "base-uri 'none'",
    "frame-ancestors 'none'",
  ]
  if (page.unlisted) response.set('x-robots-tag', 'noindex')
  response
    .status(status)
    .set({ 'content-security-policy': policy.join('; '), 'cache-control': 'no-store' })
    .type('html')
    .send(publicPage(page, nonce))
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
    title: 'There is nothing at this address',
    words: 'The link may be old or cut off. If it came by email, try to copy the whole of it.',
  },
  421: {
    title: 'This is not the server of that name',
    words: 'Please use the address that was given to you.',
  },
  413: {
    title: 'That was too much at once',
    words: 'Nothing was stored. Please go back, shorten what you wrote, and send it again.',
  },
  429: {
    title: 'That was a little fast',
    words: 'Nothing was stored. Please wait a minute, go back, and send it again.',
  },
  503: {
    title: 'We cannot be reached right now',
    words:
      'Nothing was stored. Please wait a minute, go back, and send it again. What you wrote is still in the form.',
  },
}

const unreadable = {
  title: 'This address cannot be read',
  words: 'A part of it is missing or garbled. If it came by email, try to copy the whole of it.',
}

const unforeseen = {
  title: 'Something went wrong on our side',
  words: 'Please go back and try once more in a minute.',
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
