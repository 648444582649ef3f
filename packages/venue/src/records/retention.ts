import { createReadStream, createWriteStream, existsSync, readdirSync, rmSync, statSync } from 'node:fs'
import { rename } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { createGzip } from 'node:zlib'
import { isSuspended } from './suspended.ts'

const PRIVATE = 0o600
const RECORD = /\.jsonl(\.gz)?$/
const NOT_RECORDS = new Set(['deliveries.jsonl'])

/** Compresses the record of a match that has ended (gzip, RFC 1952). Whenever the process ends, there is one of the two. */
export async function compress(record: string): Promise<void> {
  const packed = `${record}.gz`
  await pipeline(
    createReadStream(record),
    createGzip(),
    createWriteStream(`${packed}.new`, { mode: PRIVATE }),
  )
  await rename(`${packed}.new`, packed)
  rmSync(record)
}

/**
 * Removes the records of matches that ended longer ago than this, in ms. Those that can be gone on with stay, and those of
 * `inUse`.
 */
export function removeOld(folder: string, keepFor: number, inUse: ReadonlySet<string>): readonly string[] {
  const until = Date.now() - keepFor
  const old = readdirSync(folder)
    .filter((name) => RECORD.test(name) && !NOT_RECORDS.has(name))
    .map((name) => join(folder, name))
    .filter((path) => !inUse.has(path))
    .filter(
      (path) => existsSync(path) && statSync(path).mtimeMs < until && !isSuspended(path.replace(/\.gz$/, '')),
    )
  for (const path of old) rmSync(path)
  return old
}
