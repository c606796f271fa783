import type { Target } from '../blocks/target.ts'
import { documentLinks } from '../blocks/walk.ts'
import { soldBy, tracksOf, type CheckedPage, type CheckedSorter, type CheckedStation } from './checkedLine.ts'

/** Where everything on a page leads that is pressed or sent. */
export const leadsFrom = (page: CheckedPage): Target[] =>
  [
    ...documentLinks(page.content.document).map(({ target }) => target),
    ...page.afterOrder,
    ...page.forms.flatMap(({ content: { after, confirm } }) => [
      ...(after.then === 'message' ? [] : [after.target]),
      ...(confirm.when === 'never' ? [] : [confirm.next]),
    ]),
  ].filter(({ to }) => to !== 'nowhere')

export const isSameCourse = (page: CheckedPage, other: CheckedPage | null | undefined): boolean =>
  page.course !== null && page.course === other?.course

export const leadsTo = (target: Target, page: CheckedPage): boolean =>
  (target.to === 'product' && soldBy(page).has(target.product)) ||
  (target.to === 'page' && target.page === page.id) ||
  (target.to === 'path' && target.path.split(/[?#]/)[0] === `/p/${page.path}`)

const leadsToSorter = (target: Target, { kind, id }: CheckedSorter): boolean =>
  (target.to === 'quiz' && kind === 'quiz' && target.quiz === id) ||
  (target.to === 'junction' && kind === 'junction' && target.junction === id)

/** Can anybody come from one of the stations before to this one, or by an email that begins there? */
export function isReached(line: readonly CheckedStation[], place: number): boolean {
  const here = line[place]
  return line.slice(0, place).some((station, i) => {
    if (station.page === null) return true
    return tracksOf(station).some((page) => {
      const leads = leadsFrom(page)
      if (leads.some(({ to }) => to === 'nextStep') && i === place - 1) return true
      if (here?.kind === 'outside') return leads.some(({ to }) => to === 'web')
      const sorter = here?.sorter
      if (sorter)
        return [...leads, ...page.followups.flatMap((each) => each.leads)].some((each) =>
          leadsToSorter(each, sorter),
        )
      if (!here?.page) return true
      const target = here.page
      if (isSameCourse(page, target)) return true
      return [...leads, ...page.followups.flatMap((each) => each.leads)].some((each) => leadsTo(each, target))
    })
  })
}
