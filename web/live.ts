import { onScopeDispose } from 'vue'
import type { LiveSubject } from '../contract/live.ts'

type Listener = (subject: LiveSubject) => void

const listeners = new Set<Listener>()
let stream: EventSource | null = null

/** Listens for changes from now on; the browser reconnects by itself. */
export function openLive(): void {
  stream ??= new EventSource('/api/live')
  stream.addEventListener('change', (event: MessageEvent<string>) => {
    for (const listener of listeners) listener(event.data as LiveSubject)
  })
}

export function closeLive(): void {
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
