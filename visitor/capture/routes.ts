import { Router, urlencoded, type Request } from 'express'
import { z } from 'zod'
import { formSubmission } from '../../contract/capture.ts'
import { source, type Source } from '../../core/audience/people/activity.ts'
import { isStorable } from '../../core/text.ts'
import { vcard } from '../../core/capture/vcard.ts'
import { sendAsAttachment } from './fileHeaders.ts'
import { confirmationPage, confirmForm } from '../../server/capture/confirmations.ts'
import { downloadFile } from '../../server/capture/downloads.ts'
import { formToken, isFormToken, livePage, submitForm } from '../../server/capture/forms.ts'
import type { Platform } from '../../server/platform.ts'
import { getBusiness } from '../../server/workspace/business.ts'
import type { Limits } from '../limits.ts'
import { sendPage } from '../respond.ts'
import { capturePage, confirmPage, thanksPage, type FormState } from './capturePage.ts'

/** The form has a handful of short fields; more is no person's. */
const largestForm = '20kb'

const notices = {
  late: 'This page was open for a long time. Please press the button again.',
  used: 'This form has already been sent. To send it again as it is now, please press the button again.',
  robot: 'A hidden field was filled in, as robots do. If you are a person, please press the button again.',
  faulty: 'Almost there: please check the marked fields.',
}

/** The fields of a posted body or a query, whatever they hold. */
const fieldsOf = (values: unknown): Record<string, unknown> =>
  z.record(z.string(), z.unknown()).catch({}).parse(values)

/** The UTM values of a request, those left out that are no usable text. */
function sourceOf(values: unknown): Source {
  const kept = Object.entries(fieldsOf(values)).filter(
    ([name, value]) => Object.hasOwn(source.shape, name) && typeof value === 'string' && isStorable(value),
  )
  const read = source.safeParse(Object.fromEntries(kept.filter(([, value]) => value !== '')))
  return read.success ? read.data : {}
}

/** What was typed, as far as it is text: shown again when something is wrong with it. */
function typedIn(body: unknown): Record<string, string> {
  const raw = fieldsOf(body)
  const fields = ['firstName', 'address', 'consent'].flatMap((name) => {
    const value = raw[name]
    return typeof value === 'string' ? [[name, value.slice(0, 300)] as const] : []
  })
  return { ...Object.fromEntries(fields), ...sourceOf(body) }
}

const slugOf = (request: Request): string => String(request.params.slug)

/** Pages, their forms, and the files that people ask for. */
export function captureRoutes(platform: Platform, limits: Limits): Router {
  const routes = Router()

  routes.get('/p/:slug', async (request, response) => {
    const page = await livePage(slugOf(request))
    const state: FormState = { token: formToken(platform, page), values: sourceOf(request.query), faults: {} }
    sendPage(response, capturePage(page, await getBusiness(platform.database), state))
  })

  routes.post(
    '/p/:slug',
    limits.source,
    urlencoded({ extended: false, limit: largestForm, parameterLimit: 40 }),
    async (request, response) => {
      const page = await livePage(slugOf(request))
      const body: unknown = request.body
      const read = formSubmission.safeParse({ ...fieldsOf(body), source: sourceOf(body) })
      const askAgain = async (
        notice: string,
        status: number,
        faults: Record<string, string> = {},
      ): Promise<void> => {
        const state = { token: formToken(platform, page), values: typedIn(body), faults, notice }
        sendPage(response, capturePage(page, await getBusiness(platform.database), state), status)
      }
      if (!read.success) {
        const faults = Object.fromEntries(
          read.error.issues.map((issue) => [String(issue.path[0]), issue.message]),
        )
        return askAgain(notices.faulty, 422, faults)
      }
      if (read.data.website !== '') return askAgain(notices.robot, 422)
      if (!isFormToken(platform, page, read.data.token)) return askAgain(notices.late, 409)
      // A page from the browser's memory has a token that was used: a new sending needs a new one.
      if ((await submitForm(platform, page, read.data, request.ip ?? null)) === 'used')
        return askAgain(notices.used, 409)
      response.redirect(303, `/p/${page.slug}/thanks`)
    },
  )

  routes.get('/p/:slug/thanks', async (request, response) => {
    const page = await livePage(slugOf(request))
    sendPage(response, thanksPage(page, await getBusiness(platform.database)))
  })

  // A GET changes nothing: mail programs and scanners open links by themselves.
  routes.get('/confirm/:token', limits.source, async (request, response) => {
    const page = await confirmationPage(platform, String(request.params.token))
    sendPage(response, confirmPage(page, await getBusiness(platform.database)))
  })

  routes.post('/confirm/:token', limits.source, async (request, response) => {
    const page = await confirmForm(platform, String(request.params.token), request.ip ?? null)
    response.redirect(303, `/p/${page.slug}/thanks`)
  })

  routes.get('/contact-card.vcf', async (_request, response) => {
    const { name, senderName, senderAddress } = await getBusiness(platform.database)
    sendAsAttachment(response, `${name}.vcf`, 'text/vcard')
    response.send(vcard({ name: senderName, address: senderAddress, organisation: name }))
  })

  routes.get('/files/:token', limits.source, async (request, response) => {
    const file = await downloadFile(platform, String(request.params.token))
    sendAsAttachment(response, file.name, file.mediaType)
    response.send(file.content)
  })

  return routes
}
