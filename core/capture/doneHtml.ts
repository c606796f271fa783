import type { Html } from '../html.ts'
import { html } from '../html.ts'
import { linked, withBreaks, type PageContext } from '../pages/context.ts'
import { pictureHtml } from '../pages/blocks/pictureHtml.ts'
import { mergeWords } from '../blocks/mergeValues.ts'
import type { AfterSending } from './form.ts'
import type { Done, ShownForm } from './shownForm.ts'

const said = (title: string, words: string, more: Html | false = false): Html =>
  // It takes the place of what had the focus: screen readers are told, and the keyboard goes on from here.
  html`<div class="done" role="status" tabindex="-1" autofocus>
    ${title !== '' && html`<h2>${title}</h2>`}
    <p>${withBreaks(words)}</p>
    ${more}
  </div>`

function offerHtml(offer: Extract<AfterSending, { then: 'offer' }>, context: PageContext): Html {
  const { title, words, picture, label, target, decline } = offer
  return html`<div class="done" role="status" tabindex="-1" autofocus>
    ${pictureHtml(context, picture, '', '480px')}${title !== '' && html`<h2>${title}</h2>`}
    <p>${withBreaks(mergeWords(words, context.reader))}</p>
    <p>
      ${linked(context, target, html`${label}`, { className: 'btn' })}<a
        class="no"
        href="${context.formAction}"
        data-close
        >${decline}</a
      >
    </p>
  </div>`
}

/** What stands in the place of a form that was sent: thanks, an offer, or what is left to do. */
export function doneHtml({ content }: ShownForm, done: Done, context: PageContext): Html {
  const { after, confirm } = content
  if (done.is === 'waiting')
    return said(
      confirm.waiting.title,
      confirm.waiting.words,
      done.again !== null &&
        html`<form method="post" action="${done.again}">
          <button type="submit" class="btn out">Send the email again</button>
        </form>`,
    )
  switch (after.then) {
    case 'message':
      return said(after.title, mergeWords(after.words, context.reader))
    case 'offer':
      return offerHtml(after, context)
    case 'go':
      return said('Thank you', 'Look into your mailbox: we have written to you.')
  }
}
