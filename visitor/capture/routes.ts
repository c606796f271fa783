import { Router, urlencoded, type Request, type Response } from 'express'
import { consentsOf } from '../../core/capture/form.ts'
import { vcard } from '../../core/capture/vcard.ts'
import { html, type Html } from '../../core/html.ts'
import { askAgain, resendConfirmation } from '../../server/capture/confirmations.ts'
import { confirmForm, readConfirmation, type Confirmation } from '../../server/capture/confirming.ts'
import { readDownload, recordDownload, sendAgain, type Download } from '../../server/capture/downloads.ts'
import { readerMark, unknownReader } from '../../server/pages/readers.ts'
import { getBusiness } from '../../server/workspace/business.ts'
import type { Limits } from '../limits.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { keepMark } from '../pages/readerCookie.ts'
import { sendNotice, sendPage } from '../respond.ts'
import { isRead } from '../pages/countVisit.ts'
import { hrefForSender } from './afterForm.ts'
import { rangeOf, sendFile } from './download.ts'
import { sendAsAttachment } from './fileHeaders.ts'

const againWords =
  'If there is something to confirm, the email is on its way again. Look in the spam and promotions folders too.'

const tokenOf = (request: Request): string => String(request.params.token)

/** What somebody agreed to, and the button that makes it true. */
const confirmBody = ({ of, answers }: Confirmation): Html => {
  const agreed = consentsOf(of.content).filter(({ id }) => answers.agreed.includes(id))
  return html`<h1>Is this your email address?</h1>
    <p>Somebody, probably you, sent us the form “${of.content.title || of.name}” with it.</p>
    ${agreed.length > 0 && html`<p>With your yes you agree to this:</p>`}${agreed.map(({ label }) => html`<blockquote>${label}</blockquote>`)}
    <form method="post"><button>${of.content.confirm.letter.button || 'Yes, confirm'}</button></form>
    <p class="soft">If it was not you, close this page: nothing changes.</p>`
}

const expiredBody = html`<h1>This link has expired</h1>
  <p>It was good for seven days. We can send you a new one, if it was you who asked.</p>
  <form method="post"><button name="again" value="yes">Send me a new link</button></form>`

const overBody = ({ file, over }: Download): Html =>
  html`<h1>This link is no longer good</h1>
    <p>
      ${
        over === 'expired'
          ? `It led to “${file.name}” for ${file.linkDays} days.`
          : `“${file.name}” was downloaded with it as often as it can be.`
      }
      We can send you a new one.
    </p>
    <form method="post"><button>Send me a new link</button></form>`

/** Confirmations, and the files that people ask for. */
export function captureRoutes({ platform, published }: PublicSite, limits: Limits): Router {
  const routes = Router()

  async function confirm(request: Request, response: Response): Promise<void> {
    const { of, whose } = await confirmForm(platform, tokenOf(request), request.ip ?? null)
    keepMark(request, response, readerMark(platform, whose.id))
    const site = await published.site()
    const { after, confirm: confirming } = of.content
    const next = confirming.next.to === 'nowhere' && after.then === 'go' ? after.target : confirming.next
    const view = {
      reader: { ...unknownReader(platform, site.business.zone), contact: whose.id },
      mark: null,
      base: '/p/',
    }
    const href = hrefForSender(platform, site, next, view, {
      sender: { contact: whose.id, proven: true, once: tokenOf(request) },
      added: null,
      source: {},
    })
    if (href !== null) response.redirect(303, href)
    else if (after.then === 'go')
      sendNotice(response, 200, 'Confirmed', 'Thank you. What you asked for is on its way to your mailbox.')
    else sendNotice(response, 200, after.title || 'Confirmed', after.words)
  }

  // A GET changes nothing, unless the form says so: mail programs and scanners open links by themselves.
  routes.get('/confirm/:token', limits.source, async (request, response) => {
    const asked = await readConfirmation(platform, platform.database, tokenOf(request))
    if (!asked.expired && asked.of.content.confirm.click === 'atOnce' && isRead(request)) {
      await confirm(request, response)
      return
    }
    const { name, postalAddress } = await getBusiness(platform.database)
    sendPage(
      response,
      {
        title: 'Please confirm',
        business: name,
        foot: `${name}, ${postalAddress}`,
        unlisted: true,
        body: asked.expired ? expiredBody : confirmBody(asked),
      },
      asked.expired ? 410 : 200,
    )
  })

  routes.post(
    '/confirm/:token',
    limits.source,
    urlencoded({ extended: false, limit: '1kb' }),
    async (request, response) => {
      const asked = await readConfirmation(platform, platform.database, tokenOf(request))
      if (!asked.expired) {
        await confirm(request, response)
        return
      }
      const { again } = (request.body ?? {}) as { again?: unknown }
      const sent =
        again === 'yes' &&
        (await platform.database.inTransaction(async (tx) => {
          return resendConfirmation(tx, asked.id, new Date(platform.clock.now()))
        }))
      if (sent)
        sendNotice(
          response,
          200,
          'Look in your mailbox',
          'We have sent you a new link. It is good for seven days.',
        )
      else sendNotice(response, 410, 'This link has expired', 'Please fill in the form once more.')
    },
  )

  // The same answer to everybody: who asks may not be who was asked.
  routes.post('/confirm-again/:token', limits.source, async (request, response) => {
    await askAgain(platform, tokenOf(request))
    // On another site its script shows the answer.
    if (request.accepts(['html', 'json']) === 'json') {
      response.set('access-control-allow-origin', '*').json({
        html: html`<div class="done" role="status" tabindex="-1" autofocus><p>${againWords}</p></div>`.markup,
      })
      return
    }
    sendNotice(response, 200, 'Look in your mailbox once more', againWords)
  })

  routes.get('/contact-card.vcf', async (_request, response) => {
    const { name, sender } = await getBusiness(platform.database)
    sendAsAttachment(response, `${name}.vcf`, 'text/vcard')
    response.send(vcard({ name: sender.name, address: sender.address, organisation: name }))
  })

  routes.get('/files/:token', limits.source, async (request, response) => {
    const download = await readDownload(platform, tokenOf(request))
    const { file } = download
    if (download.over !== null) {
      const { name, postalAddress } = await getBusiness(platform.database)
      const foot = `${name}, ${postalAddress}`
      const body = overBody(download)
      sendPage(
        response,
        { title: 'This link is no longer good', business: name, foot, unlisted: true, body },
        410,
      )
      return
    }
    const range = rangeOf(request, file.size)
    // A look at the head takes nothing, and the rest of a file that was begun is no second download.
    if (request.method === 'GET' && range !== null && (range === 'all' || range.start === 0))
      await recordDownload(platform, download, !isRead(request))
    sendAsAttachment(response, file.name, file.mediaType)
    await sendFile(platform, request, response, file)
  })

  // The same answer to everybody: who holds an old link need not be who it was made for.
  routes.post('/files/:token', limits.source, async (request, response) => {
    const download = await readDownload(platform, tokenOf(request))
    if (download.over !== null) await sendAgain(platform, download)
    sendNotice(
      response,
      200,
      'Look in your mailbox',
      'If we know whose link this is, an email with a new one is on its way. Look in the spam and promotions folders too.',
    )
  })

  return routes
}
