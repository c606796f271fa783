/**
 * Can a text be stored as it is? NUL is no character of PostgreSQL's text, and half of a surrogate pair none of
 * Unicode's (Unicode standard, D75): databases and other programs refuse it.
 */
export function isStorable(text: string): boolean {
  return !/\u0000|\p{Surrogate}/u.test(text)
}
