/** What the marketer has said of a new funnel. */
export interface Wishes {
  /** What it is called: its things are named after it. */
  name: string
  path: string
  labels: readonly string[]
  currency: string | null
  /** A day of the business's calendar, of a starter that needs one. */
  opens: string | null
  /** IANA. */
  zone: string
}
