import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import * as api from '../../contract/api.ts'
import type { SiteView } from '../../contract/pages.ts'
import type { Target } from '../../core/blocks/target.ts'
import { safeHtml } from '../../core/blocks/safeHtml.ts'
import type { PageContext } from '../../core/pages/context.ts'
import { call } from '../api.ts'
import { sampleNextOffer, sampleOrder } from './sampleOrder.ts'

/** What documents are drawn with and refer to: brand, pages, pictures, files, tags, courses. */
export const useSite = defineStore('site', () => {
  const site = shallowRef<SiteView | null>(null)
  async function reload(): Promise<void> {
    site.value = await call(api.site.view)
  }
  const pictures = computed(() => new Map(site.value?.pictures.map((picture) => [picture.id, picture])))
  return { site, pictures, reload }
})

/** Where a target leads, as far as the editor must know: whether it leads anywhere. */
function hrefOf(site: SiteView, target: Target): string | null {
  switch (target.to) {
    case 'web':
      return target.url
    case 'path':
      return target.path
    case 'page': {
      const page = site.pages.find(({ id }) => id === target.page)
      return page ? `/p/${page.path}` : null
    }
    case 'file':
    case 'popUp':
    case 'link':
    case 'nextStep':
    case 'junction':
    case 'quiz':
    case 'product':
    case 'cart':
      return '#'
    case 'nowhere':
      return null
  }
}

/** What the sheet is drawn with: the functions are those of the public site, links lead nowhere. */
export function sheetContext(site: SiteView, now: number): PageContext {
  const pictures = new Map(site.pictures.map((picture) => [picture.id, picture]))
  const forms = new Map(site.forms.map((form) => [form.id, { ...form, fields: site.fields }]))
  return {
    brand: site.brand,
    business: site.business,
    hrefOf: (target) => hrefOf(site, target),
    originsOf: () => [],
    pictureOf: (id) => pictures.get(id) ?? null,
    detailPicture: (detail) => site.details.find(({ id }) => id === detail)?.picture ?? null,
    mediaOf: () => null,
    titleOf: (page) => site.pages.find(({ id }) => id === page)?.name ?? null,
    lessonsOf: (course) =>
      (site.courses.find(({ id }) => id === course)?.lessons ?? [])
        .filter(({ live }) => live)
        .map(({ page, title }) => ({ page, title, is: 'open' })),
    // The sheet shows fields as they are written.
    reader: { values: new Map(), zone: null },
    known: null,
    formOf: (id) => forms.get(id) ?? null,
    quizOf: (id) => {
      const quiz = site.quizzes.find((each) => each.id === id)
      return quiz ? { name: quiz.name, frame: '' } : null
    },
    orderOf: (block) => sampleOrder(block, site),
    nextOfferOf: (block) => sampleNextOffer(block, site),
    purchase: null,
    deadlineOf: () => null,
    shows: () => true,
    videoHosts: site.settings.videoHosts,
    safeHtml,
    form: { block: null, values: {}, faults: {} },
    formAction: '#',
    now,
    editing: true,
  }
}
