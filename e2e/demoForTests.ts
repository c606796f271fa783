import { startDemo } from './demo.ts'

/** Brings a fresh demo up before the browser tests, and down after them. */
export default async function setUp(): Promise<() => Promise<void>> {
  // All tests come from one address: the limit that guards strangers is tested elsewhere.
  const demo = await startDemo({ NURTEL_PUBLIC_RATE: '1000' })
  return () => demo.stop()
}
