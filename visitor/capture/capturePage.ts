import type { Page } from '../../server/capture/models.ts'
import type { Business } from '../../server/workspace/models.ts'
import type { PublicPage } from '../frame.ts'
import { html, type Html } from '../html.ts'

/** What the form shows: the token of this view, what was typed so far, and what is wrong with it. */
export interface FormState {
  token: string
  values: Record<string, string>
  faults: Record<string, string>
  notice?: string
}

function field(
  name: string,
  label: Html,
  attributes: { type: string; autocomplete: string; required: boolean },
  state: FormState,
): Html {
  const fault = state.faults[name]
  return html`<label
    >${label}
    <input
      type="${attributes.type}"
      name="${name}"
      value="${state.values[name]}"
      autocomplete="${attributes.autocomplete}"
      maxlength="254"
      ${attributes.required && html`required`}
      ${fault && html`aria-invalid="true" aria-describedby="${name}-fault"`}
    />
    ${fault && html`<strong class="fault" id="${name}-fault">${fault}</strong>`}
  </label>`
}

function form(page: Page, state: FormState): Html {
  const { form: words } = page.content
  const sources = Object.entries(state.values).filter(([name]) => name.startsWith('utm_'))
  // The browser's own checks stay off: ours speak the page's language and come back with what was typed.
  return html`<form method="post" action="/p/${page.slug}" novalidate>
    ${state.notice && html`<p class="notice" role="alert">${state.notice}</p>`}
    ${field('firstName', html`First name`, { type: 'text', autocomplete: 'given-name', required: false }, state)}
    ${field('address', html`Email address`, { type: 'email', autocomplete: 'email', required: true }, state)}
    <label class="tick">
      <input
        type="checkbox"
        name="consent"
        value="yes"
        required
        ${state.values.consent === 'yes' && html`checked`}
        ${state.faults.consent && html`aria-invalid="true" aria-describedby="consent-fault"`}
      />
      <span
        >${words.consentWording}
        ${state.faults.consent && html`<strong class="fault" id="consent-fault">${state.faults.consent}</strong>`}</span
      >
    </label>
    <div class="elsewhere" aria-hidden="true">
      <label>Leave this empty <input type="text" name="website" tabindex="-1" autocomplete="off" /></label>
    </div>
    <input type="hidden" name="token" value="${state.token}" />
    ${sources.map(([name, value]) => html`<input type="hidden" name="${name}" value="${value}" />`)}
    <button>${words.button}</button>
  </form>`
}

/** The page that makes one promise and asks for an address. */
export function capturePage(page: Page, business: Business, state: FormState): PublicPage {
  const { headline, promise, points } = page.content
  return {
    title: headline,
    business: business.name,
    foot: `${business.name}, ${business.postalAddress}`,
    unlisted: false,
    body: html`<div class="two">
      <div>
        <h1>${headline}</h1>
        <p>${promise}</p>
        <ul class="points">
          ${points.map((point) => html`<li>${point}</li>`)}
        </ul>
      </div>
      ${form(page, state)}
    </div>`,
  }
}

/** Asks whether a form was really theirs: the page behind the link of the email that asks. */
export function confirmPage(page: Page, business: Business): PublicPage {
  const { headline, form: words } = page.content
  return {
    title: 'Please confirm',
    business: business.name,
    foot: `${business.name}, ${business.postalAddress}`,
    unlisted: true,
    body: html`<h1>Please confirm your email address</h1>
      <p>Somebody, probably you, used your address to ask for “${headline}”, and agreed to this:</p>
      <p>${words.consentWording}</p>
      <form method="post"><button>Yes, confirm</button></form>`,
  }
}

/** What people see next: what is coming, where to look for it, and the next offer. */
export function thanksPage(page: Page, business: Business): PublicPage {
  const { headline, next, offer } = page.content.thanks
  return {
    title: headline,
    business: business.name,
    foot: `${business.name}, ${business.postalAddress}`,
    unlisted: true,
    body: html`<h1>${headline}</h1>
      <ol class="next">
        ${next.map((step) => html`<li>${step}</li>`)}
        <li>Nothing after five minutes? Look in the spam and promotions folders.</li>
        <li>
          <a href="/contact-card.vcf">Add ${business.senderName} to your contacts</a>, so that our email does
          not land in spam. The address is ${business.senderAddress}.
        </li>
      </ol>
      ${
        offer &&
        html`<section class="offer">
          <h2>${offer.words}</h2>
          <a class="button" href="${offer.href}">${offer.button}</a>
        </section>`
      }`,
  }
}
