import { post } from './route.ts'

/**
 * People whose step could not be worked out. By itself and apart from the other routes of follow-ups, since Today asks
 * for nothing else of them and would bring every shape of a program with it.
 */
export const setAside = {
  retry: post('/followups/:id/retry', {}),
} as const
