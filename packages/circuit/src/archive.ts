import { readdirSync, readFileSync } from 'node:fs'
import { open, rename } from 'node:fs/promises'
import { basename, dirname, join } from 'node:path'
import { freePath, makeFolder } from '@zinc-referee/venue/keeping'

/** A record holds every secret of its match: nobody else on the machine may read it. */
const PRIVATE = 0o600

/** Returns what writes the record of a match that has ended into a folder, once, however often it is asked to. */
export function archiveIn(folder: string) {
  makeFolder(folder)
  return async (match: string, mode: string, lines: readonly string[]): Promise<void> => {
    const text = `${lines.join('\n')}\n`
    const path = freePath(folder, `${mode}-${match}`)
    // It may have been written by a venue that was lost before it could take the match out of the stream.
    if (othersOf(path).some((other) => readFileSync(other, 'utf8') === text)) return
    const file = await open(`${path}.new`, 'w', PRIVATE)
    try {
      await file.writeFile(text)
      await file.sync()
    } finally {
      await file.close()
    }
    await rename(`${path}.new`, path)
  }
}

/** The records of matches of the same id: a path that is free has all others before it. */
function othersOf(path: string): readonly string[] {
  const base = basename(path).replace(/(\.\d+)?\.jsonl$/, '')
  return readdirSync(dirname(path))
    .filter((name) => name.replace(/(\.\d+)?\.jsonl$/, '') === base)
    .map((name) => join(dirname(path), name))
}
