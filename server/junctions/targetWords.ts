import type { Target } from '../../core/blocks/target.ts'
import type { Queries } from '../database/connect.ts'

const named = async (q: Queries, table: string, word: string, id: number): Promise<string> => {
  const row = await q.row<{ name: string }>(`select name from ${table} where id = $1`, [id])
  return row ? `the ${word} “${row.name}”` : `a ${word} that was deleted`
}

/** Where a target leads, in words. */
export async function targetWords(q: Queries, target: Target): Promise<string> {
  switch (target.to) {
    case 'nowhere':
      return 'nowhere'
    case 'nextStep':
      return 'the next step of the funnel'
    case 'page':
      return named(q, 'page', 'page', target.page)
    case 'file':
      return named(q, 'file', 'file', target.file)
    case 'popUp':
      return named(q, 'pop_up', 'pop-up', target.popUp)
    case 'quiz':
      return named(q, 'quiz', 'quiz', target.quiz)
    case 'junction':
      return named(q, 'junction', 'junction', target.junction)
    case 'link':
      return named(q, 'named_link', 'named link', target.link)
    case 'product':
      return named(q, 'product', 'product', target.product)
    case 'cart':
      return 'their cart'
    case 'web':
      return target.url
    case 'path':
      return target.path
  }
}
