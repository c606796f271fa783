import type { Surroundings } from '../../core/pages/findings.ts'
import type { Queries } from '../database/connect.ts'
import { loadSite } from './site.ts'

/** What the install says about the things that documents speak of. */
export async function surroundingsOf(q: Queries): Promise<Surroundings> {
  const { pages, forms, popUps, settings } = await loadSite(q)
  const all = [...pages.values()]
  return {
    livePages: new Set(all.filter(({ live }) => live).map(({ id }) => id)),
    pageNames: Object.fromEntries(all.map(({ id, name }) => [id, name])),
    liveForms: new Set(forms.keys()),
    livePopUps: new Set(popUps.map(({ id }) => id)),
    videoHosts: settings.videoHosts,
  }
}
