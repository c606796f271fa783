import { DateTime } from 'luxon'
import type { Block } from '../../blocks/block.ts'
import { Html, html } from '../../html.ts'
import { editable, linked, tokenMark, type PageBlock, type PageContext } from '../context.ts'
import type { LessonState } from '../lessons.ts'
import { centred, lineOf } from './words.ts'

export const button: PageBlock<Block<'button'>> = {
  html: ({ label, target, newWindow, look, align }, context) => {
    if (!label.trim() && !context.editing) return html``
    const className = look === 'filled' ? 'btn' : 'btn out'
    const options = { className, newWindow, edited: editable(context, 'label') }
    return html`<p${centred(align)}>${linked(context, target, html`${lineOf(label, context)}`, options)}</p>`
  },
  css: `.btn.out{background:none;color:var(--accent)}`,
}

interface Field {
  name: string
  label: string
  type: string
  autocomplete: string
  required: boolean
}

function fieldHtml(
  block: string,
  { name, label, type, autocomplete, required }: Field,
  { form }: PageContext,
): Html {
  const own = form.block === block
  const fault = own && form.faults[name]
  const value = own ? (form.values[name] ?? '') : ''
  return html`<label
    >${label}<input
      type="${type}"
      name="${name}"
      value="${value}"
      autocomplete="${autocomplete}"
      maxlength="254"
      ${
        required && new Html(' required')
      }${fault && html` aria-invalid="true" aria-describedby="${name}-fault"`}
    />${fault && html`<strong class="fault" id="${name}-fault">${fault}</strong>`}</label
  >`
}

const firstName: Field = {
  name: 'firstName',
  label: 'First name',
  type: 'text',
  autocomplete: 'given-name',
  required: false,
}
const address: Field = {
  name: 'address',
  label: 'Email address',
  type: 'email',
  autocomplete: 'email',
  required: true,
}

export const form: PageBlock<Block<'form'>> = {
  html: (block, context) => {
    const { form: state, formAction } = context
    const own = state.block === block.id
    const consentFault = own && state.faults.consent
    const hidden = Object.entries(state.values).filter(([name]) => name.startsWith('utm_'))
    // The browser's own checks stay off: ours speak the page's language and come back with what was typed.
    return html`<form method="post" action="${formAction}" novalidate>${
      own && state.notice && html`<p class="notice" role="alert" tabindex="-1" autofocus>${state.notice}</p>`
    }${block.askFirstName && fieldHtml(block.id, firstName, context)}${fieldHtml(block.id, address, context)}<label class="tick"><input type="checkbox" name="consent" value="yes" required${
      own && state.values.consent === 'yes' && new Html(' checked')
    }${consentFault && html` aria-invalid="true" aria-describedby="consent-fault"`}><span><span${editable(context, 'consentWording')}>${block.consentWording}</span>${
      consentFault && html`<strong class="fault" id="consent-fault">${consentFault}</strong>`
    }</span></label><div class="away" aria-hidden="true"><label>Leave this empty <input type="text" name="website" tabindex="-1" autocomplete="off"></label></div><input type="hidden" name="form" value="${block.id}"><input type="hidden" name="token" ${new Html(tokenMark)}>${hidden.map(
      ([name, value]) => html`<input type="hidden" name="${name}" value="${value}" />`,
    )}<button type="submit" class="btn"${editable(context, 'button')}>${block.button}</button>${
      (block.privacy || context.editing) &&
      html`<p class="small" ${editable(context, 'privacy')}>${block.privacy}</p>`
    }</form>`
  },
  css: `form{background:var(--bg);border:1px solid var(--line);border-radius:var(--corner);padding:28px;max-width:520px}label{display:block;font-weight:600;margin-bottom:18px}input[type=text],input[type=email]{display:block;width:100%;margin-top:6px;padding:12px;border:1px solid var(--text);border-radius:min(var(--corner),8px);background:var(--bg);color:inherit;font:inherit}label.tick{display:grid;grid-template-columns:22px 1fr;gap:10px;font-weight:400;font-size:15px;line-height:1.5}.tick input{width:18px;height:18px;margin:2px 0 0;accent-color:var(--accent)}form .btn{width:100%}.small{font-size:14px;margin-top:12px}.away{position:absolute;left:-9999px}.fault{display:block;color:#A3202B;font-size:15px;margin-top:6px}.notice{border-left:4px solid #A3202B;padding:4px 0 4px 14px;margin:0 0 20px}`,
  needs: ({ next }) =>
    next.to === 'web' && next.url.startsWith('http') ? { forms: [new URL(next.url).origin] } : {},
}

const momentOf = (iso: string, zone: string): string =>
  DateTime.fromISO(iso, { zone }).setLocale('en-GB').toFormat("cccc d LLLL yyyy 'at' HH:mm")

export const countdown: PageBlock<Block<'countdown'>> = {
  html: ({ until, words, after }, context) => {
    const label = html`<span${editable(context, 'words')}>${lineOf(words, context)}</span>`
    if (until === null)
      return context.editing ? html`<p class="count">${label} <b>no date yet</b></p>` : html``
    const over = DateTime.fromISO(until).toMillis() <= context.now
    if (over && !context.editing) return html`<p class="count">${lineOf(after, context)}</p>`
    const { zone } = context.business
    // Complete without a script: the date itself; with one, the time that is left.
    return html`<p class="count" data-until="${until}" data-after="${lineOf(after, context)}">
      ${label} <b><time datetime="${until}">${momentOf(until, zone)}</time></b> <small>(${zone})</small>
    </p>`
  },
  css: `.count{font-size:20px}.count b{font-variant-numeric:tabular-nums;color:var(--accent)}`,
  needs: ({ until }) => (until === null ? {} : { script: true }),
}

export const priceCard: PageBlock<Block<'priceCard'>> = {
  html: ({ name, price, points, label, note }, context) =>
    html`<div class="card">
      <p class="name" ${editable(context, 'name')}>${lineOf(name, context)}</p>
      <p class="price" ${editable(context, 'price')}>${price}</p>
      <ul class="ticks">
        ${points.map(
          (point, i) => html`<li${editable(context, `points.${i}`)}>${lineOf(point, context)}</li>`,
        )}
      </ul>
      ${(label || context.editing) && html`<p><span class="btn off" aria-disabled="true" role="link" ${editable(context, 'label')}>${label}</span></p>`}${
        (note || context.editing) && html`<p class="small" ${editable(context, 'note')}>${note}</p>`
      }
    </div>`,
  css: `.card{border:2px solid var(--accent);border-radius:var(--corner);padding:28px;background:var(--bg)}.card>*+*{margin-top:14px}.card .name{font:600 21px/1.3 var(--head)}.card .price{font:700 40px/1 var(--head)}.off{cursor:default}`,
}

export const socialLinks: PageBlock<Block<'socialLinks'>> = {
  html: ({ links, align }, context) =>
    html`<ul class="social${align === 'centre' && ' mid'}">
      ${links.map(({ name, url }) => html`<li>${linked(context, { to: 'web', url }, html`${name}`)}</li>`)}
    </ul>`,
  css: `.social{list-style:none;padding:0;display:flex;flex-wrap:wrap;gap:8px 24px}.social.mid{justify-content:center}`,
}

function lessonHtml(lesson: LessonState, context: PageContext): Html {
  switch (lesson.is) {
    case 'locked':
      return html`<li class="locked"><span>${lesson.title}</span> <small>${lesson.words}</small></li>`
    case 'open':
    case 'done':
      return html`<li class="${lesson.is}">
        ${linked(context, { to: 'page', page: lesson.page }, html`${lesson.title}`)}${
          lesson.is === 'done' && html` <small>done</small>`
        }
      </li>`
  }
}

export const lessonList: PageBlock<Block<'lessonList'>> = {
  html: ({ course, title }, context) => {
    const lessons = course === null ? [] : context.lessonsOf(course)
    if (lessons.length === 0) return context.editing ? html`<p class="nopic">no course chosen</p>` : html``
    return html`${title && html`<h3${editable(context, 'title')}>${lineOf(title, context)}</h3>`}
      <ol class="lessons">
        ${lessons.map((lesson) => lessonHtml(lesson, context))}
      </ol>`
  },
  css: `h3{font-size:21px;line-height:1.3}.lessons{padding:0;list-style:none;counter-reset:l;margin-top:12px}.lessons li{counter-increment:l;padding:12px 0 12px 44px;border-top:1px solid var(--line);position:relative}.lessons li::before{content:counter(l);position:absolute;left:6px;font-weight:700}.lessons small{display:block}.lessons .done::before{content:'✓'}`,
}

export const ownHtml: PageBlock<Block<'ownHtml'>> = {
  html: ({ markup }, context) => new Html(`<div class="own">${context.safeHtml(markup)}</div>`),
  css: '',
}

export const divider: PageBlock<Block<'divider'>> = {
  html: () => new Html('<hr>'),
  css: 'hr{border:0;border-top:1px solid var(--line);margin:8px 0}',
}

export const spacer: PageBlock<Block<'spacer'>> = {
  html: ({ size }) => html`<div class="gap-${size}"></div>`,
  css: '.gap-small{height:8px}.gap-medium{height:32px}.gap-large{height:72px}',
}
