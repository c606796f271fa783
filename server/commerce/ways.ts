import type { OrderLine } from './orderLines.ts'

/** A way to something that was bought. */
export interface Way {
  label: string
  to: { page: number } | { file: number } | { course: number } | { url: string }
}

/** The ways to what these lines bring, each once. */
export function waysOf(lines: readonly Pick<OrderLine, 'title' | 'brings'>[]): Way[] {
  const ways = new Map<string, Way>()
  for (const { title, brings } of lines)
    for (const each of brings) {
      if (each.does === 'openPage' && each.page !== null)
        ways.set(`page ${each.page}`, { label: `Open ${title}`, to: { page: each.page } })
      if (each.does === 'openCourse' && each.course !== null)
        ways.set(`course ${each.course}`, { label: `Open ${title}`, to: { course: each.course } })
      if (each.does === 'sendFile' && each.file !== null)
        ways.set(`file ${each.file}`, { label: `Download ${title}`, to: { file: each.file } })
      if (each.does === 'openAddress' && each.url !== '')
        ways.set(each.url, { label: `Go to ${title}`, to: { url: each.url } })
    }
  return [...ways.values()]
}
