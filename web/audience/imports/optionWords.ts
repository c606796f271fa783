import type { ImportChoices } from '../../../contract/audience/imports.ts'

export const permissionWords: Record<ImportChoices['permission'], string> = {
  agreed: 'They agreed to receive it',
  notAsked: 'Nobody asked them: no marketing email',
  refused: 'They refused: never email them',
}

export const existingWords: Record<ImportChoices['existing'], string> = {
  update: 'Update from the file',
  fillBlanks: 'Fill in blanks only',
  skip: 'Leave unchanged',
}
export const existingItems = Object.entries(existingWords).map(([value, title]) => ({ value, title }))
