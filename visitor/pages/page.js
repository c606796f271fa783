// Runs on public pages that count down, show videos of others, have forms, or ask for consent. Pages are complete without it.
for (const place of document.querySelectorAll('[data-until]')) {
  const end = Date.parse(place.dataset.until)
  const shown = place.querySelector('b')
  const two = (n) => String(n).padStart(2, '0')
  const show = () => {
    const left = Math.floor((end - Date.now()) / 1000)
    if (left < 0) {
      place.textContent = place.dataset.after
      return clearInterval(ticking)
    }
    const days = Math.floor(left / 86400)
    const clock = [Math.floor(left / 3600) % 24, Math.floor(left / 60) % 60, left % 60].map(two).join(':')
    shown.textContent = (days ? days + (days === 1 ? ' day ' : ' days ') : '') + clock
  }
  const ticking = setInterval(show, 1000)
  show()
}

for (const link of document.querySelectorAll('a[data-frame]'))
  link.addEventListener('click', (event) => {
    event.preventDefault()
    const frame = document.createElement('iframe')
    frame.src = link.dataset.frame
    frame.title = link.textContent
    frame.allow = 'fullscreen'
    link.parentElement.replaceChildren(frame)
    frame.focus()
  })

for (const form of document.querySelectorAll('form[data-form]'))
  form.addEventListener(
    'input',
    () =>
      navigator.sendBeacon(
        '/forms/count',
        new URLSearchParams({ form: form.dataset.form, event: 'begun', at: location.href }),
      ),
    { once: true },
  )

for (const link of document.querySelectorAll('.done [data-close]'))
  link.addEventListener('click', (event) => {
    event.preventDefault()
    link.closest('.done').remove()
  })

const bar = document.getElementById('consent')
if (bar) {
  const track = () => {
    for (const src of bar.dataset.scripts.split(' ')) {
      const script = document.createElement('script')
      script.src = src
      document.head.append(script)
    }
  }
  const said = /(?:^|; )consent=(yes|no)/.exec(document.cookie)?.[1]
  if (said === 'yes') track()
  if (!said) bar.hidden = false
  bar.addEventListener('click', (event) => {
    const answer = event.target.dataset.consent
    if (!answer) return
    document.cookie = `consent=${answer}; path=/; max-age=15552000; samesite=lax`
    bar.hidden = true
    if (answer === 'yes') track()
  })
}

// A quiz in its frame tells how high it is.
addEventListener('message', ({ data, source }) => {
  for (const frame of document.querySelectorAll('iframe.quiz'))
    if (frame.contentWindow === source && data?.nurtel) frame.style.height = data.nurtel.height + 'px'
})
