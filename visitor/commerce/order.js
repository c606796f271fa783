// Runs on pages where something is bought: the sum follows what is chosen, and the card goes with the button.
for (const form of document.querySelectorAll('form[data-order]')) {
  const card = () => form.querySelector('iframe[data-card]')
  const pay = form.querySelector('[data-pay]')
  let asking = null

  // The same form, sent in the background: what comes back stands in the place of the sum.
  const update = async () => {
    asking?.abort()
    asking = new AbortController()
    const body = new URLSearchParams(new FormData(form))
    body.set('do', 'update')
    try {
      const answer = await fetch(form.action, { method: 'POST', body, signal: asking.signal })
      const page = new DOMParser().parseFromString(await answer.text(), 'text/html')
      const fresh = [...page.querySelectorAll('form[data-order]')].find(
        (each) => each.elements.form?.value === form.elements.form?.value,
      )
      if (!fresh) return
      // Whether a card is needed at all may have changed: then the page is made anew.
      if (!fresh.querySelector('iframe[data-card]') !== !card()) return form.requestSubmit(first)
      const [old, sum] = [form.querySelector('.sum'), fresh.querySelector('.sum')]
      if (old && sum) old.replaceWith(document.adoptNode(sum))
    } catch (error) {
      if (error.name !== 'AbortError') form.requestSubmit(first)
    }
  }
  const first = form.querySelector('.away button')
  form.addEventListener('change', (event) => {
    if (pay && ['offer', 'extra', 'country', 'vatNumber', 'amount'].includes(event.target.name)) void update()
  })

  let ready = false
  let asked = 0
  const stop = () => {
    clearInterval(asked)
    pay.removeAttribute('aria-busy')
  }
  const take = () => card().contentWindow.postMessage({ card: 'take' }, new URL(card().src).origin)
  form.addEventListener('submit', (event) => {
    if (event.submitter !== pay || !card() || ready) return
    event.preventDefault()
    pay.setAttribute('aria-busy', 'true')
    clearInterval(asked)
    take()
    // The fields may not have been ready to hear it.
    asked = setInterval(take, 700)
  })
  addEventListener('message', ({ data, source }) => {
    if (!card() || source !== card().contentWindow || !data?.card) return
    stop()
    if (data.card !== 'ready') return card().focus()
    ready = true
    form.requestSubmit(pay)
    // Whoever presses again pays once all the same; going back must find the button as it was.
    ready = false
  })
}
