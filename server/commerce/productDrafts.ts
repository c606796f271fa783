import type { ProductSurroundings } from '../../core/commerce/productFindings.ts'
import { findingsOfProduct } from '../../core/commerce/productFindings.ts'
import { describeProductChanges } from '../../core/commerce/describeProduct.ts'
import { productContent, type ProductContent } from '../../core/commerce/product.ts'
import { idsOf, loadKnownThings } from '../audience/describing/knownThings.ts'
import { draftsOf } from '../blocks/drafts.ts'
import type { Queries } from '../database/connect.ts'
import { getBusiness } from '../workspace/business.ts'
import { loadDeadlines } from './deadlines.ts'
import { getSelling } from './selling.ts'

const live = 'published_version is not null and archived_at is null'

/** What a product is checked against, as everything is now. */
export async function productSurroundings(q: Queries, at: Date): Promise<ProductSurroundings> {
  const { currency, tax } = await getSelling(q)
  return {
    ...(await loadKnownThings(q)),
    files: await idsOf(q, 'file'),
    livePages: await idsOf(q, `page where ${live}`),
    liveCourses: await idsOf(
      q,
      `course where exists (select from page where course_id = course.id and ${live})`,
    ),
    liveEmails: await idsOf(q, `email where ${live}`),
    pictures: await idsOf(q, 'picture'),
    onSale: await idsOf(q, `product where ${live}`),
    currency,
    tax,
    deadlines: new Map((await loadDeadlines(q)).map((each) => [each.name, each])),
    zone: (await getBusiness(q)).zone,
    now: at.getTime(),
  }
}

/** How products are drafted and published: buyers get what was published last. */
export const productDrafts = draftsOf<ProductContent>({
  table: 'product',
  word: 'product',
  shape: productContent,
  prepare: (content) => content,
  findings: async (q, id, content, at) => findingsOfProduct(id, content, await productSurroundings(q, at)),
  describeChanges: async (before, after, q) =>
    describeProductChanges(before, after, (await getSelling(q)).currency),
})
