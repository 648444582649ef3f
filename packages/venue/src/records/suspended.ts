import { existsSync, readFileSync, rmSync } from 'node:fs'
import { open, rename } from 'node:fs/promises'
import type { Snapshot } from 'zinc-referee'
import type { Hosting } from '../matches/hosting.ts'

/** What a venue needs to go on with a match after it has stopped: beside its record, in a file of its own. */
export interface Suspended {
  /** The match's id at the venue. */
  readonly id: string
  readonly hosting: Hosting
  /** What tells it from every other match. */
  readonly key: string
  /** How many lines of the record the snapshot covers. Those behind it are played again. */
  readonly lines: number
  /** Every id that a seat of the match has had. */
  readonly seatIds: readonly string[]
  readonly snapshot: Snapshot
}

const PRIVATE = 0o600
const fileOf = (record: string): string => record.replace(/\.jsonl$/, '.snapshot.json')

/** Replaces what was kept before. Whenever the process ends, there is the old one or the new one, whole. */
export async function keepSuspended(record: string, kept: Suspended): Promise<void> {
  const path = fileOf(record)
  const file = await open(`${path}.new`, 'w', PRIVATE)
  try {
    await file.writeFile(JSON.stringify(kept))
    await file.sync()
  } finally {
    await file.close()
  }
  await rename(`${path}.new`, path)
}

/** @throws what the file system throws, or a SyntaxError for what is not JSON */
export const readSuspended = (record: string): Suspended => JSON.parse(readFileSync(fileOf(record), 'utf8'))

/** True if there is something to go on from. */
export const isSuspended = (record: string): boolean => existsSync(fileOf(record))

/** The match has ended: its record tells all of it. */
export const dropSuspended = (record: string): void => rmSync(fileOf(record), { force: true })
