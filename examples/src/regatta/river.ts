import { type Chance, chanceFrom, type MatchFor, type Seat } from 'zinc-referee'
import type { reedRegatta } from './rulebook.ts'

/** A match of the regatta. */
export type Regatta = MatchFor<typeof reedRegatta>

interface Reach {
  readonly course: string
  readonly at: number
}

/**
 * The game's own simulation: it knows where every raft is heading, decides when it gets there, and reports that to the
 * referee. Rams of one stroke are simultaneous.
 */
export class River {
  private readonly chance: Chance
  private readonly reaches: Map<Seat, Reach> = new Map()

  constructor(seed: string) {
    this.chance = chanceFrom(seed, 'river')
  }

  stroke(match: Regatta): void {
    if (match.state.phases.now.phase !== 'live') return
    const rams: { target: Seat; by: Seat }[] = []
    const lives: { [seat: Seat]: number } = {}
    for (const seat of match.seats) {
      const { course, quarry } = match.state.raft.helm.of(seat)
      if (
        match.state.vitals.body.of(seat).down ||
        course === 'drift' ||
        !this.arrives(match, seat, course === 'raft' ? `raft ${quarry}` : course)
      )
        continue
      if (course === 'cargo') {
        match.report('raft.found', { seat })
        // Now and then a bronze prow lies beside the cargo.
        if (this.chance.int(1, 6) === 1) match.report('raft.bronze', { seat })
      } else if (course === 'dock') match.report('raft.docked', { seat })
      else if (quarry !== undefined) {
        rams.push({ target: quarry, by: seat })
        lives[seat] = match.state.vitals.lives.of(seat).life
      }
    }
    if (rams.length > 0) match.reportAll('raft.rammed', rams, { lives })
  }

  /** Whether a raft gets there with this stroke; a new course, and each arrival, begins a new way. */
  private arrives(match: Regatta, seat: Seat, course: string): boolean {
    const reach = this.reaches.get(seat)
    const there = reach?.course === course && reach.at <= match.now
    if (there || reach?.course !== course)
      this.reaches.set(seat, { course, at: match.now + this.chance.int(3, 9) * 500 })
    return there
  }
}
