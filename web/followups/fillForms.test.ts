import { expect, it } from 'vitest'
import { fillForms } from './fillForms.ts'

const ada = { firstName: 'Ada', lastName: 'Finch', address: 'ada@rehearsal.example' }

function pageOf(markup: string): Document {
  document.body.innerHTML = markup
  return document
}
const valueOf = (name: string): string | undefined =>
  document.querySelector<HTMLInputElement | HTMLSelectElement>(`[name=${name}]`)?.value

it('fills in what somebody would, keeps what is there, and leaves the trap for robots alone', () => {
  const page = pageOf(`<form method="post">
    <input type="hidden" name="version" value="3">
    <input name="firstname" autocomplete="given-name" value="Bram">
    <input type="email" name="address" autocomplete="email">
    <input name="phone" type="tel" autocomplete="tel">
    <input name="size" inputmode="decimal">
    <select name="country"><option value="">Choose</option><option value="IE">Ireland</option></select>
    <label><input type="checkbox" name="consent" value="yes"></label>
    <label><input type="checkbox" name="many" value="a"></label><label><input type="checkbox" name="many" value="b"></label>
    <div aria-hidden="true"><input name="website" tabindex="-1"></div>
    <textarea name="message"></textarea>
  </form>`)
  expect(fillForms(page, ada)).toBe(1)
  expect(valueOf('firstname')).toBe('Bram')
  expect(valueOf('address')).toBe('ada@rehearsal.example')
  expect(valueOf('country')).toBe('IE')
  expect(valueOf('size')).toBe('1')
  expect(valueOf('website')).toBe('')
  expect(valueOf('message')).not.toBe('')
  const ticked = [...document.querySelectorAll<HTMLInputElement>('[type=checkbox]')].map(
    ({ checked }) => checked,
  )
  expect(ticked).toEqual([true, false, false])
})

it('says when there is no form', () => {
  expect(fillForms(pageOf('<p>Nothing to send</p><form method="get"></form>'), ada)).toBe(0)
})
