/** Why messages did not go out, and what somebody can do about it. */
export interface Cause {
  title: string
  doing: string
  /** Sending it again may help; until something has changed it does not. */
  again: boolean
}

/** Words of a reason, and what they mean; the first that fits. RFC 3463 has the codes. */
const causes: readonly { says: RegExp; cause: Cause }[] = [
  {
    says: /\b5\.1\.[0-9]\b|no such (person|mailbox|user)/i,
    cause: {
      title: 'The address does not exist',
      doing: 'These people are marked as bounced. Correct the address of a person, then send again.',
      again: true,
    },
  },
  {
    says: /\b[45]\.2\.2\b|mailbox is full/i,
    cause: { title: 'The mailbox is full', doing: 'Send again in some days.', again: true },
  },
  {
    says: /does not answer|not taken for/i,
    cause: {
      title: 'The mail server did not take it',
      doing: 'Check that the mail server runs and takes our mail, then send again.',
      again: true,
    },
  },
  {
    says: /is a draft/,
    cause: {
      title: 'The email is a draft',
      doing: 'Publish it in the Library, then send again.',
      again: true,
    },
  },
  {
    says: /cannot be put together/,
    cause: {
      title: 'The email could not be put together',
      doing: 'The reason names what is wrong: mend the email or the person, then send again.',
      again: true,
    },
  },
  {
    says: /stopped the broadcast/,
    cause: { title: 'The broadcast was stopped', doing: 'Nothing has to be done.', again: false },
  },
  {
    says: /cancelled it/,
    cause: { title: 'Cancelled by hand', doing: 'Nothing has to be done.', again: true },
  },
  {
    says: /takes no address with letters beyond/,
    cause: {
      title: 'The mail server knows no such addresses',
      doing: 'Use a mail server that offers SMTPUTF8, or ask the person for another address.',
      again: true,
    },
  },
  {
    says: /^Skipped:/,
    cause: {
      title: 'There was no room for it by the sending rules',
      doing: 'Allow more marketing a day or a week under Sending, then send again.',
      again: true,
    },
  },
  {
    says: /unsubscribed|did not agree|paused|never been asked|complained|not confirmed|bounced|may not/i,
    cause: {
      title: 'The person does not want it, or was never asked',
      doing: 'Nothing has to be done: their wish was kept.',
      again: false,
    },
  },
]

const unknown: Cause = {
  title: 'Other reasons',
  doing: 'Read the reason of each. When its cause is mended, send again.',
  again: true,
}

/** What a reason means. */
export const causeOf = (reason: string): Cause =>
  causes.find(({ says }) => says.test(reason))?.cause ?? unknown
