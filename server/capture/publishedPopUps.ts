import { popUpContent, type PopUpContent } from '../../core/capture/popUp.ts'
import type { Queries } from '../database/connect.ts'

/** A pop-up as visitors find it. */
export interface PublishedPopUp {
  id: number
  name: string
  key: string
  version: number
  content: PopUpContent
}

/** Every pop-up that visitors can see, in the order in which they open. */
export async function loadPopUps(q: Queries): Promise<PublishedPopUp[]> {
  const rows = await q.rows<PublishedPopUp>(
    `select pop_up.id, name, key, number as version, content
     from pop_up join pop_up_version on pop_up_id = id and number = published_version
     where archived_at is null order by position, id`,
  )
  return rows.map((row) => ({ ...row, content: popUpContent.parse(row.content) }))
}
