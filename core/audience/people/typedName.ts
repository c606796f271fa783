import { z } from 'zod'

const longest = 80

/**
 * What mailbox programs make a link of by themselves: an address, a scheme, `www.`, or words joined by a dot of which
 * the last could be a top-level domain (two letters or more, RFC 1034 §3.5 and RFC 5890 for other scripts). The
 * ideographic and full-width dots are read as dots too (UTS #46 §2.3).
 */
const linkLike = /@|:\/\/|\bwww\b|[\p{L}\p{N}-][.\u3002\uff0e\uff61]\p{L}{2,}/iu

/**
 * A name as a stranger may type it into a public form. It stands in the email that they cause to be sent, so it must
 * be a name and no message: at most 80 letters, no address, no web address, no markup, no line break.
 */
export const typedName = z
  .string()
  .trim()
  .refine((name) => Array.from(name).length <= longest, `Please shorten the name to ${longest} letters`)
  .regex(/^[^<>\p{Cc}\p{Zl}\p{Zp}]*$/u, 'Please write the name without < and >')
  .refine(
    (name) => !linkLike.test(name),
    'Please write a name, without an email or web address. After a full stop, leave a space',
  )
