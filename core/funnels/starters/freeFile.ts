import type { Condition } from '../../audience/segments/condition.ts'
import { days, morning, opened, send } from '../../followups/usualSteps.ts'
import { orderPage } from './sellingParts.ts'
import type { FunnelStarter } from './starter.ts'
import type { Wishes } from './wishes.ts'
import {
  button,
  column,
  greeting,
  heading,
  nextOffer,
  promiseBeside,
  said,
  shortVideo,
  signUp,
  whatComesNext,
} from './words.ts'
import type { FunnelWriter } from './writer.ts'

const download = 'Download it'

const clicked = (email: number): Condition => ({
  kind: 'did',
  activity: 'emailClicked',
  details: { email },
  atLeast: 1,
})

/** The email that brings the file, and those to who did not open it, or opened it and did not fetch the file. */
function emails(to: FunnelWriter, name: string, filePage: number) {
  return {
    delivery: to.email({
      name: 'here is your file',
      subject: `Here is ${name}`,
      preheader: 'The link is inside, and what to do with it first.',
      purpose: 'transactional',
      blocks: (compose) => [
        heading(compose, name, 'Name the file as they know it.'),
        compose.text(greeting),
        said(
          compose,
          'What is in it, and the first thing to do with it. Two sentences.',
          'Here is what you asked for.',
        ),
        button(compose, download, { to: 'nowhere' }, 'Leads to the file.'),
        said(
          compose,
          'Where to write when something does not work.',
          'Does something not work? Just reply to this email.',
        ),
      ],
    }),
    notOpened: to.email({
      name: 'did you find it?',
      subject: 'Did it reach you?',
      preheader: `${name} is waiting for you.`,
      blocks: (compose) => [
        compose.text(greeting),
        said(
          compose,
          'No reproach. One sentence.',
          'The first email may have gone under, so here it is once more.',
        ),
        button(compose, `Open ${name}`.slice(0, 80), { to: 'page', page: filePage }),
        said(
          compose,
          'What it takes to begin: five minutes, one sheet of paper.',
          'Five minutes are enough to begin.',
        ),
      ],
    }),
    notFetched: to.email({
      name: 'one press away',
      subject: 'One press away',
      preheader: 'You opened the email; the file is behind the button.',
      blocks: (compose) => [
        compose.text(greeting),
        said(
          compose,
          'What stops people here, and the answer. Two sentences.',
          'You have seen the email, and the file is still behind its button.',
        ),
        button(compose, `Open ${name}`.slice(0, 80), { to: 'page', page: filePage }),
      ],
    }),
    invitation: to.email({
      name: 'the next thing',
      subject: `What comes after ${name}`,
      preheader: 'One more step, if you like.',
      blocks: (compose) => [
        compose.text(greeting),
        said(
          compose,
          'What they can do now, and what would help next. Three sentences.',
          'By now you have had a look at it. Here is what others did next.',
        ),
        button(
          compose,
          `Look at it again`,
          { to: 'page', page: filePage },
          'Change this to lead to your next thing.',
        ),
        said(
          compose,
          'A question that is easy to answer.',
          'What are you working on? Just reply: I read everything.',
        ),
      ],
    }),
  }
}

/** Something small to buy at once: under 10 for a download, under 20 for a short course (common practice). */
function smallOffer(to: FunnelWriter): number {
  const product = to.product('small offer', {
    title: `${to.file.funnel.name}: small offer`.slice(0, 120),
    bringsNothing: true,
    prices: [{ id: to.newId(), pays: { by: 'once', amount: 900 } }],
  })
  return orderPage(to, { product, name: 'the next step' })
}

/** Pages, form, emails and follow-up of a file that is given away for an address. */
function writeFreeFile(
  to: FunnelWriter,
  { name }: Wishes,
  { confirm, offer }: { confirm: boolean; offer: boolean },
): void {
  const filePage = to.reserve()
  const thanks = to.reserve()
  const offered = offer ? smallOffer(to) : thanks
  const tag = to.tag('')
  const [waitingTag, confirmedTag] = confirm ? [to.tag('waiting'), to.tag('confirmed')] : [null, null]
  const form = to.form('form', {
    button: 'Send it to me',
    actions: [{ does: 'addTag', tag }],
    after: offer
      ? {
          then: 'offer',
          title: `${name} is on its way`,
          words: 'Would you like the next step as well?',
          label: 'Yes, show me',
          target: { to: 'page', page: offered },
          decline: 'No, thank you',
        }
      : { then: 'go', target: { to: 'nextStep' } },
    ...(confirm && {
      confirm: {
        when: 'always' as const,
        waitingTag,
        confirmedTag,
        remind: true,
        next: { to: 'nextStep' as const },
        letter: {
          subject: `One press, and ${name} is yours`.slice(0, 150),
          words: 'Press the button, and the file comes to you.',
          button: 'Yes, send it to me',
        },
      },
    }),
  })
  const landing = to.page({
    name: 'landing page',
    purpose: 'landing',
    description: `Get ${name} by email, free of charge.`.slice(0, 300),
    sections: (compose) => [promiseBeside(compose, name, [signUp(compose, form)])],
  })
  to.page(
    {
      name: 'thank-you page',
      at: 'thanks',
      purpose: 'thankYou',
      title: 'Thank you',
      sections: (compose) => [
        whatComesNext(
          compose,
          "Thank you, {first name or 'dear reader'}",
          `Our email with ${name} is on its way to you.`,
        ),
        shortVideo(compose),
        nextOffer(compose, 'If you like this, you may like that.'),
      ],
    },
    thanks,
  )
  to.page(
    {
      name: 'file page',
      at: 'file',
      purpose: 'file',
      sections: (compose) => [
        column(compose, [
          heading(compose, `Here is ${name}`, 'Name the thing.'),
          button(compose, download, { to: 'nowhere' }, 'Leads to the file. It comes by email as well.'),
          said(
            compose,
            'How to use it: print it, pierce it, watch it with a needle at hand.',
            'It is in your mailbox, too.',
          ),
        ]),
      ],
    },
    filePage,
  )
  const { delivery, notOpened, notFetched, invitation } = emails(to, name, filePage)
  to.givesFile(download)
  to.station(landing)
  if (offer) to.station(offered)
  to.station(thanks)
  to.station(filePage)
  to.followup('follow-up', {
    startsWhen: [confirm ? { kind: 'addressConfirmed', form } : { kind: 'formSent', form }],
    steps: [
      send('deliver', delivery),
      {
        kind: 'waitUntil',
        id: 'fetched',
        when: clicked(delivery),
        atMost: { amount: 2, unit: 'days' },
        happened: { label: 'Fetched it', steps: [] },
        otherwise: {
          label: 'Not yet',
          steps: [
            {
              kind: 'branch',
              id: 'has-opened',
              arms: [
                {
                  label: 'Opened, not clicked',
                  when: opened(delivery),
                  steps: [send('one-press', notFetched)],
                },
              ],
              otherwise: { label: 'Did not open', steps: [send('remind', notOpened)] },
            },
          ],
        },
      },
      days('two-days', 2),
      morning('morning'),
      send('invite', invitation),
    ],
  })
}

const makes =
  'A landing page, a thank-you page, the file’s page, an email with the file, reminders to who did not open or click, and an invitation'

export const freeFile: FunnelStarter = {
  id: 'free-file',
  goal: 'list',
  name: 'A free file',
  words: `${makes}.`,
  write: (to, wishes) => {
    writeFreeFile(to, wishes, { confirm: false, offer: false })
  },
}

export const confirmedFile: FunnelStarter = {
  id: 'confirmed-file',
  goal: 'list',
  name: 'A free file, address confirmed',
  words: `${makes}; nobody is written to before they have confirmed their address.`,
  write: (to, wishes) => {
    writeFreeFile(to, wishes, { confirm: true, offer: false })
  },
}

export const fileThenOffer: FunnelStarter = {
  id: 'file-then-offer',
  goal: 'sell',
  name: 'A free file, then a small offer',
  words: `${makes}; once it is sent, a small offer stands where the form stood, with an order page of its own. Say in the product what buyers get.`,
  write: (to, wishes) => {
    writeFreeFile(to, wishes, { confirm: false, offer: true })
  },
}
