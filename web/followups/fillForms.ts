/** Who fills in a form. */
export interface FilledBy {
  firstName: string
  lastName: string
  address: string
}

/** What a field asks for, by what it tells browsers that fill in forms by themselves (HTML, autofill field names). */
function answerOf(field: HTMLInputElement | HTMLTextAreaElement, person: FilledBy): string {
  const asks = field.autocomplete.split(' ').at(-1)
  if (asks === 'email' || field.type === 'email') return person.address
  if (asks === 'given-name') return person.firstName || 'Ada'
  if (asks === 'family-name') return person.lastName || 'Rehearsal'
  if (asks === 'tel' || field.type === 'tel') return '+353 1 555 0100'
  if (field.type === 'number' || field.inputMode === 'decimal') return '1'
  if (field.type === 'date') return '2000-01-01'
  return 'Something made up'
}

/** Everything that somebody has to answer and has not: typed, chosen or ticked. */
function fill(form: HTMLFormElement, person: FilledBy): void {
  for (const field of form.querySelectorAll<HTMLInputElement | HTMLTextAreaElement>(
    'input:not([type=hidden], [type=checkbox], [type=radio], [type=submit]), textarea',
  )) {
    // What no person sees is there for robots.
    const seen = field.tabIndex >= 0 && field.closest('[hidden], [aria-hidden=true]') === null
    if (seen && field.value === '') field.value = answerOf(field, person)
  }
  const boxes = [...form.querySelectorAll<HTMLInputElement>('input[type=checkbox]')]
  // One that stands alone says yes to something; of several one chooses.
  for (const box of boxes)
    if (box.required || boxes.filter(({ name }) => name === box.name).length === 1) box.checked = true
  for (const list of form.querySelectorAll('select'))
    if (list.value === '') list.value = [...list.options].find(({ value }) => value !== '')?.value ?? ''
}

/** Fills in the forms of a page as somebody would; sending them is left to who looks on. @returns how many there are */
export function fillForms(page: Document, person: FilledBy): number {
  const forms = [...page.querySelectorAll<HTMLFormElement>('form[method=post]')]
  for (const form of forms) fill(form, person)
  return forms.length
}
