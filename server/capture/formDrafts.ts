import type { FindingView } from '../../contract/drafts.ts'
import { describeFormChanges } from '../../core/capture/describeForm.ts'
import { consentsOf, formContent, type FormContent } from '../../core/capture/form.ts'
import { findingsOfForm, type FormSurroundings } from '../../core/capture/formFindings.ts'
import { idsOf, loadKnownThings } from '../audience/describing/knownThings.ts'
import { draftsOf } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'

/** What the install says about the things that forms speak of. */
export const loadFormSurroundings = async (q: Queries): Promise<FormSurroundings> => ({
  ...(await loadKnownThings(q)),
  files: await idsOf(q, 'file'),
  livePages: await idsOf(q, 'page where published_version is not null and archived_at is null'),
  liveJunctions: await idsOf(q, 'junction where published_version is not null and archived_at is null'),
})

const findings = async (q: Queries, _id: number, content: FormContent): Promise<FindingView[]> =>
  findingsOfForm(content, await loadFormSurroundings(q))

/** Other words in the place of a consent are another wording: each is kept, so that who agreed to which can be told. */
async function keepWordings(q: Queries, form: number, content: FormContent, at: Date): Promise<void> {
  const consents = consentsOf(content)
  await q.rows(
    `insert into consent_wording (form_id, field, number, name, words, created_at)
     select $1, field, coalesce((select max(number) from consent_wording where form_id = $1 and field = t.field), 0) + 1,
       (select name from form where id = $1), words, $4
     from unnest($2::text[], $3::text[]) t (field, words)
     where not exists (select from consent_wording where form_id = $1 and field = t.field and words = t.words)`,
    [form, consents.map(({ id }) => id), consents.map(({ label }) => label), at],
  )
}

/** How forms are drafted and published. */
export const formDrafts = draftsOf<FormContent>({
  table: 'form',
  word: 'form',
  shape: formContent,
  prepare: (content) => content,
  findings,
  describeChanges: describeFormChanges,
  published: (q, id, { content }, { at }) => keepWordings(q, id, content, at),
})
