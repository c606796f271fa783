import { createTransport } from 'nodemailer'
import { inboxMessages } from '../contract/email.ts'
import { startDemo } from '../e2e/demo.ts'
import { postForm, tokenOf } from '../testing/visitor.ts'
import { eventually } from '../testing/waiting.ts'
import { quantile, report, round } from './report.ts'

const times = 20

/** Milliseconds until a message to this address lies in the stand-in mail server's inbox. */
async function untilInbox(address: string, begin: () => Promise<unknown>): Promise<number> {
  const inbox = `http://127.0.0.1:${process.env.NURTEL_STANDINS_PORT}/messages?to=${encodeURIComponent(address)}`
  const from = performance.now()
  await begin()
  await eventually(async () => inboxMessages.parse(await (await fetch(inbox)).json()).length > 0)
  return performance.now() - from
}

/**
 * From the form that is posted to the mail in the test inbox. The yardstick is the same mail server taking one
 * message straight over SMTP: what no application could beat.
 */
export async function slice(): Promise<void> {
  const demo = await startDemo({ NURTEL_PUBLIC_RATE: '1000' })
  const smtp = createTransport({
    host: '127.0.0.1',
    port: Number(process.env.NURTEL_SMTP_PORT),
    ignoreTLS: true,
  })
  try {
    const ours: number[] = []
    const straight: number[] = []
    for (let i = 0; i < times; i += 1) {
      const token = await tokenOf(demo.url)
      ours.push(
        await untilInbox(`form${i}@bench.test`, () =>
          postForm(demo.url, { address: `form${i}@bench.test`, token }),
        ),
      )
      straight.push(
        await untilInbox(`smtp${i}@bench.test`, () =>
          smtp.sendMail({ from: 'a@bench.test', to: `smtp${i}@bench.test`, subject: 'x', text: 'x' }),
        ),
      )
    }
    const figures = {
      form_to_inbox_ms: round(quantile(ours, 0.5)),
      smtp_to_inbox_ms: round(quantile(straight, 0.5)),
    }
    report(
      'slice',
      [
        {
          what: `form sent to mail in the test inbox, median of ${times}`,
          ours: `${figures.form_to_inbox_ms} ms`,
          yardstick: `one message by SMTP alone: ${figures.smtp_to_inbox_ms} ms`,
        },
        { what: 'the slowest of them', ours: `${round(quantile(ours, 1))} ms` },
      ],
      figures,
    )
  } finally {
    smtp.close()
    await demo.stop()
  }
}
