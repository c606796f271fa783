import type { Field } from '../../core/audience/describing/field.ts'
import { consentsOf, fieldsOf, formContent, type FormContent } from '../../core/capture/form.ts'
import type { ShownForm } from '../../core/capture/shownForm.ts'
import type { Queries } from '../database/connect.ts'

/** A version of a form with all that taking it in needs. */
export interface PublishedForm extends ShownForm {
  name: string
  /** By which other sites know it. */
  key: string
  /** The wordings of its consents, by the field. */
  wordings: Readonly<Record<string, number>>
}

interface Row {
  id: number
  name: string
  key: string
  version: number
  content: FormContent
}

interface Wording {
  id: number
  form: number
  field: string
  words: string
}

const columns = 'form.id, form.name, form.key, number as version, content'

/** Puts to each version what else it needs: own fields and wordings. */
async function complete(q: Queries, rows: readonly Row[]): Promise<PublishedForm[]> {
  if (rows.length === 0) return []
  const fields = await q.rows<Field>('select id, name, kind, options from field where archived_at is null')
  const wordings = await q.rows<Wording>(
    'select id, form_id form, field, words from consent_wording where form_id = any($1) order by number',
    [rows.map(({ id }) => id)],
  )
  return rows.map((row) => {
    const content = formContent.parse(row.content)
    const asked = new Set(
      [...fieldsOf(content), ...content.actions].flatMap((part) => ('field' in part ? [part.field] : [])),
    )
    return {
      ...row,
      content,
      fields: fields.filter(({ id }) => asked.has(id)),
      wordings: Object.fromEntries(
        consentsOf(content).flatMap(({ id, label }) => {
          const found = wordings.find(
            (each) => each.form === row.id && each.field === id && each.words === label,
          )
          return found ? [[id, found.id]] : []
        }),
      ),
    }
  })
}

/** Every form that visitors can use, as it is published. */
export const loadForms = async (q: Queries): Promise<PublishedForm[]> =>
  complete(
    q,
    await q.rows<Row>(
      `select ${columns} from form join form_version on form_id = id and number = published_version
       where archived_at is null order by form.id`,
    ),
  )

/** A form as it was sent: in its own version, or as it is published where that is not known. */
export const formAsSent = async (
  q: Queries,
  form: PublishedForm | undefined,
  version: number,
): Promise<PublishedForm | undefined> =>
  !form || form.version === version || version === 0
    ? form
    : ((await formVersion(q, form.id, version)) ?? form)

/** A form in the version by which it was sent, published or not any more. */
export async function formVersion(
  q: Queries,
  form: number,
  version: number,
): Promise<PublishedForm | undefined> {
  const row = await q.row<Row>(
    `select ${columns} from form join form_version on form_id = id where form.id = $1 and number = $2`,
    [form, version],
  )
  return row && (await complete(q, [row]))[0]
}
