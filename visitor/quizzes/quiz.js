// Runs on the pages of quizzes: the next question takes the place of the last one without loading a page. Without it
// every question is a page by itself.
const framed = parent !== window

function tellHeight() {
  parent.postMessage({ nurtel: { height: document.documentElement.offsetHeight } }, '*')
}
if (framed) new ResizeObserver(tellHeight).observe(document.documentElement)

const isOfQuizzes = (url) => url.origin === location.origin && url.pathname.startsWith('/q/')

/** What is no page of a quiz must not stay in its frame. */
function leave(href) {
  const url = new URL(href, location.href)
  if (framed && !isOfQuizzes(url)) open(url, '_top')
  else location.assign(url)
}

async function show(answer, push) {
  if (answer.headers.get('content-type')?.includes('json')) return leave((await answer.json()).go)
  const next = new DOMParser().parseFromString(await answer.text(), 'text/html')
  const style = next.querySelector('style')?.textContent
  // A result may have parts of other kinds, with a style and scripts of their own.
  if (!next.querySelector('main [data-quiz]') || style !== document.querySelector('style').textContent)
    return leave(answer.url)
  const main = next.querySelector('main')
  document.querySelector('main').replaceWith(main)
  document.title = next.title
  if (push) history.pushState({}, '', answer.url)
  ready()
  const heading = main.querySelector('.notice, .fault, legend, h1')
  heading?.setAttribute('tabindex', '-1')
  heading?.focus({ preventScroll: true })
  main.scrollIntoView({ block: 'nearest' })
}

let waiting = false
/** @param otherwise what the browser does by itself when we cannot be asked */
async function go(url, options, otherwise, push = true) {
  if (waiting) return
  waiting = true
  try {
    const signal = AbortSignal.timeout(15000)
    await show(await fetch(url, { ...options, signal, headers: { 'x-quiz-script': 'yes' } }), push)
  } catch {
    otherwise()
  }
  waiting = false
}

/** Nothing is lost when we are away: what was chosen and written stays. */
function sayUnreached(form) {
  const notice = form.querySelector('.unreached') ?? document.createElement('p')
  notice.className = 'fault unreached'
  notice.setAttribute('role', 'alert')
  notice.textContent = 'We could not be reached. What you answered is still here: please try again.'
  form.prepend(notice)
}

/** Shows the buttons that need a script. */
function ready() {
  for (const button of document.querySelectorAll('[data-by]')) {
    const { share, title } = button.closest('[data-share]').dataset
    const device = button.dataset.by === 'device'
    if (device && !navigator.share) continue
    button.hidden = false
    button.onclick = async () => {
      if (device) return void navigator.share({ title, url: share }).catch(() => {})
      await navigator.clipboard.writeText(share)
      button.textContent = 'Copied'
    }
  }
}

document.addEventListener('submit', (event) => {
  const { target: form, submitter } = event
  if (!form.closest('[data-quiz]')) return
  event.preventDefault()
  const body = new URLSearchParams(new FormData(form, submitter))
  go(form.action, { method: 'POST', body }, () => sayUnreached(form))
})

document.addEventListener('click', (event) => {
  const link = event.target.closest('[data-quiz] a[href]')
  if (!link || event.ctrlKey || event.metaKey || event.shiftKey || link.target) return
  if (isOfQuizzes(link)) {
    event.preventDefault()
    go(link.href, {}, () => location.assign(link.href))
  } else if (framed && link.protocol.startsWith('http')) link.target = '_top'
})

// One of several answers is chosen and done with; by keys one still looks through them.
let pressed = false
document.addEventListener('pointerdown', (event) => {
  pressed = Boolean(event.target.closest('.choice'))
})
document.addEventListener('keydown', () => {
  pressed = false
})
document.addEventListener('change', ({ target }) => {
  if (pressed && target.type === 'radio' && target.closest('.ask'))
    setTimeout(() => target.form.requestSubmit(), 220)
})

addEventListener('popstate', () => go(location.href, {}, () => location.reload(), false))
ready()
