import { dirname, relative } from 'node:path'
import { fileURLToPath } from 'node:url'
import { formatElapsed } from 'zinc-referee'
import type { FaultKind } from 'zinc-referee/testing'
import { columns } from './output.ts'

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
  for (const line of stack?.split('\n') ?? []) {
    const [, path, place] = /\(?((?:file:\/\/)?\/[^():]+):(\d+:\d+)\)?$/.exec(line.trim()) ?? []
    if (path === undefined) continue
    const file = path.startsWith('file:') ? fileURLToPath(path) : path
    if (file.startsWith(LIBRARY) || file.includes('node_modules')) continue
    return `${relative(process.cwd(), file)}:${place}`
  }
  return undefined
}
