import { z } from 'zod'
import { referenceId } from '../blocks/reference.ts'

/** The name of a host on the internet (RFC 1123 §2.1), in lower case. */
export const hostName = z
  .string()
  .trim()
  .toLowerCase()
  .regex(
    /^(?=.{4,253}$)[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?(\.[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)+$/,
    'Use a name such as pages.example.com',
  )

/** What holds for the whole public site of the business. */
export const siteSettings = z.strictObject({
  /** Names besides the install's own under which the pages are found. */
  domains: z.array(hostName).max(10).default([]),
  favicon: referenceId.nullable().default(null),
  sharingPicture: referenceId.nullable().default(null),
  videoHosts: z.array(hostName).max(20).default([]),
  /** Code for the head of every page; scripts are taken out. */
  headCode: z.string().max(5_000).default(''),
  /** Addresses of scripts that count visitors, loaded after consent only. */
  trackingScripts: z
    .array(z.url({ protocol: /^https$/, error: 'Use an address that begins with https://' }).max(500))
    .max(5)
    .default([]),
  consentWords: z
    .string()
    .max(500)
    .default('May we count your visits with the help of others? The page works either way.'),
  /** May search engines list anything at all? */
  listed: z.boolean().default(true),
  /** Count visits, without cookies for strangers. */
  countVisits: z.boolean().default(true),
  /** The page that is shown in the place of one that is not there. */
  notFoundPage: referenceId.nullable().default(null),
  privacyPage: referenceId.nullable().default(null),
})
export type SiteSettings = z.infer<typeof siteSettings>

export const noSettings: SiteSettings = siteSettings.parse({})
