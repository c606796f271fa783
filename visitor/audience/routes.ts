import { Router, urlencoded, type Request } from 'express'
import { z } from 'zod'
import { dataOf } from '../../server/audience/people/exports.ts'
import { erasePerson } from '../../server/audience/people/erasing.ts'
import { unsubscribe } from '../../server/audience/people/permission.ts'
import {
  askForNewAddress,
  type NewAddress,
  confirmAddress,
  readAddressChange,
} from '../../server/audience/people/addressChange.ts'
import {
  chooseTopics,
  pauseMail,
  readPreferences,
  setTracking,
} from '../../server/audience/people/preferences.ts'
import type { Platform } from '../../server/platform.ts'
import { notFound } from '../../server/http/problems.ts'
import { getBusiness } from '../../server/workspace/business.ts'
import { sendAsAttachment } from '../capture/fileHeaders.ts'
import { html } from '../../core/html.ts'
import type { Limits } from '../limits.ts'
import { sendNotice, sendPage } from '../respond.ts'
import { preferencesBody } from './preferencesPage.ts'

const preferencesForm = z.object({
  do: z.enum(['topics', 'pause', 'resume', 'track', 'untrack', 'address', 'unsubscribe', 'data', 'erase']),
  topic: z
    .union([z.string(), z.array(z.string())])
    .default([])
    .transform((values) => new Set([values].flat().map(Number))),
  address: z.string().max(300).default(''),
  sure: z.string().optional(),
})

const newAddressWords: Record<NewAddress, { words: string; status: number }> = {
  asked: {
    words: 'Please open the link that we have sent to the new address. Until then nothing changes.',
    status: 200,
  },
  noAddress: {
    words: 'Please check the new address: it should look like name@example.com.',
    status: 422,
  },
  tooOften: {
    words:
      'You have asked for this three times today. Please use one of the links you got, or try again tomorrow.',
    status: 429,
  },
}

const tokenOf = (request: Request): string => String(request.params.token)

/** The page on which people choose what they get, by a link that only they have. */
export function audienceRoutes(platform: Platform, limits: Limits): Router {
  const routes = Router()

  routes.get('/preferences/:token', async (request, response) => {
    const chosen = await readPreferences(platform, tokenOf(request))
    const business = await getBusiness(platform.database)
    const body = preferencesBody(chosen, business, null)
    sendPage(response, { title: 'Email preferences', business: business.name, unlisted: true, body })
  })

  routes.post(
    '/preferences/:token',
    limits.source,
    urlencoded({ extended: false, limit: '5kb' }),
    async (request, response) => {
      const token = tokenOf(request)
      const chosen = await readPreferences(platform, token)
      const { contact } = chosen
      const business = await getBusiness(platform.database)
      const showAgain = async (said: string, status = 200): Promise<void> => {
        const body = preferencesBody(await readPreferences(platform, token), business, said)
        sendPage(
          response,
          { title: 'Email preferences', business: business.name, unlisted: true, body },
          status,
        )
      }
      const read = preferencesForm.safeParse(request.body)
      if (!read.success) return showAgain('Please press one of the buttons below.', 422)
      switch (read.data.do) {
        case 'topics':
          await chooseTopics(platform, chosen, read.data.topic)
          return showAgain('Saved.')
        case 'pause':
        case 'resume':
          await pauseMail(platform, contact.id, read.data.do === 'pause')
          return showAgain(
            read.data.do === 'pause' ? 'Paused for 30 days.' : 'Resumed: you get news and offers again.',
          )
        case 'track':
        case 'untrack':
          await setTracking(platform, contact.id, read.data.do === 'track')
          return showAgain(
            read.data.do === 'track' ? 'They are counted again.' : 'They are not counted from now on.',
          )
        case 'address': {
          const { words, status } =
            newAddressWords[await askForNewAddress(platform, contact.id, read.data.address)]
          return showAgain(words, status)
        }
        case 'unsubscribe':
          await unsubscribe(platform, contact.id, 'person')
          return showAgain('You are unsubscribed from everything.')
        case 'data': {
          const data = await dataOf(platform.database, contact.id)
          if (!data) throw notFound('This link')
          sendAsAttachment(response, 'my data.json', 'application/json')
          response.send(JSON.stringify(data, null, 2))
          return
        }
        case 'erase':
          if (read.data.sure !== 'yes')
            return showAgain('To delete your data, please tick the box first.', 422)
          await erasePerson(platform, contact.id)
          sendNotice(
            response,
            200,
            'Your data is deleted',
            'Everything about you was deleted, and no later import brings it back.',
          )
      }
    },
  )

  // A GET changes nothing: mail programs and scanners open links by themselves.
  routes.get('/new-address/:token', async (request, response) => {
    const { address } = await readAddressChange(platform, tokenOf(request))
    const { name } = await getBusiness(platform.database)
    const body = html`<h1>Use ${address.shown} from now on?</h1>
      <form method="post"><button>Yes, this is my address</button></form>`
    sendPage(response, { title: 'Your new address', business: name, unlisted: true, body })
  })

  routes.post('/new-address/:token', limits.source, async (request, response) => {
    if ((await confirmAddress(platform, tokenOf(request))) === 'changed') {
      sendNotice(response, 200, 'Thank you', 'From now on your email goes to this address.')
      return
    }
    const { sender } = await getBusiness(platform.database)
    sendNotice(
      response,
      409,
      'This address is already on our list',
      `Nothing was changed. Write to ${sender.address}, and we will merge the two.`,
    )
  })

  return routes
}
