// Shows forms and pop-ups in trees of their own: on our pages, and on sites of others that have a line of it.
;(() => {
  const script = document.currentScript
  if (!script || script.dataset.ran !== undefined) return
  const { origin } = new URL(script.src)
  const own = origin === location.origin
  const { form: formKey, popUps, rules: ownRules } = script.dataset
  const before = document.querySelector(`script[src^="${origin}/"][data-ran]`)
  // The same pop-ups twice would be there twice.
  if (popUps !== undefined && document.querySelector(`script[src^="${origin}/"][data-pop-ups][data-ran]`))
    return
  script.dataset.ran = ''

  // Pages may allow markup from named policies only.
  try {
    script.policy =
      before?.policy ?? window.trustedTypes?.createPolicy('nurtel', { createHTML: (markup) => markup })
  } catch {
    return
  }
  const markup = (text) => script.policy?.createHTML(text) ?? text

  const ask = (path, init) =>
    fetch(origin + path, {
      credentials: own ? 'same-origin' : 'omit',
      signal: AbortSignal.timeout(15000),
      ...init,
    })
  const count = (key, form, event) =>
    navigator.sendBeacon?.(
      `${origin}/forms/count`,
      new URLSearchParams({ key, form, event, at: location.href }),
    )

  async function load(key) {
    try {
      const query = new URLSearchParams(location.search)
      query.set('at', location.origin + location.pathname)
      const answer = await ask(`/forms/show/${key}?${query}`)
      return answer.status === 200 ? await answer.json() : null
    } catch {
      // Our server is away: the page is as it would be without us.
      return null
    }
  }

  const faces = new Set()
  function addFaces(wanted) {
    if (own) return
    for (const { family, path, range } of wanted) {
      if (faces.has(path)) continue
      faces.add(path)
      const face = new FontFace(family, `url(${origin}${path})`, {
        weight: '100 900',
        unicodeRange: range,
        display: 'swap',
      })
      document.fonts.add(face)
    }
  }

  /** Puts what was loaded into an element, where its forms are sent without leaving the page. */
  function mount(host, key, { html, style, faces: wanted }, on) {
    const root = host.attachShadow({ mode: 'open' })
    const sheet = new CSSStyleSheet()
    sheet.replaceSync(style)
    root.adoptedStyleSheets = [sheet]
    addFaces(wanted)
    root.innerHTML = markup(html)
    // A quiz in its frame tells how high it is.
    addEventListener('message', ({ data, source }) => {
      for (const frame of root.querySelectorAll('iframe.quiz'))
        if (frame.contentWindow === source && data?.nurtel) frame.style.height = `${data.nurtel.height}px`
    })
    const begun = new Set()
    root.addEventListener('input', ({ target }) => {
      const id = target.form?.dataset.form
      if (!id || begun.has(id)) return
      begun.add(id)
      count(key, id, 'begun')
    })
    root.addEventListener('click', (event) => {
      if (!event.target.closest('[data-close]')) return
      event.preventDefault()
      on.close()
    })
    root.addEventListener('submit', async (event) => {
      event.preventDefault()
      const { target: form, submitter } = event
      if (form.dataset.busy) return
      form.dataset.busy = 'yes'
      const body = new URLSearchParams(new FormData(form))
      if (submitter?.name) body.set(submitter.name, submitter.value)
      const action = form.getAttribute('action')
      try {
        const sent = await ask(action.startsWith(origin) ? action.slice(origin.length) : action, {
          method: 'POST',
          body,
          headers: { accept: 'application/json' },
        })
        const answer = await sent.json()
        if (answer.done) on.sent()
        if (answer.go) return void location.assign(answer.go)
        const parts = root.querySelector('.parts')
        parts.innerHTML = markup(answer.html)
        parts.querySelector('[autofocus]')?.focus()
      } catch {
        delete form.dataset.busy
        let notice = form.querySelector('.notice')
        if (!notice) form.prepend((notice = document.createElement('p')))
        notice.className = 'notice'
        notice.setAttribute('role', 'alert')
        notice.textContent = 'We could not be reached. What you wrote is still here: please try again.'
      }
    })
    return root
  }

  async function showForm(key) {
    const answer = await load(key)
    if (!answer) return
    const host = document.createElement('div')
    script.after(host)
    mount(host, key, answer, { close: () => host.remove(), sent: () => undefined })
  }

  // What somebody closed or sent is remembered here, and nowhere else.
  const memory = {
    read() {
      try {
        return { closed: {}, sent: {}, visits: 0, ...JSON.parse(localStorage.getItem('nurtel-pop-ups')) }
      } catch {
        return { closed: {}, sent: {}, visits: 0 }
      }
    },
    write(change) {
      try {
        const known = memory.read()
        change(known)
        localStorage.setItem('nurtel-pop-ups', JSON.stringify(known))
      } catch {
        // Without storage a pop-up may come again.
      }
    },
  }

  let open = null
  async function openPopUp(key) {
    const answer = await load(key)
    if (!answer) return false
    open?.close()
    const host = document.createElement('div')
    document.body.append(host)
    const focused = document.activeElement
    const root = mount(host, key, answer, {
      close: () => dialog.close(),
      sent: () => memory.write((known) => (known.sent[key] = true)),
    })
    const dialog = root.querySelector('dialog')
    open = dialog
    const modal = answer.shape === 'centre'
    if (modal) dialog.showModal()
    else dialog.show()
    if (!modal && focused instanceof HTMLElement) focused.focus({ preventScroll: true })
    const escape = (event) => event.key === 'Escape' && dialog.close()
    document.addEventListener('keydown', escape)
    dialog.addEventListener('click', ({ target }) => modal && target === dialog && dialog.close())
    dialog.addEventListener('close', () => {
      document.removeEventListener('keydown', escape)
      const within = root.activeElement
      host.remove()
      if (open === dialog) open = null
      if (within && focused instanceof HTMLElement) focused.focus({ preventScroll: true })
      memory.write((known) => (known.closed[key] = Date.now()))
    })
    return true
  }

  const device = () =>
    matchMedia('(max-width: 720px)').matches
      ? 'phone'
      : matchMedia('(max-width: 1100px) and (pointer: coarse)').matches
        ? 'tablet'
        : 'computer'

  function sourceNow() {
    const given = new URLSearchParams(location.search).get('utm_source')
    try {
      if (given) sessionStorage.setItem('nurtel-source', given)
      return given ?? sessionStorage.getItem('nurtel-source')
    } catch {
      return given
    }
  }

  const matches = (pattern) => {
    const escaped = pattern.split('*').map((part) => part.replace(/[.+?^${}()|[\]\\]/g, '\\$&'))
    const expression = new RegExp(`^${escaped.join('.*')}$`)
    return expression.test(location.pathname) || expression.test(location.origin + location.pathname)
  }

  /** Lets pop-ups open when they are due: one a page, the first in their order of those that are due together. */
  function watch(rules) {
    let visits = 1
    if (rules.some(({ fromVisit }) => fromVisit > 1))
      try {
        if (!sessionStorage.getItem('nurtel-visit')) memory.write((known) => (known.visits += 1))
        sessionStorage.setItem('nurtel-visit', 'yes')
        visits = memory.read().visits
      } catch {
        // Without storage every visit is the first.
      }
    const { closed, sent } = memory.read()
    const [here, source] = [device(), sourceNow()]
    const may = rules.filter(
      (rule) =>
        visits >= rule.fromVisit &&
        (rule.pages.length === 0 || rule.pages.some(matches)) &&
        !rule.notPages.some(matches) &&
        (rule.devices.length === 0 || rule.devices.includes(here)) &&
        (rule.sources.length === 0 || rule.sources.includes(source)) &&
        !sent[rule.key] &&
        !(Date.now() - closed[rule.key] < rule.againAfterDays * 86400000),
    )
    let over = false
    const due = new Set()
    const isDue = (rule) => {
      if (over || due.has(rule)) return
      due.add(rule)
      if (due.size > 1) return
      setTimeout(async () => {
        for (const each of may.filter((one) => due.has(one)))
          if (!open && !over && (await openPopUp(each.key))) over = true
        due.clear()
      }, 50)
    }
    for (const rule of may) {
      if (rule.afterSeconds !== null) setTimeout(() => isDue(rule), rule.afterSeconds * 1000)
      if (rule.afterScrolling !== null) {
        const scrolled = () => {
          const { scrollHeight, clientHeight } = document.documentElement
          const share = (scrollY + clientHeight) / Math.max(1, scrollHeight)
          if (share * 100 < rule.afterScrolling || scrollY === 0) return
          removeEventListener('scroll', scrolled)
          isDue(rule)
        }
        addEventListener('scroll', scrolled, { passive: true })
      }
      if (rule.whenLeaving)
        document.documentElement.addEventListener('mouseleave', ({ clientY }) => clientY <= 0 && isDue(rule))
    }
  }

  if (formKey) void showForm(formKey)
  const elsewhere = []
  const rules = ownRules ? JSON.parse(ownRules) : popUps === undefined ? [] : elsewhere
  watch(rules)
  if (own || popUps !== undefined)
    document.addEventListener('click', (event) => {
      const link = event.target instanceof Element ? event.target.closest('a[href*="/forms/frame/"]') : null
      if (!link || link.origin !== origin || event.ctrlKey || event.metaKey || event.shiftKey) return
      event.preventDefault()
      const key = link.pathname.split('/').at(-1)
      // Where it cannot be shown here, it is shown on a page of its own.
      void openPopUp(key).then((shown) => shown || location.assign(link.href))
    })
})()
