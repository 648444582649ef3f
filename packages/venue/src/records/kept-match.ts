import { rmSync } from 'node:fs'
import type { HostedMatch } from '../matches/hosted-match.ts'
import type { KeptRecord } from './keeper.ts'
import { type Commit, openRecordFile, type RecordFile } from './record-file.ts'
import { compress } from './retention.ts'
import { dropSuspended, keepSuspended } from './suspended.ts'

/** How records are kept. */
export interface Keeping {
  /** The folder for the records of all matches. It is made if it is not there. */
  readonly folder: string
  /** When a line is safe; rulings and updates leave only then. Default: 'group'. */
  readonly commit?: Commit
  /** After how many lines a snapshot is kept, from which a match goes on. Default: 1000. */
  readonly snapshotEvery?: number
  /** If true, the records of matches that have ended are compressed (gzip). Default: false. */
  readonly compress?: boolean
  /** How long the records of matches that have ended are kept, in ms. Default: for ever. */
  readonly keepFor?: number
}

/** How long after a first snapshot that could not be written it is tried again, in ms. */
const RETRY = 500

/** The record of a running match, with the snapshot from which it goes on when the process has ended. */
export class KeptMatch implements KeptRecord {
  readonly path: string
  readonly file: RecordFile
  private readonly snapshotEvery: number
  private readonly compresses: boolean
  private covered: number
  private hosted: HostedMatch | undefined
  /** What leaves once there is a first snapshot: a record without one cannot be gone on from. Nothing from then on. */
  private held: (() => void)[] | undefined
  /** The snapshots that are being written, one after another. */
  private writing: Promise<void> = Promise.resolve()

  /** `path`: the record; what it has already, if it goes on. */
  constructor(path: string, keeping: Keeping, has: { readonly lines: number; readonly bytes: number }) {
    this.path = path
    this.snapshotEvery = keeping.snapshotEvery ?? 1000
    this.compresses = keeping.compress ?? false
    this.covered = has.lines
    this.held = has.lines === 0 ? [] : undefined
    this.file = openRecordFile(path, {
      commit: keeping.commit ?? 'group',
      ...has,
      stuck: (error) => this.stuck(error),
    })
  }

  /** Takes a line. A sink of the core: it is called within a step, so a snapshot waits for its end. */
  readonly write = (line: string): void => {
    this.file.write(line)
    if (this.file.lines - this.covered < this.snapshotEvery) return
    this.covered = this.file.lines
    setImmediate(() => this.keepSnapshot())
  }

  /** Calls `send` once the match can be gone on from all its lines so far. */
  readonly whenSafe = (send: () => void): void => {
    if (this.held === undefined) this.file.whenSafe(send)
    else this.held.push(send)
  }

  /** Keeps the match that it belongs to, from its first snapshot on. */
  keep(hosted: HostedMatch): void {
    this.hosted = hosted
    this.keepSnapshot()
  }

  /** Closes the record so that the match can go on from it. */
  async suspend(): Promise<void> {
    this.keepSnapshot()
    await this.file.close()
    await this.writing
  }

  /** Removes the record of a match that could not begin. */
  discard(): void {
    void this.file.close()
    rmSync(this.file.path, { force: true })
  }

  /** Closes the record of a match that has ended. */
  async end(): Promise<void> {
    this.hosted = undefined
    await this.file.close()
    await this.writing
    dropSuspended(this.file.path)
    if (this.compresses) await compress(this.file.path)
  }

  private keepSnapshot(): void {
    const { hosted, file } = this
    if (hosted === undefined) return
    const { id, hosting, key } = hosted
    const kept = { id, hosting, key, lines: file.lines, seatIds: [...hosted.seatIds] }
    const snapshot = hosted.match.snapshot()
    this.covered = file.lines
    // Only once its lines are safe: a snapshot must never be ahead of its record.
    file.whenSafe(() => {
      if (this.hosted === undefined) return
      this.writing = this.writing
        .then(() => keepSuspended(file.path, { ...kept, snapshot }))
        .then(() => this.release())
        .catch((error) => {
          process.emitWarning(`no snapshot beside ${file.path}: ${error}. The last one stays.`)
          if (this.held !== undefined) setTimeout(() => this.keepSnapshot(), RETRY).unref()
        })
    })
  }

  private release(): void {
    const { held = [] } = this
    this.held = undefined
    for (const send of held) this.file.whenSafe(send)
  }

  /** On a full disk the match stands still. It goes on when there is space. */
  private stuck(error: unknown): void {
    if (error === undefined) {
      this.hosted?.resume()
      return
    }
    this.hosted?.pause()
    process.emitWarning(
      `the record ${this.file.path} cannot be written on, and its match stands still: ${error}`,
    )
  }
}
