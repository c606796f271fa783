import type { FieldThat, ShownField } from '../capture/form.ts'
import { fieldHtml, fieldStyle } from '../capture/fieldHtml.ts'
import { html, Html } from '../html.ts'
import { tokenMark } from '../pages/context.ts'
import { moneyWords } from './money.ts'
import type { CartLine } from './cart.ts'
import type { Block } from '../blocks/block.ts'
import type { OrderField, ShownChoice, ShownNextOffer, ShownOrder, ShownPurchase } from './shownOrder.ts'

/** The name of the button that was pressed. */
export const doName = 'do'
/** The name of what the buyer saw as the sum, so that nobody pays another one. */
export const seenName = 'seen'

const plain = { hint: '', fault: '', example: '' }
const asked = (
  asks: 'address' | 'firstName' | 'lastName' | 'phone',
  label: string,
  required: boolean,
): ShownField => ({ asks, id: asks, label, required, ...plain })

function field(order: ShownOrder, given: ShownField): Html {
  const id = given.id as OrderField
  return fieldHtml(given, {
    prefix: `${order.block.id}-`,
    value: order.typed[id] ?? '',
    fault: order.faults[id],
    own: undefined,
    label: html`<span>${given.label}</span>`,
  })
}

const tick = (order: ShownOrder, id: OrderField, label: string, required: boolean): Html =>
  field(order, { asks: 'consent', id, label, topics: [], required, fault: '' } satisfies FieldThat<'consent'>)

const fault = (words: string | undefined): Html | false =>
  words !== undefined && html`<strong class="fault">${words}</strong>`

const choiceOf = ({ product, price }: ShownChoice): string => `${product}:${price}`

function choicesHtml(order: ShownOrder): Html {
  const { choices, typed, faults, currency } = order
  const open = choices.filter(({ closed }) => closed === null)
  const chosen = typed.offer ?? (open[0] ? choiceOf(open[0]) : '')
  const chooses = choices.some(({ least }) => least !== null)
  return html`${
    choices.length > 1
      ? html`<fieldset class="offers">
          <legend>What you buy</legend>
          ${choices.map(
            (choice) =>
              html`<label class="offer"
                ><input
                  type="radio"
                  name="offer"
                  value="${choiceOf(choice)}"
                  ${choice.closed !== null && new Html(' disabled')}${choiceOf(choice) === chosen && new Html(' checked')}
                /><span
                  ><b>${choice.title}</b> ${choice.words}<small>${choice.closed ?? choice.note}</small></span
                ></label
              >`,
          )}${fault(faults.offer)}
        </fieldset>`
      : choices.map(
          (choice) =>
            html`<p class="offer one">
                <b>${choice.title}</b> ${choice.words}<small>${choice.closed ?? choice.note}</small>
              </p>
              <input type="hidden" name="offer" value="${choiceOf(choice)}" />${fault(faults.offer)}`,
        )
  }${
    chooses &&
    html`<div class="field">
      <label for="${order.block.id}-amount">What you pay, in ${currency}</label
      ><input
        type="text"
        inputmode="decimal"
        id="${order.block.id}-amount"
        name="amount"
        value="${typed.amount ?? ''}"
        ${faults.amount !== undefined && new Html(' aria-invalid="true"')}
      />${fault(faults.amount)}
    </div>`
  }`
}

function buyerHtml(order: ShownOrder): Html {
  const { name, phone, consent } = order.block
  return html`${field(order, asked('address', 'Email', true))}${
    name !== 'none' && field(order, asked('firstName', 'First name', true))
  }${name === 'whole' && field(order, asked('lastName', 'Last name', true))}${
    phone && field(order, asked('phone', 'Phone', false))
  }${consent !== '' && tick(order, 'consent', consent, false)}`
}

/** What a line costs; how it is paid stands below where that says more. */
function lineHtml(
  { kind, title, words, now, later, full, amount }: CartLine,
  money: (amount: number) => string,
): Html {
  if (kind === 'together')
    return html`<tr>
      <th scope="row" colspan="2">${title}<small>${words}</small></th>
    </tr>`
  const paid = now || later.length === 0 ? money(now?.total ?? 0) : 'nothing yet'
  const says = words !== paid && words !== money(full) && html`<small>${words}</small>`
  return html`<tr>
    <th scope="row">${title}${says}</th>
    <td>${amount < full && now && html`<s>${money(full)}</s> `}${paid}</td>
  </tr>`
}

/** What is in the cart, and what of it is paid at once. */
function summaryHtml(order: ShownOrder): Html | false {
  const { cart, currency } = order
  if (!cart) return false
  const money = (amount: number): string => moneyWords({ amount, currency })
  const later = cart.lines.flatMap((line) => line.later)
  return html`<div class="sum" aria-live="polite">
    <table>
      <tbody>
        ${cart.lines.map((line) => lineHtml(line, money))}${
          cart.off > 0 &&
          html`<tr>
            <th scope="row" colspan="2">
              Coupon ${order.typed.coupon ?? ''}<small
                >${order.coupon ?? ''}: you save ${money(cart.off)}</small
              >
            </th>
          </tr>`
        }
      </tbody>
      <tfoot>
        <tr>
          <th scope="row">
            To pay now${cart.due.tax > 0 && html`<small>with ${money(cart.due.tax)} tax in it</small>`}
          </th>
          <td>${money(cart.due.total)}</td>
        </tr>
        ${
          later.length > 0 &&
          html`<tr>
            <th scope="row">Later</th>
            <td>${later.map(({ total }) => money(total)).join(' + ')}</td>
          </tr>`
        }
      </tfoot>
    </table>
    <input type="hidden" name="${seenName}" value="${String(cart.due.total)}" />
  </div>`
}

function restHtml(order: ShownOrder): Html {
  const { block, extra, faults, card, cart } = order
  const { country, vatNumber, coupon, terms } = block
  // What costs nothing is not paid: a button that says so says something else then, unless somebody wrote it for that.
  const isGiven = cart !== null && cart.due.total === 0 && card === null
  const button = isGiven && /\b(pay|buy)\b/i.test(block.label) ? 'Get it' : block.label
  return html`${
      extra &&
      extra.closed === null &&
      html`<div class="more">
        ${block.extraWords && html`<p>${block.extraWords}</p>`}${tick(order, 'extra', `Yes, add ${extra.title} for ${extra.words}`, false)}
      </div>`
    }${country && field(order, { asks: 'country', id: 'country', label: 'Country', required: true, hint: '', fault: '' })}${
      vatNumber &&
      html`<div class="field">
        <label for="${block.id}-vat">VAT number <small>optional, for a business</small></label
        ><input
          type="text"
          id="${block.id}-vat"
          name="vatNumber"
          value="${order.typed.vatNumber ?? ''}"
          autocomplete="off"
          maxlength="20"
        />${fault(faults.vatNumber)}
      </div>`
    }${
      coupon &&
      html`<div class="field coupon">
        <label for="${block.id}-coupon">Coupon <small>optional</small></label
        ><span
          ><input
            type="text"
            id="${block.id}-coupon"
            name="coupon"
            value="${order.typed.coupon ?? ''}"
            autocomplete="off"
            maxlength="30"
          /><button type="submit" class="btn out" name="${doName}" value="update">Use it</button></span
        >${fault(faults.coupon)}
      </div>`
    }${summaryHtml(order)}${
      terms !== '' &&
      html`${tick(order, 'terms', terms, true)}${
        order.termsHref !== null &&
        html`<p class="small">
          <a href="${order.termsHref}" target="_blank" rel="noopener">Read the terms</a>
        </p>`
      }`
    }${
      card !== null &&
      html`<div class="card">
        <iframe src="${card}" title="Your card" data-card></iframe>${fault(faults.card)}
      </div>`
    }
    <div class="go">
      <button type="submit" class="btn" name="${doName}" value="pay" data-pay>${button}</button>
    </div>
    ${block.trust && !isGiven && html`<p class="small">${block.trust}</p>`}`
}

/** An order form as buyers see it: what they buy, who they are, and then the rest. */
export function orderHtml(order: ShownOrder): Html {
  const { part, notice, test, block } = order
  // Who can buy nothing is asked for nothing.
  if (order.choices.length === 0)
    return html`<div class="order"><p>Nothing here is on sale now. Come back later, or write to us.</p></div>`
  const first = part !== 'rest'
  return html`<form method="post" action="${order.action}" novalidate class="order" data-order>
    ${test && html`<p class="notice">This is a test: no money moves.</p>`}${
      notice !== null && html`<p class="notice" role="alert" tabindex="-1" autofocus>${notice}</p>`
    }
    <div class="away" aria-hidden="true">
      <button type="submit" tabindex="-1" name="${doName}" value="${part === 'buyer' ? 'on' : 'update'}">
        Update</button
      ><label>Leave this empty <input type="text" name="website" tabindex="-1" autocomplete="off" /></label>
    </div>
    ${choicesHtml(order)}${order.buyer !== null && html`<p class="known">For ${order.buyer}</p>`}${first && buyerHtml(order)}${
      part === 'buyer'
        ? html`<div class="go">
            <button type="submit" class="btn" name="${doName}" value="on">Go on</button>
          </div>`
        : restHtml(order)
    }<input type="hidden" name="form" value="${block.id}" /><input
      type="hidden"
      name="token"
      ${new Html(tokenMark)}
    />
  </form>`
}

/** The style of order forms. */
export const orderStyle = `form.order,div.order{background:var(--bg);border:1px solid var(--line);border-radius:var(--corner);padding:28px;max-width:560px}${fieldStyle}.away{position:absolute;left:-9999px}.go{display:flex}.go .btn{flex:1}.btn.out{background:none;color:var(--accent)}.offers{border:0;padding:0}.offer{display:grid;grid-template-columns:22px 1fr;gap:10px;padding:12px 0;border-top:1px solid var(--line)}.offer.one{display:block;padding-top:0;border:0;margin-bottom:18px}.offer input{width:18px;height:18px;margin:4px 0 0;accent-color:var(--accent)}.offer small,.sum small{display:block;font-weight:400}.sum table{width:100%;border-collapse:collapse;margin-bottom:18px}.sum th{text-align:left;font-weight:400}.sum td{text-align:right;vertical-align:top;font-variant-numeric:tabular-nums;white-space:nowrap}.sum th,.sum td{padding:8px 0;border-top:1px solid var(--line)}.sum tfoot :is(th,td){font-weight:700}.coupon span{display:flex;gap:8px}.coupon .btn{white-space:nowrap;padding:10px 18px}.small+.card{margin-top:18px}.card{margin-bottom:18px}.card iframe{display:block;width:100%;height:218px;border:0}.more{border:1px dashed var(--accent);border-radius:var(--corner);padding:16px;margin-bottom:18px}.more label.tick{margin:8px 0 0}.notice{border-left:4px solid var(--accent);padding:4px 0 4px 14px;margin:0 0 20px}.small{font-size:14px;margin-top:12px}`

/** One more offer: a yes with one click, and a no that is as easy. */
export const nextOfferHtml = (
  { id, label, decline }: Block<'nextOffer'>,
  { title, words, action, noHref, fault: refused }: ShownNextOffer,
): Html =>
  html`<form method="post" action="${action}" class="next">
    <p><b>${title}</b> ${words}</p>
    ${refused !== null && html`<p class="notice" role="alert">${refused}</p>`}<input
      type="hidden"
      name="form"
      value="${id}"
    /><input type="hidden" name="token" ${new Html(tokenMark)} />
    <div class="go"><button type="submit" class="btn" name="${doName}" value="yes">${label}</button></div>
    <p class="no">${noHref === null ? decline : html`<a href="${noHref}">${decline}</a>`}</p>
  </form>`

/** What was bought, and the ways to it. */
export function purchaseHtml({ lines, ways, total, invoiceHref }: ShownPurchase): Html {
  return html`<ul class="bought">
      ${lines.map(({ title, paid }) => html`<li><b>${title}</b> <span>${paid}</span></li>`)}
    </ul>
    ${ways.length > 0 && html`<p>${ways.map(({ label, href }) => html`<a class="btn" href="${href}">${label}</a> `)}</p>`}
    <p class="small">
      ${total === '' ? 'All of it comes by email too.' : `You paid ${total}. All of it comes by email too.`}${
        invoiceHref !== null && html` <a href="${invoiceHref}">Your invoice</a>`
      }
    </p>`
}
