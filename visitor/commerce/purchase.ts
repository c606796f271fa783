import type { Target } from '../../core/blocks/target.ts'
import { moneyWords } from '../../core/commerce/money.ts'
import type { ShownPurchase } from '../../core/commerce/shownOrder.ts'
import { downloadUrl } from '../../server/capture/downloads.ts'
import { paidWords } from '../../server/commerce/orderLines.ts'
import { orderToken } from '../../server/commerce/orderLinks.ts'
import type { PaidOrder } from '../../server/commerce/paidOrders.ts'
import type { Reader } from '../../server/pages/readers.ts'
import type { Site } from '../../server/pages/site.ts'
import type { Platform } from '../../server/platform.ts'
import { hrefFor } from '../pages/pageContext.ts'

/** Who looks at what was bought, and where pages begin. */
interface Looking {
  reader: Reader
  mark: string | null
  base: string
}

/** Where a course begins: its first lesson that is live. */
function firstLesson(site: Site, course: number, hrefOf: (target: Target) => string | null): string | null {
  const [first] = site.courses.get(course) ?? []
  return first === undefined ? null : hrefOf({ to: 'page', page: first.page })
}

/** What somebody has bought, with the ways to it: a file is handed out in nobody's name, where anybody may have typed the address. */
export function shownPurchase(
  platform: Platform,
  site: Site,
  { id, firstName, currency, total, lines, ways, invoice, contact, trusted }: PaidOrder,
  looking: Looking,
): ShownPurchase {
  const hrefOf = hrefFor(platform, site, looking)
  const isTheirs = contact !== null && (trusted || looking.reader.contact === contact.id)
  return {
    firstName,
    lines: lines.map((line) => ({
      title: line.title,
      paid: paidWords(line, { total, currency }),
    })),
    ways: ways.flatMap(({ label, to }) => {
      const href =
        'page' in to
          ? hrefOf({ to: 'page', page: to.page })
          : 'course' in to
            ? firstLesson(site, to.course, hrefOf)
            : 'file' in to
              ? downloadUrl(platform, to.file, isTheirs ? contact.id : null)
              : to.url
      return href === null ? [] : [{ label, href }]
    }),
    total: total > 0 ? moneyWords({ amount: total, currency }) : '',
    invoiceHref: invoice === null ? null : `/order/${orderToken(platform, id)}/invoice/${invoice}`,
  }
}
