import type { Log } from '@zinc-referee/venue'
import { dim } from './output.ts'

/** A log for people: warnings and errors of a venue as lines on stderr, without what only operators look for. */
export function plainLog(): Log {
  const line = (kind: string) => (fields: object, what?: string) => {
    const about = Object.entries(fields)
      .filter(([, value]) => typeof value !== 'object')
      .map(([name, value]) => `${name} ${value}`)
    process.stderr.write(`${dim(kind)}   ${what ?? ''}   ${about.join(', ')}\n`)
  }
  return { info() {}, warn: line('warning'), error: line('error') } as Log
}
