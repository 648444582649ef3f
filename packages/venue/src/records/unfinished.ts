import { existsSync, mkdirSync, readdirSync, readFileSync, truncateSync } from 'node:fs'
import { join } from 'node:path'
import { isSuspended } from './suspended.ts'

const PRIVATE = 0o700

/** Makes a folder for records if there is none. */
export const makeFolder = (folder: string): void => void mkdirSync(folder, { recursive: true, mode: PRIVATE })

/** The records of matches that have not ended, in the order of their names: those with a snapshot beside them. */
export function unfinishedIn(folder: string): readonly string[] {
  makeFolder(folder)
  return readdirSync(folder)
    .filter((name) => name.endsWith('.jsonl'))
    .sort()
    .map((name) => join(folder, name))
    .filter((path) => isSuspended(path) && !hasEnded(readFileSync(path, 'utf8')))
}

const hasEnded = (text: string): boolean => /"end":true\}\n?$/.test(text.slice(-200))

/** What a record has, once a last line that was torn off is cut from it, in the file too: nobody was shown what it did. */
export function readWhole(path: string): { readonly lines: readonly string[]; readonly bytes: number } {
  const found = readFileSync(path)
  const bytes = found.lastIndexOf('\n') + 1
  if (bytes < found.length) truncateSync(path, bytes)
  const lines = found.toString('utf8', 0, bytes).split('\n').slice(0, -1)
  return { lines, bytes }
}

/** A path in the folder that no other record has. */
export function freePath(folder: string, name: string): string {
  const base = join(folder, name.replaceAll(/[^\w-]+/g, '_'))
  for (let n = 1; ; n++) {
    const path = n === 1 ? `${base}.jsonl` : `${base}.${n}.jsonl`
    if (!existsSync(path) && !existsSync(`${path}.gz`)) return path
  }
}
