import { z } from 'zod'

/** The public path of a thing of the Library that has an address of its own, after `/j/` or `/q/`. */
export const publicPath = z
  .string()
  .trim()
  .toLowerCase()
  .regex(/^[a-z0-9]+(-[a-z0-9]+)*$/, 'Use letters, digits and hyphens, such as what-next')
  .max(80)

/** Labels to sort things of the Library by. */
export const labels = z.array(z.string().trim().min(1).max(40)).max(12)
