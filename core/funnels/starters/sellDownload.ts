import { days, send } from '../../followups/usualSteps.ts'
import { orderPage, salesSections, thanksSections, writeLeftCarts } from './sellingParts.ts'
import type { FunnelStarter } from './starter.ts'
import { button, greeting, said } from './words.ts'

const download = 'Download it'

export const sellDownload: FunnelStarter = {
  id: 'sell-download',
  goal: 'sell',
  name: 'A download',
  words:
    'A product, a sales page, an order page, a thank-you page; the file by email at once, the newsletter five days later, and three emails to who left the order page.',
  write(to, { name }) {
    const tag = to.tag('buyers')
    const topic = to.topic('Newsletter')
    const file = to.email({
      name: 'here it is',
      subject: `Here is ${name}`,
      preheader: 'The link is inside, and what to do with it first.',
      purpose: 'transactional',
      blocks: (compose) => [
        compose.text(greeting),
        said(compose, 'The first thing to do with it. Two sentences.', 'Thank you. Here is what you bought.'),
        button(compose, download, { to: 'nowhere' }, 'Leads to the file.'),
        said(
          compose,
          'Where to write when something does not work.',
          'Does something not work? Just reply to this email.',
        ),
      ],
    })
    const followup = to.followup('buyers', {
      steps: [send('file', file), days('five-days', 5), { kind: 'joinTopic', id: 'newsletter', topic }],
    })
    to.belongs(followup)
    const product = to.product('', {
      title: name,
      brings: [
        { does: 'startFollowup', followup },
        { does: 'addTag', tag },
      ],
      prices: [{ id: to.newId(), pays: { by: 'once', amount: 700 } }],
    })
    to.station(
      to.page({
        name: 'sales page',
        purpose: 'sales',
        description: `${name}: what is in it, and what it costs.`.slice(0, 300),
        sections: (compose) => salesSections(compose, name, { to: 'nextStep' }),
      }),
    )
    to.station(orderPage(to, { product, name }))
    to.station(
      to.page({
        name: 'thank-you page',
        at: 'thanks',
        purpose: 'thankYou',
        title: 'Thank you',
        sections: thanksSections,
      }),
    )
    to.givesFile(download)
    writeLeftCarts(to, product)
  },
}
