import type { FieldValue } from '../audience/describing/field.ts'
import { typedFieldValue } from '../audience/describing/field.ts'
import { html, Html, type HtmlValue } from '../html.ts'
import { tokenMark, type PageContext } from '../pages/context.ts'
import { doneHtml } from './doneHtml.ts'
import { fieldHtml, fieldStyle } from './fieldHtml.ts'
import { fieldsOf, type FormField, type ShownField } from './form.ts'
import type { FormState, KnownReader, ShownForm } from './shownForm.ts'

const isShown = (field: FormField): field is ShownField => field.asks !== 'hidden'

/** What is known of a reader for a field, as it can be typed; '' when nothing is. */
export function knownAnswer(field: FormField, { builtIn, own }: KnownReader, form: ShownForm): string {
  switch (field.asks) {
    case 'address':
    case 'firstName':
    case 'lastName':
    case 'phone':
    case 'country':
      return builtIn[field.asks] ?? ''
    case 'own': {
      const asked = form.fields.find(({ id }) => id === field.field)
      const value: FieldValue | undefined = asked && own[asked.id]
      return asked && value !== undefined ? typedFieldValue(asked, value) : ''
    }
    case 'message':
    case 'consent':
    case 'hidden':
      return ''
  }
}

/** The name under which it is posted that a known reader's own details are meant. */
export const asKnown = 'asknown'

const hidden = (name: string, value: string): Html =>
  html`<input type="hidden" name="${name}" value="${value}" />`

const doubtHtml = ({ doubt }: FormState): HtmlValue =>
  doubt &&
  html`<div class="notice" role="alert">
    ${
      doubt.meant === null
        ? html`<p>
              “${doubt.typed}” looks like a mailbox that is thrown away after use. You would lose what we send
              you.
            </p>
            <button type="submit" class="btn out" name="sure" value="${doubt.typed}">
              Use it all the same
            </button>`
        : html`<p>Did you mean “${doubt.meant}”?</p>
            <button type="submit" class="btn" name="meant" value="${doubt.meant}">Yes, use that</button>
            <button type="submit" class="btn out" name="sure" value="${doubt.typed}">
              No, it is right as it is
            </button>`
    }
  </div>`

/** What a form is drawn with. */
interface Drawing {
  /** Tells the forms of one page apart. */
  block: string
  form: ShownForm
  state: FormState
  /** Who reads, when their details are filled in. */
  known: KnownReader | null
  /** Marks each field, for the sheet of the form's own editor. */
  parts: boolean
}

/** Is it a reader of whom only the button is asked? */
const isSkipped = ({ form, known }: Drawing): boolean =>
  form.content.known === 'skip' && known?.builtIn.address !== undefined

function fieldOf(field: ShownField, { block, form, state, known, parts }: Drawing): Html {
  const drawn = fieldHtml(field, {
    prefix: `${block}-`,
    value: state.values[field.id] ?? (known ? knownAnswer(field, known, form) : ''),
    fault: state.faults[field.id],
    own: field.asks === 'own' ? form.fields.find(({ id }) => id === field.field) : undefined,
    label: html`<span>${field.label}</span>`,
  })
  return parts ? html`<div class="part" id="f-${field.id}">${drawn}</div>` : drawn
}

/** What was answered in other steps, and what the address of the page gave, carried on. */
function keptHtml({ form, state }: Drawing, step: number): Html {
  const kept = fieldsOf({ steps: form.content.steps.filter((_, i) => i !== step) }).filter(isShown)
  const given = fieldsOf(form.content).filter(
    (field) => field.asks === 'hidden' && field.value.from === 'address',
  )
  return html`${[...kept, ...given]
    .filter(({ id }) => state.values[id])
    .map(({ id }) => hidden(id, state.values[id] ?? ''))}`
}

/** One step of a form, with what was answered in the others. */
function stepHtml(drawing: Drawing): Html {
  const { form, state, known } = drawing
  const { steps, button, next } = form.content
  const at = Math.min(state.step ?? 0, steps.length - 1)
  const step = steps[at]
  const skips = isSkipped(drawing)
  const isAsked = (field: FormField): field is ShownField =>
    isShown(field) &&
    !(skips && known && state.faults[field.id] === undefined && knownAnswer(field, known, form) !== '')
  return html`${
      steps.length > 1 &&
      html`<p class="steps">
        <small>Step ${at + 1} of ${steps.length}</small>${step?.title && html`<strong>${step.title}</strong>`}
      </p>`
    }${
      skips &&
      html`<p class="known">For ${known?.builtIn.address ?? ''}. <a href="?me=0">Not you?</a></p>
        ${hidden(asKnown, 'yes')}`
    }${step?.fields.filter(isAsked).map((field) => fieldOf(field, drawing))}${keptHtml(drawing, at)}${hidden('step', String(at))}${doubtHtml(state)}
    <div class="go">
      <button type="submit" class="btn">${at === steps.length - 1 ? button : next}</button>${
        at > 0 && html`<button type="submit" class="btn out" name="back" value="yes">Back</button>`
      }
    </div>`
}

/**
 * A form as it stands in a page, a pop-up or another site, and on the sheet of its editor.
 * @param block tells the forms of one page apart
 * @param parts marks each field, for the sheet of the form's own editor
 */
export function formHtml(block: string, form: ShownForm, context: PageContext, { parts = false } = {}): Html {
  const { form: all, formAction } = context
  const { content } = form
  const state: FormState =
    all.block === block ? all : { block, values: all.block === null ? all.values : {}, faults: {} }
  if (state.done) return doneHtml(form, state.done, context)
  // As somebody made up it is tried out: nobody is to type their details for them.
  const known = content.known === 'ask' && !context.known?.rehearsal ? null : context.known
  const source = Object.entries(all.values).filter(([name]) => name.startsWith('utm_'))
  // The browser's own checks stay off: ours speak the page's language and come back with what was typed. Enter presses
  // the first button that there is: one that means no more than the last.
  return html`<form method="post" action="${formAction}" novalidate data-form="${form.id}">
    ${
      content.title !== '' && html`<h2>${content.title}</h2>`
    }${state.notice !== undefined && html`<p class="notice" role="alert" tabindex="-1" autofocus>${state.notice}</p>`}
    <div class="away" aria-hidden="true">
      <button type="submit" tabindex="-1">Send</button
      ><label>Leave this empty <input type="text" name="website" tabindex="-1" autocomplete="off" /></label>
    </div>
    ${stepHtml({ block, form, state, known, parts })}${hidden('form', block)}${hidden('version', String(form.version))}<input
      type="hidden"
      name="token"
      ${new Html(tokenMark)}
    />${source.map(([name, value]) =>
      hidden(name, value),
    )}${content.privacy !== '' && html`<p class="small">${content.privacy}</p>`}
  </form>`
}

/** The style of forms and of what takes their place. */
export const formStyle = `form,.done{background:var(--bg);border:1px solid var(--line);border-radius:var(--corner);padding:28px;max-width:520px}form h2,.done h2{font-size:21px;line-height:1.3;margin-bottom:16px}${fieldStyle}.go{display:flex;flex-direction:row-reverse;gap:12px}.go .btn{flex:1}.go .btn.out,.notice .btn.out{flex:none}.btn.out{background:none;color:var(--accent)}.steps{margin-bottom:18px}.steps strong{display:block}.known{margin-bottom:18px}.small{font-size:14px;margin-top:12px}.away{position:absolute;left:-9999px}.notice{border-left:4px solid #A3202B;padding:4px 0 4px 14px;margin:0 0 20px}.notice p{margin-bottom:10px}.done p+p,.done form{margin-top:14px}.done form{border:0;padding:0}.done picture{margin-bottom:16px}.done .no{margin-left:16px}`
