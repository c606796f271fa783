import type { Field, FieldKind } from '../audience/describing/field.ts'
import { countryCodes, countryName } from '../audience/people/country.ts'
import { html, Html, type HtmlValue } from '../html.ts'
import type { Asks, ShownField } from './form.ts'

/** Where and how a field is drawn. */
export interface FieldDrawing {
  /** Distinguishes the fields of several forms on one page. */
  prefix: string
  value: string
  fault: string | undefined
  /** The own field that it asks for. */
  own: Field | undefined
  /** Marks the label as what the sheet writes in. */
  label: Html
}

interface Input {
  type: string
  autocomplete: string
  /** Which keys a phone shows. */
  inputmode?: string
}

const attributes = ({ prefix, fault }: FieldDrawing, field: ShownField): Html =>
  html`${field.required && new Html(' required')}${fault !== undefined && html` aria-invalid="true"`}${
    (fault !== undefined || ('hint' in field && field.hint !== '')) &&
    html` aria-describedby="${[
      'hint' in field && field.hint !== '' && `${prefix}${field.id}-hint`,
      fault !== undefined && `${prefix}${field.id}-fault`,
    ]
      .filter(Boolean)
      .join(' ')}"`
  }`

const exampleOf = (field: ShownField): HtmlValue =>
  'example' in field && field.example !== '' && html` placeholder="${field.example}"`

const input = (field: ShownField, drawing: FieldDrawing, { type, autocomplete, inputmode }: Input): Html =>
  html`<input
    type="${type}"
    id="${drawing.prefix}${field.id}"
    name="${field.id}"
    value="${drawing.value}"
    autocomplete="${autocomplete}"
    maxlength="1000"
    ${
      inputmode !== undefined && html` inputmode="${inputmode}"`
    }${exampleOf(field)}${attributes(drawing, field)}
  />`

type Choice = readonly [value: string, label: string]

const select = (field: ShownField, drawing: FieldDrawing, choices: readonly Choice[]): Html =>
  html`<select
    id="${drawing.prefix}${field.id}"
    name="${field.id}"
    ${field.asks === 'country' && new Html(' autocomplete="country"')}${attributes(drawing, field)}
  >
    <option value="">Choose</option>
    ${choices.map(
      ([value, label]) =>
        html`<option value="${value}" ${value === drawing.value && new Html(' selected')}>${label}</option>`,
    )}
  </select>`

/** Boxes or buttons to choose from, named by the label above them. */
const choices = (
  field: ShownField,
  { prefix, value, fault }: FieldDrawing,
  type: 'radio' | 'checkbox',
  all: readonly Choice[],
): Html =>
  html`${all.map(
    ([each, label], i) =>
      html`<label class="tick"
        ><input
          type="${type}"
          id="${prefix}${field.id}-${i}"
          name="${field.id}"
          value="${each}"
          ${
            value.split(';').includes(each) && new Html(' checked')
          }${fault !== undefined && i === 0 && html` aria-invalid="true" aria-describedby="${prefix}${field.id}-fault"`}
        /><span>${label}</span></label
      >`,
  )}`

const textArea = (field: ShownField, drawing: FieldDrawing): Html =>
  html`<textarea
    id="${drawing.prefix}${field.id}"
    name="${field.id}"
    rows="4"
    maxlength="2000"
    ${exampleOf(field)}${attributes(drawing, field)}
  >
${drawing.value}</textarea>`

/** More choices than this are a list that opens. */
const mostButtons = 6

const optionsOf = ({ options }: Field): Choice[] => options.map(({ id, label }) => [id, label])

/** How own fields are answered, by their kind; a date in the order that the visitor's browser has. */
const ownControls: Record<FieldKind, (field: ShownField, drawing: FieldDrawing, own: Field) => Html> = {
  text: (field, drawing) => input(field, drawing, { type: 'text', autocomplete: 'off' }),
  number: (field, drawing) =>
    input(field, drawing, { type: 'text', autocomplete: 'off', inputmode: 'decimal' }),
  date: (field, drawing) => input(field, drawing, { type: 'date', autocomplete: 'off' }),
  yesNo: (field, drawing) =>
    choices(field, drawing, 'radio', [
      ['yes', 'Yes'],
      ['no', 'No'],
    ]),
  oneOf: (field, drawing, own) =>
    own.options.length > mostButtons
      ? select(field, drawing, optionsOf(own))
      : choices(field, drawing, 'radio', optionsOf(own)),
  manyOf: (field, drawing, own) => choices(field, drawing, 'checkbox', optionsOf(own)),
}

const controls: Record<
  Exclude<Asks, 'hidden' | 'consent'>,
  (field: ShownField, drawing: FieldDrawing) => Html
> = {
  address: (field, drawing) => input(field, drawing, { type: 'email', autocomplete: 'email' }),
  firstName: (field, drawing) => input(field, drawing, { type: 'text', autocomplete: 'given-name' }),
  lastName: (field, drawing) => input(field, drawing, { type: 'text', autocomplete: 'family-name' }),
  phone: (field, drawing) => input(field, drawing, { type: 'tel', autocomplete: 'tel' }),
  country: (field, drawing) =>
    select(
      field,
      drawing,
      countryCodes().map((code) => [code, countryName(code)]),
    ),
  message: textArea,
  own: (field, drawing) =>
    drawing.own
      ? ownControls[drawing.own.kind](field, drawing, drawing.own)
      : input(field, drawing, { type: 'text', autocomplete: 'off' }),
}

/** Is the field answered by several boxes or buttons, which stand in a group? */
const isGroup = (field: ShownField, own: Field | undefined): boolean =>
  field.asks === 'own' &&
  own !== undefined &&
  (own.kind === 'yesNo' ||
    own.kind === 'manyOf' ||
    (own.kind === 'oneOf' && own.options.length <= mostButtons))

const faultHtml = (id: string, fault: string | undefined): HtmlValue =>
  fault !== undefined && html`<strong class="fault" id="${id}-fault">${fault}</strong>`

/** A field as people see it: its label, what they type or choose, a hint, and what is wrong. */
export function fieldHtml(field: ShownField, drawing: FieldDrawing): Html {
  const { prefix, value, fault, own, label } = drawing
  const id = `${prefix}${field.id}`
  if (field.asks === 'consent')
    return html`<label class="tick"
      ><input
        type="checkbox"
        id="${id}"
        name="${field.id}"
        value="yes"
        ${value === 'yes' && new Html(' checked')}${attributes(drawing, field)}
      /><span>${label}${faultHtml(id, fault)}</span></label
    >`
  const control = controls[field.asks](field, drawing)
  const hint = field.hint !== '' && html`<small id="${id}-hint">${field.hint}</small>`
  const optional = !field.required && field.asks !== 'address' && html` <small>optional</small>`
  return isGroup(field, own)
    ? html`<fieldset>
        <legend>${label}${optional}</legend>
        ${control}${hint}${faultHtml(id, fault)}
      </fieldset>`
    : html`<div class="field">
        <label for="${id}">${label}${optional}</label>${control}${hint}${faultHtml(id, fault)}
      </div>`
}

/** The style of all that a form can ask for. */
export const fieldStyle = `.field,fieldset{margin:0 0 18px;padding:0;border:0}.field label,legend{display:block;font-weight:600;padding:0;margin-bottom:6px}form small{font-size:14px;font-weight:400;opacity:.85}.field>small,fieldset>small{display:block;margin-top:6px}.field input,.field select,textarea{display:block;width:100%;padding:12px;border:1px solid var(--text);border-radius:min(var(--corner),8px);background:var(--bg);color:inherit;font:inherit}label.tick{display:grid;grid-template-columns:22px 1fr;gap:10px;font-weight:400;font-size:15px;line-height:1.5;margin-bottom:18px}fieldset label.tick{font-size:inherit;margin-bottom:8px}.tick input{width:18px;height:18px;margin:2px 0 0;accent-color:var(--accent)}.fault{display:block;color:#A3202B;font-size:15px;margin-top:6px}`
