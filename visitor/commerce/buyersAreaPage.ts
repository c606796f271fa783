import { moneyWords } from '../../core/commerce/money.ts'
import { dayWords } from '../../core/commerce/payments.ts'
import type { ShownPurchase } from '../../core/commerce/shownOrder.ts'
import { html, type Html } from '../../core/html.ts'
import type { Progress } from '../../core/pages/course.ts'
import type { Belonging } from '../../server/commerce/belongings.ts'

/** A course of somebody, with how far they are. */
export interface ShownCourse {
  name: string
  description: string
  progress: Progress
  /** Where they go on; null while no lesson is open. */
  href: string | null
}

/** An order of somebody, with the ways to what it brought. */
export interface ShownBelonging {
  belonging: Belonging
  shown: ShownPurchase
  /** Where card and subscription are changed. */
  cardHref: string | null
  /** The address of an invoice by its number. */
  invoiceHref: (number: number) => string
}

/** What the area shows. */
export interface ShownArea {
  firstName: string
  zone: string
  courses: readonly ShownCourse[]
  belongings: readonly ShownBelonging[]
  preferencesHref: string
}

const courseHtml = ({ name, description, progress: { done, of, next }, href }: ShownCourse): Html =>
  html`<li class="thing">
    <h3>${name}</h3>
    ${description && html`<p>${description}</p>`}
    <p>
      <progress value="${done}" max="${Math.max(1, of)}" aria-label="${name}"></progress>
      ${done === of && of > 0 ? 'finished' : `${done} of ${of} lessons`}
    </p>
    ${
      href !== null &&
      html`<p>
        <a class="button" href="${href}"
          >${next ? `${done === 0 ? 'Begin' : 'Go on'}: ${next.title}` : 'Look at it again'}</a
        >
      </p>`
    }
  </li>`

function subscriptionHtml({ subscription }: Belonging, cardHref: string | null, zone: string): Html | false {
  if (!subscription) return false
  const { next, pausedUntil, ended } = subscription
  const words = ended
    ? 'It has ended: nothing more is taken.'
    : pausedUntil !== null && next !== null
      ? `It rests until ${dayWords(pausedUntil, zone)}.`
      : next !== null
        ? `It goes on: the next payment is on ${dayWords(next, zone)}.`
        : ''
  return html`<p>
    ${words} ${cardHref !== null && html`<a href="${cardHref}">${ended ? 'Card' : 'Card, pause or end'}</a>`}
  </p>`
}

const belongingHtml = ({ belonging, shown, cardHref, invoiceHref }: ShownBelonging, zone: string): Html => {
  const { order, placedAt, refunded, invoices } = belonging
  const money = (amount: number): string => moneyWords({ amount, currency: order.currency })
  return html`<li class="thing">
    <h3>${shown.lines.map(({ title }) => title).join(', ')}</h3>
    <p class="soft">
      ${dayWords(placedAt, zone)}, order
      ${order.id}${order.total > 0 && html`, ${money(order.total)}`}${
        refunded > 0 && html`, ${money(refunded)} given back`
      }
    </p>
    ${
      shown.ways.length > 0 &&
      html`<p>
        ${shown.ways.map(({ label, href }) => html`<a class="button" href="${href}">${label}</a> `)}
      </p>`
    }
    ${subscriptionHtml(belonging, cardHref, zone)}
    ${
      invoices.length > 0 &&
      html`<p class="soft">
        ${invoices.map(
          ({ number, kind }) =>
            html`<a href="${invoiceHref(number)}"
                >${kind === 'credit' ? 'Credit note' : 'Invoice'} ${number}</a
              >
              <a href="${invoiceHref(number)}.pdf" aria-label="${`PDF of ${number}`}">PDF</a> `,
        )}
      </p>`
    }
  </li>`
}

/** All that is somebody's. */
export const areaHtml = ({ firstName, zone, courses, belongings, preferencesHref }: ShownArea): Html =>
  html`<h1>${firstName ? `Hello ${firstName}` : 'What is yours'}</h1>
    ${
      courses.length > 0 &&
      html`<h2>Your courses</h2>
        <ul class="things">
          ${courses.map(courseHtml)}
        </ul>`
    }
    <h2>What you bought</h2>
    ${
      belongings.length > 0
        ? html`<ul class="things">
            ${belongings.map((each) => belongingHtml(each, zone))}
          </ul>`
        : html`<p>Nothing yet. What you buy stands here, with the ways to it.</p>`
    }
    <p><a href="${preferencesHref}">Email preferences</a></p>
    <form method="post" action="/mine/out">
      <button>Leave on this device</button>
    </form>`

/** Where somebody asks for their way in. @param to the path of the page that they wanted */
export const askHtml = (to: string, asked: boolean): Html =>
  asked
    ? html`<h1>Look into your mailbox</h1>
        <p role="status">
          If this address is known here, an email with your way in is on its way to it. It works for an hour.
        </p>
        <p>
          Nothing after five minutes? Look in the folder for spam, or try the address with which you bought.
        </p>`
    : html`<h1>What is yours</h1>
        <p>What you bought, your courses and your invoices. No password: we send you the way in by email.</p>
        <form method="post" action="/mine">
          <p>
            <label for="address">The address with which you bought or signed up</label>
            <input type="email" id="address" name="address" autocomplete="email" required maxlength="254" />
          </p>
          <input type="hidden" name="to" value="${to}" />
          <button>Send me the way in</button>
        </form>`
