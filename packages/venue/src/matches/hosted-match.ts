import { randomUUID } from 'node:crypto'
import type { AnyMatch, AnyRulebook, Seat } from 'zinc-referee'
import { type HostOptions, MatchHost } from 'zinc-referee/host'
import type { Hosting } from './hosting.ts'
import { SkippingClock } from './skipping-clock.ts'

/** What everybody may know of a match: what the list of matches shows. */
export interface MatchSummary {
  /** The id by which clients join it. */
  readonly id: string
  /** The name of its rulebook. */
  readonly mode: string
  readonly phase: string
  /** Seats that players have, seats that bots play, and seats that a player can get. */
  readonly seats: { readonly taken: number; readonly bots: number; readonly free: number }
  /** Match time, in ms. */
  readonly time: number
}

/** A match of a venue, running in real time. */
export class HostedMatch extends MatchHost {
  /** The id by which clients join it. */
  readonly id: string
  /** How it is hosted. */
  readonly hosting: Hosting
  /** Every id that a seat of this match has had. */
  readonly seatIds: Set<Seat> = new Set()
  /** The path of its record; undefined if none is kept. */
  readonly record: string | undefined
  /** Tells it from every match there has been, of the same id too. */
  readonly key: string
  /** Called when a bout has ended, while it still can be read. What it tells may leave once `whenSafe` says so. */
  readonly overs: Set<() => void> = new Set()
  /** Where it goes on, once it has moved to another venue. */
  movedTo: string | undefined
  private readonly time: SkippingClock
  /** The bout that was last found to be over. */
  private overBout = 0
  /** Its rulebook, where its host knows it. */
  readonly book: AnyRulebook | undefined
  /** How many seats its rulebook needs, and how many it may have. */
  readonly seatLimits: { readonly min: number; readonly max: number }

  /** `kept`: the path of its record, the key that it had in an earlier process, and its rulebook. */
  constructor(
    id: string,
    match: AnyMatch,
    hosting: Hosting,
    options: HostOptions,
    kept: {
      readonly record?: string | undefined
      readonly key?: string | undefined
      readonly book?: AnyRulebook
    } = {},
  ) {
    const time = new SkippingClock(options.clock)
    super(match, { ...options, clock: time })
    this.time = time
    this.id = id
    this.hosting = hosting
    this.record = kept.record
    this.book = kept.book
    this.seatLimits = kept.book?.plan.seatLimits ?? match.describe().seats
    this.key = kept.key ?? randomUUID()
  }

  /** Lets this many ms of the match pass at once: what comes due in them happens, in its order. */
  skip(ms: number): void {
    this.time.skip(ms)
    this.run(() => undefined)
  }

  /**
   * Calls `act` again and again, this many ms apart, until the match closes. It is not called while the last lines of a closed
   * match become safe, when its state can no longer be read.
   */
  every(ms: number, act: () => void): void {
    const beat = (): void => {
      if (!this.isClosed) this.call('every', act)
      if (!this.isClosed) callOff = this.time.wakeAfter(ms, beat)
    }
    let callOff = this.time.wakeAfter(ms, beat)
    this.ends.add(() => callOff())
  }

  override run<R>(act: (match: AnyMatch) => R): R {
    try {
      return super.run(act)
    } finally {
      this.lookForVerdict()
    }
  }

  /** Looks for a verdict at each timer: on a machine that stood still, the next bout may have begun by now. */
  protected override advance(): void {
    const now = this.now()
    for (let due = this.match.nextDue; due !== undefined && due <= now; due = this.match.nextDue) {
      this.match.advanceTo(due)
      this.lookForVerdict()
    }
    super.advance()
  }

  /** Calls `overs` if a bout has ended since the last look. */
  lookForVerdict(): void {
    if (this.isClosed) return
    const { phase, bout } = this.match.state.phases.now
    if (phase !== 'over' || bout === this.overBout) return
    this.overBout = bout
    for (const over of this.overs) this.call('over', over)
  }

  /** Delay for spectators, in ms. */
  get spectatorDelay(): number {
    return this.hosting.spectatorDelay
  }

  /** What everybody may know of it. */
  get summary(): MatchSummary {
    const { roster, phases } = this.match.state
    const seated = this.match.allSeats
      .map((seat) => roster.seats.of(seat))
      .filter(({ presence }) => presence !== 'left')
    const bots = seated.filter(({ bot, covered }) => bot && !covered).length
    const taken = seated.length - bots
    return {
      id: this.id,
      mode: this.match.rulebook,
      phase: phases.now.phase,
      seats: { taken, bots, free: Math.max(0, this.seatLimits.max - taken) },
      time: this.now(),
    }
  }

  /** The players who are here. */
  get people(): readonly Seat[] {
    const { seats } = this.match.state.roster
    return this.match.allSeats.filter((seat) => {
      const { presence, bot } = seats.of(seat)
      return presence === 'here' && !bot
    })
  }

  /** Who leads it now: the first seat that is here, if it is led. When that one leaves, the next one does. */
  get organiser(): Seat | undefined {
    if (!this.hosting.led) return undefined
    const { seats } = this.match.state.roster
    return [...this.people].sort((a, b) => seats.of(a).number - seats.of(b).number)[0]
  }
}
