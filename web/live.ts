import { onScopeDispose } from 'vue'
import type { LiveSubject } from '../contract/live.ts'

type Listener = (subject: LiveSubject) => void

const listeners = new Set<Listener>()
let stream: EventSource | null = null

/** So long after a refusal it is looked again whether there are live changes to be had. */
const lookAgainAfter = 3_000
let again: ReturnType<typeof setTimeout> | undefined

/**
 * Listens for changes from now on. The browser reconnects by itself when the connection breaks, but not when the
 * stream is refused: then it is asked whether somebody is still signed in.
 * @param isSignedIn gives false when nobody is any more; fails when the server is away
 */
export function openLive(isSignedIn: () => Promise<boolean>): void {
  if (stream) return
  const opened = new EventSource('/api/live')
  stream = opened
  opened.addEventListener('change', (event: MessageEvent<string>) => {
    for (const listener of listeners) listener(event.data as LiveSubject)
  })
  const lookAgain = (): void => {
    again = setTimeout(() => {
      if (stream !== opened) return
      isSignedIn().then(
        (signedIn) => {
          closeLive()
          if (signedIn) openLive(isSignedIn)
        },
        () => lookAgain(),
      )
    }, lookAgainAfter)
  }
  opened.addEventListener('error', () => {
    if (opened.readyState === EventSource.CLOSED) lookAgain()
  })
}

export function closeLive(): void {
  clearTimeout(again)
  stream?.close()
  stream = null
}

/** Calls back when something of these subjects changed, as long as the component lives. */
export function onChange(subjects: readonly LiveSubject[], callback: () => void): void {
  const listener: Listener = (subject) => {
    if (subjects.includes(subject)) callback()
  }
  listeners.add(listener)
  onScopeDispose(() => listeners.delete(listener))
}
