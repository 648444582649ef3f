import type { Seat } from '../cells/index.ts'

/** So many faults in a row are too many. */
const MOST = 20

/** As a snapshot has them, where there are any. */
export interface SavedRuns {
  readonly match: number
  readonly seats: readonly (readonly [seat: Seat, count: number])[]
}

/**
 * Numbers of faults in a row: of timers, facts and settling, and of each seat's actions. They belong to the state
 * because they decide what comes next. They are not in the hash, because a step that fails leaves the hash unchanged.
 */
export class FaultRuns {
  private match = 0
  private seats: Map<Seat, number> | undefined

  /** A step was taken back; of a seat if its own action threw. */
  add(seat: Seat | undefined): void {
    if (seat === undefined) this.match += 1
    else {
      this.seats ??= new Map()
      this.seats.set(seat, (this.seats.get(seat) ?? 0) + 1)
    }
  }

  /** A step was kept; `settled`: rules settled in it. Returns whether nothing is counted any more. */
  end(seat: Seat | undefined, settled: boolean): boolean {
    if (seat === undefined || settled) this.match = 0
    if (seat !== undefined) this.seats?.delete(seat)
    return this.match === 0 && (this.seats?.size ?? 0) === 0
  }

  /** True once, when the match has had too many. */
  takeVoid(): boolean {
    if (this.match < MOST) return false
    this.match = 0
    return true
  }

  isLimited(seat: Seat): boolean {
    return (this.seats?.get(seat) ?? 0) >= MOST
  }

  save(): SavedRuns | undefined {
    const { match, seats } = this
    return match === 0 && (seats === undefined || seats.size === 0)
      ? undefined
      : { match, seats: [...(seats ?? [])] }
  }

  static from({ match, seats }: SavedRuns): FaultRuns {
    const runs = new FaultRuns()
    runs.match = match
    runs.seats = new Map(seats)
    return runs
  }
}
