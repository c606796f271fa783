import { Router } from 'express'
import { vcard } from '../../core/capture/vcard.ts'
import { html } from '../../core/html.ts'
import { confirmationPage, confirmForm } from '../../server/capture/confirmations.ts'
import { downloadFile } from '../../server/capture/downloads.ts'
import { readerMark, unknownReader } from '../../server/pages/readers.ts'
import { formIn } from '../../server/pages/versions.ts'
import { getBusiness } from '../../server/workspace/business.ts'
import type { Limits } from '../limits.ts'
import { hrefFor } from '../pages/pageContext.ts'
import type { PublicSite } from '../pages/publicSite.ts'
import { keepMark } from '../pages/readerCookie.ts'
import { sendNotice, sendPage } from '../respond.ts'
import { sendAsAttachment } from './fileHeaders.ts'

/** Confirmations, and the files that people ask for. */
export function captureRoutes({ platform, published }: PublicSite, limits: Limits): Router {
  const routes = Router()

  // A GET changes nothing: mail programs and scanners open links by themselves.
  routes.get('/confirm/:token', limits.source, async (request, response) => {
    const { content, wording } = await confirmationPage(platform, String(request.params.token))
    const { name, postalAddress } = await getBusiness(platform.database)
    sendPage(response, {
      title: 'Please confirm',
      business: name,
      foot: `${name}, ${postalAddress}`,
      unlisted: true,
      body: html`<h1>Please confirm your email address</h1>
        <p>Somebody, probably you, used your address to ask for “${content.title}”, and agreed to this:</p>
        <p>${wording}</p>
        <form method="post"><button>Yes, confirm</button></form>`,
    })
  })

  routes.post('/confirm/:token', limits.source, async (request, response) => {
    const token = String(request.params.token)
    const { content, block, contact } = await confirmForm(platform, token, request.ip ?? null)
    keepMark(request, response, readerMark(platform, contact))
    const next = formIn(content, block)?.next
    const site = await published.site()
    const reader = unknownReader(platform, site.business.zone)
    const href = next && hrefFor(platform, site, { reader, mark: null, base: '/p/' })(next)
    if (href) response.redirect(303, href)
    else
      sendNotice(response, 200, 'Confirmed', 'Thank you. What you asked for is on its way to your mailbox.')
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
