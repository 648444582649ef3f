import type { HostedMatch } from '../matches/hosted-match.ts'

/** The record of a running match, wherever it is kept. */
export interface KeptRecord {
  /** The path of its file; undefined if it is not in one. */
  readonly path: string | undefined
  /** Takes a line. A sink of the core: it is called within a step. */
  readonly write: (line: string) => void
  /** Calls `send` once the match can be gone on from all its lines so far, in the order in which it was asked. */
  readonly whenSafe: (send: () => void) => void
  /** Keeps the match that it belongs to, from now on. */
  keep(hosted: HostedMatch): void
  /** Closes the record so that the match can go on from it. */
  suspend(): Promise<void>
  /** Removes the record of a match that could not begin. */
  discard(): void
  /** Closes the record of a match that has ended. */
  end(): Promise<void>
}

/** Keeps the records of a venue elsewhere than in a folder. */
export interface RecordKeeper {
  /** Returns the record of a new match. */
  begin(id: string, mode: string): KeptRecord
}
