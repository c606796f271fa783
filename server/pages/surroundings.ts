import { fieldKey } from '../../core/blocks/mergeText.ts'
import { readerValues } from '../../core/blocks/mergeValues.ts'
import { contrastsOf } from '../../core/pages/brand.ts'
import type { Surroundings } from '../../core/pages/findings.ts'
import type { Queries } from '../database/connect.ts'
import { loadSite, type Site } from './site.ts'

/** What the install says about the things that documents speak of. */
export async function surroundingsOf(q: Queries, at: Date, site?: Site): Promise<Surroundings> {
  const { pages, forms, popUps, junctions, quizzes, products, namedLinks, settings, mergeFields, brand } =
    site ?? (await loadSite(q))
  const all = [...pages.values()]
  return {
    livePages: new Set(all.filter(({ live }) => live).map(({ id }) => id)),
    pageNames: Object.fromEntries(all.map(({ id, name }) => [id, name])),
    liveForms: new Set(forms.keys()),
    namedLinks: new Set(namedLinks.keys()),
    liveJunctions: new Set(junctions.keys()),
    liveQuizzes: new Set(quizzes.keys()),
    products: new Map(
      [...products.values()].map(({ id, content }) => [id, new Set(content.prices.map((price) => price.id))]),
    ),
    livePopUps: new Set(popUps.map(({ id }) => id)),
    videoHosts: settings.videoHosts,
    mergeNames: new Set(readerValues(mergeFields, null).values.keys()),
    moments: new Map(
      mergeFields.details.flatMap((detail) =>
        detail.kind === 'moment'
          ? [detail.name, ...detail.formerNames].map((name) => [fieldKey(name), detail.at] as const)
          : [],
      ),
    ),
    pictureDetails: new Set(mergeFields.details.filter(({ kind }) => kind === 'picture').map(({ id }) => id)),
    now: at.getTime(),
    faint: contrastsOf(brand.colours)
      .filter(({ enough }) => !enough)
      .map(({ words, ratio }) => `${words} (${ratio.toFixed(1)})`),
  }
}
