import { html, Html, type HtmlValue } from '../html.ts'
import { pictureHtml } from '../pages/blocks/pictureHtml.ts'
import { withBreaks, type PageContext } from '../pages/context.ts'
import { answersFor, longestAnswer, mostOf } from './asking.ts'
import type { QuizAnswer, QuizContent, QuizQuestion, QuizResult, ShareButton } from './quiz.ts'
import type { Given } from './scoring.ts'

/** The name under which what is chosen or typed is posted. */
export const answerName = 'answer'
/** The name under which it is posted which question that is: a number would mean another one once some are skipped. */
export const questionName = 'question'

/** One question as somebody meets it. */
export interface ShownQuestion {
  question: QuizQuestion
  given: Given
  /** The order of answers is this person's own. */
  seed: string
  /** Which one it is of how many they will be asked. */
  place: number
  of: number
  action: string
  /** The question before it, or the cover. */
  back: string | null
  /** Why what was answered is not taken. */
  fault: string | null
}

const picture = (context: PageContext, id: number | null, sizes: string): HtmlValue =>
  id !== null && pictureHtml(context, id, '', sizes)

function choice(answer: QuizAnswer, shown: ShownQuestion, context: PageContext): Html {
  const { question, given } = shown
  const several = question.asks === 'several' && mostOf(question) > 1
  const value = given[question.id]
  const isChosen = typeof value !== 'string' && value?.includes(answer.id)
  return html`<label class="choice${answer.picture !== null && ' pictured'}"
    ><input
      type="${several ? 'checkbox' : 'radio'}"
      name="${answerName}"
      value="${answer.id}"
      ${isChosen && new Html(' checked')}
    />${picture(context, answer.picture, '280px')}<span>${answer.words}</span></label
  >`
}

function typed({ question, given, fault }: ShownQuestion): Html {
  const value = given[question.id]
  const text = typeof value === 'string' ? value : ''
  const described = ['help', fault !== null && 'fault'].filter(Boolean).join(' ')
  const common = html`id="typed" name="${answerName}" aria-labelledby="asked"
  aria-describedby="${described}"${fault !== null && new Html(' aria-invalid="true"')}`
  return question.asks === 'number'
    ? html`<input type="text" inputmode="decimal" ${common} value="${text}" maxlength="30" />`
    : html`<textarea rows="3" ${common} maxlength="${longestAnswer}">${text}</textarea>`
}

const ends = (question: QuizQuestion): HtmlValue =>
  question.asks === 'scale' &&
  (question.low !== '' || question.high !== '') &&
  html`<p class="ends"><span>${question.low}</span><span>${question.high}</span></p>`

/** One question as a form of its own: complete without a script. */
export function questionHtml(shown: ShownQuestion, context: PageContext): Html {
  const { question, place, of, action, back, fault } = shown
  const answers = answersFor(question, shown.seed)
  const isTyped = question.asks === 'text' || question.asks === 'number'
  const most = mostOf(question)
  const help = question.help || (question.asks === 'several' && most > 1 ? `Choose up to ${most}.` : '')
  const pictured = answers.some((answer) => answer.picture !== null)
  return html`<form class="ask" method="post" action="${action}" novalidate>
    <p class="way" role="status">Question ${place} of ${of}</p>
    <progress max="${of}" value="${place - 1}" aria-hidden="true"></progress>
    <fieldset${help !== '' && html` aria-describedby="help"`}>
      <legend id="asked" tabindex="-1">${question.words}</legend>
      ${picture(context, question.picture, '600px')}${help !== '' && html`<p class="help" id="help">${help}</p>`}${
        fault !== null && html`<p class="fault" id="fault" role="alert">${fault}</p>`
      }${
        isTyped
          ? typed(shown)
          : html`<div class="choices ${question.asks}${pictured && ' pictures'}">
              ${answers.map((answer) => choice(answer, shown, context))}
            </div>`
      }${ends(question)}
    </fieldset>
    <input type="hidden" name="${questionName}" value="${question.id}" />
    <p class="go">
      <button type="submit" class="btn">${place === of ? 'Finish' : 'Next'}</button>${
        back !== null && html`<a class="back" href="${back}">Back</a>`
      }
    </p>
  </form>`
}

/** The cover. @param begin where the first question is */
export function coverHtml(content: QuizContent, begin: string, context: PageContext): Html {
  const { cover } = content
  return html`<div class="cover">
    ${picture(context, cover?.picture ?? null, '600px')}
    <h1 tabindex="-1">${content.title}</h1>
    ${cover?.words && html`<p>${withBreaks(cover.words)}</p>`}
    <p class="go"><a class="btn" href="${begin}">${cover?.button || 'Begin'}</a></p>
  </div>`
}

/** What asks for the address: the form with why it is worth it. @param skip where one goes who gives none */
export const addressHtml = (words: string, form: Html, skip: string | null): Html =>
  html`<div class="address">
    ${words !== '' && html`<p class="why">${withBreaks(words)}</p>`}${form}${
      skip !== null && html`<p><a href="${skip}">Go on without</a></p>`
    }
  </div>`

const buttonWords: Record<ShareButton, string> = {
  copy: 'Copy the link',
  email: 'Send it by email',
  device: 'Share it',
}

/** How a result is passed on: a link to a page that says nothing of who got it. */
export function shareHtml({ share, title }: QuizContent, result: QuizResult, address: string): HtmlValue {
  if (share.buttons.length === 0) return false
  const named = result.sharing.title || `${title}: ${result.name}`
  const mail = `mailto:?subject=${encodeURIComponent(named)}&body=${encodeURIComponent(address)}`
  return html`<div class="share" data-share="${address}" data-title="${named}">
    <p>Show it to somebody: <a href="${address}">${address}</a></p>
    <p class="go">
      ${share.buttons.map((button) =>
        button === 'email'
          ? html`<a class="btn out" href="${mail}">${buttonWords.email}</a>`
          : html`<button type="button" class="btn out" data-by="${button}" hidden>
              ${buttonWords[button]}
            </button>`,
      )}
    </p>
  </div>`
}

/** How many got each result. @param shares of 1, by the result's id */
export const sharesHtml = (
  content: QuizContent,
  own: string,
  shares: Readonly<Record<string, number>>,
): Html =>
  html`<section class="shares">
    <div class="in">
      <h2>What others got</h2>
      <ul>
        ${content.results.map(
          ({ id, name }) =>
            html`<li${id === own && html` class="own"`}>
              <span>${name}</span> <meter min="0" max="1" value="${(shares[id] ?? 0).toFixed(3)}"></meter>
              <b>${Math.round((shares[id] ?? 0) * 100)} %</b>
            </li>`,
        )}
      </ul>
    </div>
  </section>`

/** What others see of a result whose address they got. @param begin where the quiz begins */
export function sharedResultHtml(
  content: QuizContent,
  result: QuizResult,
  begin: string,
  context: PageContext,
): Html {
  const { title, words, picture: own } = result.sharing
  return html`<div class="cover">
    ${picture(context, own ?? content.cover?.picture ?? null, '600px')}
    <h1>${title || `${content.title}: ${result.name}`}</h1>
    ${words !== '' && html`<p>${withBreaks(words)}</p>`}
    <p class="go"><a class="btn" href="${begin}">Take the quiz yourself</a></p>
  </div>`
}

/** The style of quizzes. */
export const quizStyle = `.ask,.cover,.address{max-width:640px;margin:0 auto;padding:32px 24px 44px}form.ask{border:0;background:none;max-width:688px}.way{color:color-mix(in srgb,var(--text) 75%,var(--bg));font-size:15px}progress{display:block;width:100%;height:6px;margin:8px 0 24px;accent-color:var(--accent);appearance:none;border:0;background:var(--line)}progress::-webkit-progress-bar{background:var(--line)}progress::-webkit-progress-value{background:var(--accent)}progress::-moz-progress-bar{background:var(--accent)}.ask fieldset{border:0;padding:0;margin:0;min-width:0}.ask legend{font:700 27px/1.25 var(--head);padding:0;margin-bottom:14px;text-wrap:balance}.ask legend:focus,.cover h1:focus{outline:0}.ask .help{margin-bottom:14px}.ask fieldset>picture,.cover picture{margin-bottom:18px}.choices{display:grid;gap:10px}.choices.scale{grid-template-columns:repeat(auto-fit,minmax(52px,1fr))}.choices.pictures{grid-template-columns:repeat(auto-fit,minmax(180px,1fr))}.choice{display:flex;gap:12px;align-items:center;padding:13px 16px;border:1px solid var(--line);border-radius:var(--corner);cursor:pointer;background:var(--bg)}.choice.pictured{flex-direction:column;align-items:stretch}.choice:has(:checked){border-color:var(--accent);box-shadow:inset 0 0 0 1px var(--accent);background:var(--tint)}.choice:focus-within{outline:3px solid var(--accent);outline-offset:2px}.choice input{width:20px;height:20px;margin:0;flex:none;accent-color:var(--accent)}.choice input:focus-visible{outline:0}.choices.scale .choice{flex-direction:column;gap:6px;padding:12px 6px;text-align:center}.ends{display:flex;justify-content:space-between;gap:20px;font-size:15px;margin-top:6px}.ask textarea,.ask input[type=text]{width:100%;padding:12px;border:1px solid var(--text);border-radius:min(var(--corner),8px);background:var(--bg);color:inherit;font:inherit}.ask .fault{color:#A3202B;font-weight:600;margin-bottom:12px}.ask .go,.cover .go,.share .go{display:flex;flex-wrap:wrap;flex-direction:row;gap:14px 22px;align-items:center;margin-top:24px}.address{display:grid;gap:18px}.address .why{font-size:19px}.cover h1{font-size:clamp(30px,5vw,44px);line-height:1.15;margin-bottom:14px}.share{max-width:calc(var(--width) + 48px);margin:0 auto;padding:24px}.shares ul{list-style:none;padding:0;display:grid;gap:8px;max-width:520px;margin-top:14px}.shares li{display:grid;grid-template-columns:1fr 160px 56px;gap:14px;align-items:center}.shares .own{font-weight:700}.shares meter{width:100%}.shares b{text-align:right;font-variant-numeric:tabular-nums}`
