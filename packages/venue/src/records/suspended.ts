import { closeSync, fsyncSync, openSync, readFileSync, renameSync, rmSync, writeSync } from 'node:fs'
import type { Snapshot } from 'zinc-referee'

/** What a venue needs to go on with a match after it has stopped: beside its record, in a file of its own. */
export interface Suspended {
  /** The match's id at the venue. */
  readonly id: string
  readonly spectatorDelay: number
  /** How many lines of the record the snapshot covers. Those behind it are played again. */
  readonly lines: number
  /** Every id that a seat of the match has had. */
  readonly seatIds: readonly string[]
  readonly snapshot: Snapshot
}

const PRIVATE = 0o600
const fileOf = (record: string): string => record.replace(/\.jsonl$/, '.snapshot.json')

/** Replaces what was kept before. Whenever the process ends, there is the old one or the new one, whole. */
export function keepSuspended(record: string, kept: Suspended): void {
  const path = fileOf(record)
  const file = openSync(`${path}.new`, 'w', PRIVATE)
  try {
    writeSync(file, JSON.stringify(kept))
    fsyncSync(file)
  } finally {
    closeSync(file)
  }
  renameSync(`${path}.new`, path)
}

/** @throws what the file system throws, or a SyntaxError for what is not JSON */
export const readSuspended = (record: string): Suspended => JSON.parse(readFileSync(fileOf(record), 'utf8'))

/** The match has ended: its record tells all of it. */
export const dropSuspended = (record: string): void => rmSync(fileOf(record), { force: true })
