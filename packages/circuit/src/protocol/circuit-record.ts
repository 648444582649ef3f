import type { HostedMatch, KeptRecord, Suspended } from '@zinc-referee/venue/keeping'
import type { Committer } from './committer.ts'
import type { Shelf } from './ports.ts'

/** With more characters than this, a snapshot goes to the shelf: a server takes messages of up to 1 MB. */
const MOST = 512 * 1024

/** What a match of a circuit is kept with. */
export interface CircuitRecordOptions {
  readonly committer: Committer
  readonly shelf: Shelf
  /** The name of its snapshots on the shelf. */
  readonly subject: string
  /** After how many lines a snapshot is kept. */
  readonly snapshotEvery: number
  /** How many lines the last snapshot covers. */
  readonly covered: number
  /** For a new match: resolves when it may begin. Undefined for a match that goes on. */
  readonly mayBegin: Promise<void> | undefined
  /** Called when the first message of a new match is safe. */
  readonly begun: () => void
  readonly clock: { wakeAfter(ms: number, wake: () => void): () => void }
  /** Called when the match has ended, and its end is safe. */
  readonly ended: () => void
}

/** A snapshot on the shelf: everything up to a message of the stream. */
export interface Shelved {
  /** The lines behind it are in later messages than this one. */
  readonly after: number
  readonly base: Suspended
}

/** The record of a match whose lines go into the stream. */
export class CircuitRecord implements KeptRecord {
  readonly path = undefined
  hosted: HostedMatch | undefined
  readonly committer: Committer
  private readonly options: CircuitRecordOptions
  private covered: number
  /** What leaves when the match goes on at another venue. */
  private held: (() => void)[] | undefined

  constructor(options: CircuitRecordOptions) {
    this.options = options
    this.committer = options.committer
    this.covered = options.covered
  }

  readonly write = (line: string): void => {
    const { committer, snapshotEvery, clock } = this.options
    committer.write(line)
    if (committer.lines - this.covered < snapshotEvery) return
    this.covered = committer.lines
    clock.wakeAfter(0, () => this.keepSnapshot()) // not within a step
  }

  readonly whenSafe = (send: () => void): void => {
    if (this.held === undefined) this.committer.whenSafe(send)
    else this.held.push(send)
  }

  keep(hosted: HostedMatch): void {
    this.hosted = hosted
    const { committer, mayBegin, begun } = this.options
    if (mayBegin === undefined) return
    committer.beginWith(this.baseOf(hosted))
    committer.whenSafe(begun)
    void mayBegin.then(() => committer.begin())
  }

  /**
   * Lets go of the match: all its lines are safe, and whoever takes it goes on from here. Returns false if it was somebody
   * else's. Its clients are notified with `release`.
   */
  async handOver(): Promise<boolean> {
    const { hosted, committer } = this
    if (hosted === undefined || hosted.isClosed) return false
    this.held = []
    hosted.suspend('moved')
    const base = this.baseOf(hosted)
    if (JSON.stringify(base).length < MOST) return committer.say('hand', base)
    if (!(await committer.say('lines'))) return false
    await this.shelve(base).catch(() => undefined)
    return committer.say('hand')
  }

  /** What was held back while the match moved leaves: the last updates, and where it has gone. */
  release(): void {
    this.committer.stop()
    for (const send of this.held ?? []) send()
  }

  /** Another venue goes on with it, from its lines. */
  async suspend(): Promise<void> {
    await this.committer.say('hand')
    this.committer.stop()
  }

  discard(): void {
    this.committer.stop()
  }

  async end(): Promise<void> {
    const isOurs = await this.committer.say('end')
    this.committer.stop()
    if (isOurs) this.options.ended()
  }

  private baseOf({ id, hosting, key, seatIds, match }: HostedMatch): Suspended {
    const { lines } = this.committer
    return { id, hosting, key, lines, seatIds: [...seatIds], snapshot: match.snapshot() }
  }

  private keepSnapshot(): void {
    if (this.hosted === undefined || this.hosted.isClosed) return
    const base = this.baseOf(this.hosted)
    this.covered = base.lines
    // One that cannot be put away is of no harm: there are more lines behind the one before.
    void this.shelve(base).catch(() => undefined)
  }

  private shelve(base: Suspended): Promise<void> {
    const { committer, shelf, subject } = this.options
    const shelved: Shelved = { after: committer.after.sequence, base }
    const text = JSON.stringify(shelved)
    return new Promise((done, failed) => {
      // Only once its lines are safe: a snapshot must never be ahead of the stream.
      committer.whenSafe(() => void shelf.put(subject, text).then(done, failed))
    })
  }
}
