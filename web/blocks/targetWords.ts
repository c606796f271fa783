import type { SiteView } from '../../contract/pages.ts'
import type { Target } from '../../core/blocks/target.ts'

const nameIn = (things: readonly { id: number; name: string }[], id: number, word: string): string =>
  things.find((thing) => thing.id === id)?.name ?? `a ${word} that was deleted`

/** Where a target leads, by name. */
export function targetWords(site: SiteView, target: Target): string {
  switch (target.to) {
    case 'nowhere':
      return 'nowhere yet'
    case 'nextStep':
      return 'the next step'
    case 'page':
      return nameIn(site.pages, target.page, 'page')
    case 'file':
      return nameIn(site.files, target.file, 'file')
    case 'popUp':
      return nameIn(site.popUps, target.popUp, 'pop-up')
    case 'quiz':
      return nameIn(site.quizzes, target.quiz, 'quiz')
    case 'junction':
      return nameIn(site.junctions, target.junction, 'junction')
    case 'link':
      return nameIn(site.namedLinks, target.link, 'link')
    case 'product':
      return nameIn(site.products, target.product, 'product')
    case 'cart':
      return 'their cart'
    case 'web':
      return target.url.replace(/^https?:\/\//, '')
    case 'path':
      return target.path
  }
}
