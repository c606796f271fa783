import { DateTime } from 'luxon'
import type { Block } from '../../blocks/block.ts'
import type { Target } from '../../blocks/target.ts'
import { Html, html } from '../../html.ts'
import { formHtml, formStyle } from '../../capture/formHtml.ts'
import type { ShownForm } from '../../capture/shownForm.ts'
import { editable, linked, type PageBlock, type PageContext, writtenEntries } from '../context.ts'
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

export const form: PageBlock<Block<'form'>> = {
  html: ({ id, form: chosen }, context) => {
    const shown = chosen === null ? null : context.formOf(chosen)
    if (shown) return formHtml(id, shown, context)
    return context.editing ? html`<p class="nopic">no form chosen</p>` : html``
  },
  css: formStyle,
  needs: ({ form: chosen }, context) => {
    const shown = chosen === null ? null : context.formOf(chosen)
    return shown ? { script: true, forms: originsOf(shown, context) } : {}
  },
}

/** Where a form may lead on to, on other sites. */
function originsOf({ content: { after, confirm } }: ShownForm, context: PageContext): string[] {
  const targets = [...(after.then === 'go' ? [after.target] : []), confirm.next]
  return targets.flatMap(context.originsOf)
}

export const quiz: PageBlock<Block<'quiz'>> = {
  html: ({ quiz: chosen }, context) => {
    const shown = chosen === null ? null : context.quizOf(chosen)
    if (context.editing)
      return shown
        ? html`<p class="nopic">the quiz “${shown.name}”</p>`
        : html`<p class="nopic">no quiz chosen</p>`
    return shown
      ? html`<iframe class="quiz" src="${shown.frame}" title="${shown.name}" loading="lazy"></iframe>`
      : html``
  },
  css: `iframe.quiz{display:block;width:100%;height:560px;border:0}`,
  needs: ({ quiz: chosen }, context) =>
    chosen !== null && context.quizOf(chosen) ? { script: true, frames: ["'self'"] } : {},
}

const momentOf = (iso: string, zone: string): string =>
  DateTime.fromISO(iso, { zone }).setLocale('en-GB').toFormat("cccc d LLLL yyyy 'at' HH:mm")

export const countdown: PageBlock<Block<'countdown'>> = {
  html: ({ until: date, deadline, words, after }, context) => {
    const own = deadline === null ? null : context.deadlineOf(deadline)
    const until = deadline === null ? date : (own?.until ?? null)
    const label = html`<span${editable(context, 'words')}>${lineOf(words, context)}</span>`
    if (until === null)
      return context.editing
        ? html`<p class="count">
            ${label} <b>${deadline === null ? 'no date yet' : `each one’s own: ${deadline}`}</b>
          </p>`
        : html``
    const over = own?.over ?? DateTime.fromISO(until).toMillis() <= context.now
    if (over && !context.editing) return html`<p class="count">${lineOf(after, context)}</p>`
    const { zone } = context.business
    // Complete without a script: the date itself; with one, the time that is left.
    return html`<p class="count" data-until="${until}" data-after="${lineOf(after, context)}">
      ${label} <b><time datetime="${until}">${momentOf(until, zone)}</time></b> <small>(${zone})</small>
    </p>`
  },
  css: `.count{font-size:20px}.count b{font-variant-numeric:tabular-nums;color:var(--accent)}`,
  needs: ({ until, deadline }) => (until === null && deadline === null ? {} : { script: true }),
}

/** The button of a price card: as long as it leads nowhere it cannot be pressed. */
function priceButton(label: string, target: Target, context: PageContext): Html {
  const edited = editable(context, 'label')
  return context.hrefOf(target) === null
    ? html`<p><span class="btn off" aria-disabled="true" role="link" ${edited}>${label}</span></p>`
    : html`<p>${linked(context, target, html`${label}`, { className: 'btn', edited })}</p>`
}

export const priceCard: PageBlock<Block<'priceCard'>> = {
  html: ({ name, price, points, label, target, note }, context) =>
    html`<div class="card">
      <p class="name" ${editable(context, 'name')}>${lineOf(name, context)}</p>
      <p class="price" ${editable(context, 'price')}>${price}</p>
      <ul class="ticks">
        ${writtenEntries(points, context, (point) => point).map(
          (point, i) => html`<li${editable(context, `points.${i}`)}>${lineOf(point, context)}</li>`,
        )}
      </ul>
      ${(label || context.editing) && priceButton(label, target, context)}${
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
