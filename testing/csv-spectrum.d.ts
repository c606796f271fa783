declare module 'csv-spectrum' {
  /** Hands over files of CSV, each with its meaning as JSON. */
  export default function spectrum(
    done: (error: Error | null, cases: { name: string; csv: Buffer; json: Buffer }[]) => void,
  ): void
}
