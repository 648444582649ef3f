import { relative } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Place } from '../modes/own-sources.ts'

/** The places of a stack, the innermost first, with their whole paths. */
export const placesIn = (
  stack = '',
): readonly (Place & { readonly path: string; readonly column: string })[] =>
  stack.split('\n').flatMap((line) => {
    const [, found, at = '', column = ''] =
      /\(?((?:file:\/\/)?\/[^():]+):(\d+):(\d+)\)?$/.exec(line.trim()) ?? []
    if (found === undefined) return []
    const path = found.startsWith('file:') ? fileURLToPath(found) : found
    return [{ path, file: relative(process.cwd(), path), line: Number(at), column }]
  })
