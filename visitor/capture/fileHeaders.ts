import type { Response } from 'express'

/**
 * Marks a response as a file to be saved: never shown inside the site, never kept by a proxy, never listed by a
 * search engine.
 */
export function sendAsAttachment(response: Response, name: string, mediaType: string): void {
  response
    .set({ 'cache-control': 'private, no-store', 'x-robots-tag': 'noindex' })
    .attachment(name)
    // After the name, whose ending would set a type of its own.
    .type(mediaType)
}
