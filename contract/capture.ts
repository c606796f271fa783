import { z } from 'zod'
import { source } from '../core/audience/people/activity.ts'
import { parseAddress } from '../core/audience/people/address.ts'
import { typedName } from '../core/audience/people/typedName.ts'

/** What a visitor's form posts. `website` is the field that people do not see: only robots fill it. */
export const formSubmission = z.object({
  firstName: typedName.default(''),
  address: z.string().transform((typed, context) => {
    const address = parseAddress(typed)
    if (address) return address
    context.issues.push({
      code: 'custom',
      input: typed,
      message: typed.trim()
        ? 'Please check the address: it should look like name@example.com'
        : 'Please write your email address',
    })
    return z.NEVER
  }),
  consent: z.literal('yes', 'Please tick the box, so that we may write to you'),
  /** The block, where a page has several forms. */
  form: z.string().max(40).default(''),
  token: z.string().max(500),
  website: z.string().max(2000).default(''),
  source: source,
})
export type FormSubmission = z.infer<typeof formSubmission>
