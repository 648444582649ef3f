import type { Suspended } from '@zinc-referee/venue/keeping'
import type { HostClock } from 'zinc-referee/host'
import { firstThatCounts } from './chain.ts'
import { type Kind, textOf } from './messages.ts'
import type { Behind, MatchStream, Stored } from './ports.ts'
import { type Outgoing, pause, publish } from './publish.ts'

/** A message has about this many characters of lines at most: a server takes no more than 1 MB. */
const MOST = 256 * 1024

/** Which match is written, by whom, and behind what. */
export interface CommitterOptions {
  readonly stream: MatchStream
  readonly clock: HostClock
  readonly subject: string
  readonly by: string
  /**
   * Tells this committer from all others of this start of the venue. Ids of messages hold it: an answer that comes late may have
   * it try what it has done before, and that must not look as if it were done now.
   */
  readonly turn: number
  readonly epoch: number
  /** The last message that counts, the sequence of the last of all, and how many lines there are up to there. */
  readonly after: Behind
  readonly expected: number
  readonly lines: number
  /** How long a message may be on its way before the match stands still, in ms. */
  readonly patience: number
  /** Called when a message takes longer than that, and again once it is in the stream. */
  readonly stuck: (isStuck: boolean) => void
  /** Called once, with what somebody else has written: the match is theirs. Nothing is safe from then on. */
  readonly fenced: (by: Stored | undefined) => void
}

/** Kinds of messages that lines are added to. */
const OPEN: ReadonlySet<Kind> = new Set(['begin', 'lines'])

/** Kinds of messages by which a venue becomes the owner of a match. */
const OWNS: ReadonlySet<Kind> = new Set(['begin', 'take'])
/** How long to wait before the stream is looked at again, in ms. */
const LOOK_AGAIN = 200

interface Batch {
  kind: Kind
  base: Suspended | undefined
  readonly lines: string[]
  readonly sends: (() => void)[]
  length: number
}
const newBatch = (kind: Kind = 'lines', base?: Suspended): Batch => ({
  kind,
  base,
  lines: [],
  sends: [],
  length: 0,
})

/**
 * Writes one match into the stream. One message is on its way at a time, and what comes meanwhile is the next one: sequences
 * of a stream have gaps, so nobody can guess behind which one a message will stand.
 */
export class Committer {
  /** The last message that is safe. */
  after: Behind
  private expected: number
  /** How many lines there are, with those that are not safe yet. */
  lines: number
  private readonly options: CommitterOptions
  private safeLines: number
  private readonly waiting: Batch[] = []
  private inFlight: Batch | undefined
  private hasBegun = false
  private isOver = false

  constructor(options: CommitterOptions) {
    this.options = options
    this.after = options.after
    this.expected = options.expected
    this.lines = options.lines
    this.safeLines = options.lines
  }

  /** A new match begins with all that is needed to go on with it. */
  beginWith(base: Suspended): void {
    Object.assign(this.waiting[0] ?? this.next(), { kind: 'begin', base })
  }

  /** Begins to write what it has been given. */
  begin(): void {
    this.hasBegun = true
    this.work()
  }

  /**
   * Makes this venue the owner, and begins. What was said or written before waits: only behind what makes it the owner does it
   * count. Returns false if the match is somebody else's.
   */
  claim(...kinds: readonly ('announce' | 'take')[]): Promise<boolean> {
    if (this.isOver) return Promise.resolve(false)
    return new Promise((claimed) => {
      const batches = kinds.map((kind) => newBatch(kind))
      batches.at(-1)?.sends.push(() => claimed(true))
      this.onStop.push(() => claimed(false))
      this.waiting.unshift(...batches)
      this.begin()
    })
  }

  /** Takes a line of the record. Once the match is somebody else's, it is thrown away. */
  write(line: string): void {
    if (this.isOver) return
    this.lines++
    const batch = this.next()
    batch.lines.push(line)
    batch.length += line.length
    this.work()
  }

  /** Calls `send` once all lines so far are safe; never, if the match is somebody else's. */
  whenSafe(send: () => void): void {
    if (this.isOver) return
    const last = this.waiting.at(-1) ?? this.inFlight
    if (last === undefined) send()
    else last.sends.push(send)
  }

  /** Writes a message of its own behind all lines so far. Returns false if the match is somebody else's. */
  say(kind: Kind, base?: Suspended): Promise<boolean> {
    if (this.isOver) return Promise.resolve(false)
    return new Promise((said) => {
      const batch = newBatch(kind, base)
      batch.sends.push(() => said(true))
      this.onStop.push(() => said(false))
      this.waiting.push(batch)
      this.work()
    })
  }

  /** Writes nothing any more, and calls nobody. */
  stop(): void {
    this.isOver = true
    this.waiting.length = 0
    for (const stopped of this.onStop) stopped()
  }
  private readonly onStop: (() => void)[] = []

  private next(): Batch {
    const last = this.waiting.at(-1)
    if (last !== undefined && OPEN.has(last.kind) && last.length < MOST) return last
    const batch = newBatch()
    this.waiting.push(batch)
    return batch
  }

  private work(): void {
    if (this.inFlight !== undefined || !this.hasBegun) return
    this.inFlight = newBatch()
    // What is written in the same step goes out together.
    void Promise.resolve().then(() => this.writeOut())
  }

  private async writeOut(): Promise<void> {
    for (let batch = this.waiting.shift(); batch !== undefined; batch = this.waiting.shift()) {
      this.inFlight = batch
      if (!(await this.put(batch))) return
      for (const send of batch.sends) send()
    }
    this.inFlight = undefined
  }

  private async put({ kind, base, lines }: Batch): Promise<boolean> {
    const { clock, subject, by, turn, epoch, patience, stuck } = this.options
    const { after, expected, safeLines: from } = this
    const text = textOf({ kind, epoch, by, after: after.sequence, from, lines, ...(base && { base }) })
    const id = `${subject} ${by} ${turn} ${expected}`
    let isStuck = false
    const callOff = clock.wakeAfter(patience, () => {
      isStuck = true
      if (!this.isOver) stuck(true)
    })
    const sequence = await this.committed(kind, { subject, id, text, expected })
    callOff()
    if (sequence === undefined) return false
    this.expected = sequence
    if (kind !== 'announce') this.after = { sequence, id }
    this.safeLines += lines.length
    if (isStuck) stuck(false)
    return true
  }

  /** Returns where a message is; undefined if the match is somebody else's, or it was given up. */
  private async committed(kind: Kind, message: Outgoing): Promise<number | undefined> {
    const { stream, clock, fenced } = this.options
    const put = await publish(message, { stream, clock, isGivenUp: () => this.isOver })
    if (put === undefined || this.isOver) return undefined
    const other = typeof put === 'number' ? await this.otherOwner(kind, message.id) : put
    if (this.isOver) return undefined
    if (other === undefined && typeof put === 'number') return put
    this.stop()
    fenced(other)
    return undefined
  }

  /**
   * What makes this venue the owner may have got in beside what somebody else has written. Returns that message, if it is the one
   * that counts. An owner has no need to look: whoever takes its match from it does.
   */
  private async otherOwner(kind: Kind, id: string): Promise<Stored | undefined> {
    const { stream, clock, subject } = this.options
    while (OWNS.has(kind) && !this.isOver) {
      const first = await firstThatCounts(stream, subject, this.after).catch(() => undefined)
      if (first !== undefined) return first.id === id ? undefined : first
      await pause(clock, LOOK_AGAIN)
    }
    return undefined
  }
}
