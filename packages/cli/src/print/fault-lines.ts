import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'
import { formatElapsed } from 'zinc-referee'
import type { FaultKind } from 'zinc-referee/testing'
import { columns } from './output.ts'
import { placesIn } from './stack-places.ts'

/** The folder of the library's own code. Errors thrown there have a cause elsewhere. */
const LIBRARY = dirname(dirname(fileURLToPath(import.meta.resolve('zinc-referee'))))

/** Returns the first fault of each kind with its place in the rulebook's file, or no lines if there were none. */
export function faultLines(kinds: readonly FaultKind[]): readonly string[] {
  if (kinds.length === 0) return []
  const rows = kinds.map(({ handler, during, at, error, stack, times }) => [
    handler,
    String(times),
    formatElapsed(at),
    during,
    error,
    placeIn(stack) ?? '',
  ])
  return [columns(['fault', 'times', 'first', 'during', 'what', 'where'], rows)]
}

/** Returns the first line of a stack outside the library, such as `races.ts:12:5`. */
function placeIn(stack: string | undefined): string | undefined {
  const place = placesIn(stack).find(
    ({ path }) => !path.startsWith(LIBRARY) && !path.includes('node_modules'),
  )
  return place && `${place.file}:${place.line}:${place.column}`
}
