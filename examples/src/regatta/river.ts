import { type Chance, chanceFrom, type MatchFor, type Seat } from 'zinc-referee'
import type { Point } from 'zinc-referee/rules'
import { away, nearest } from '../points.ts'
import { docks, river } from './docks.ts'
import type { reedRegatta } from './rulebook.ts'

/** A match of the regatta. */
export type Regatta = MatchFor<typeof reedRegatta>

const STRIDE = 16
const REACH = 14
const CRATES = 6

/**
 * The game's own simulation. It moves every raft on its course, decides when it arrives, and reports that to the
 * referee. Rams of one stroke are simultaneous.
 */
export class River {
  private readonly chance: Chance
  private readonly crates: Point[]

  constructor(seed: string) {
    this.chance = chanceFrom(seed, 'river')
    this.crates = Array.from({ length: CRATES }, () => this.somewhere())
  }

  stroke(match: Regatta): void {
    if (match.state.phases.now.phase !== 'live') return
    const rams: { target: Seat; by: Seat }[] = []
    const lives: { [seat: Seat]: number } = {}
    const moves: ({ seat: Seat } & Point)[] = []
    for (const seat of match.seats) {
      const { course, quarry } = match.state.raft.helm.of(seat)
      const from = spotOf(match, seat)
      const aim = this.aim(match, seat, from)
      if (aim === undefined || match.state.vitals.body.of(seat).down) continue
      const there = away(from, aim) <= REACH
      moves.push({ seat, ...(there ? this.drift(from) : strideTo(from, aim)) })
      if (!there) continue
      if (course === 'cargo') this.find(match, seat, aim)
      else if (course === 'dock') match.report('raft.docked', { seat })
      else if (quarry !== undefined) {
        rams.push({ target: quarry, by: seat })
        lives[seat] = match.state.vitals.lives.of(seat).life
      }
    }
    if (moves.length > 0) match.reportAll('areas.at', moves)
    if (rams.length > 0) match.reportAll('raft.rammed', rams, { lives })
  }

  private aim(match: Regatta, seat: Seat, from: Point): Point | undefined {
    const { course, quarry } = match.state.raft.helm.of(seat)
    if (course === 'cargo') return nearest(from, this.crates)
    if (course === 'dock') return nearest(from, docksOf(match, seat))
    if (course !== 'raft' || quarry === undefined || match.state.vitals.body.of(quarry).down) return undefined
    const { hidden, near } = match.state.areas.spots.of(quarry)
    return hidden === undefined || near.has(seat) ? spotOf(match, quarry) : undefined
  }

  private find(match: Regatta, seat: Seat, crate: Point): void {
    match.report('raft.found', { seat })
    this.crates[this.crates.indexOf(crate)] = this.somewhere()
    // From time to time there is a find besides the cargo.
    const luck = this.chance.int(1, 12)
    if (luck <= 2) match.report('raft.bronze', { seat })
    else if (luck <= 4) match.report('raft.mist', { seat })
  }

  /** Returns where a raft ends up that bounces off another. */
  private drift({ x, y }: Point): Point {
    const by = STRIDE * 3
    return {
      x: within(x + this.chance.int(-by, by), river.width),
      y: within(y + this.chance.int(-by, by), river.height),
    }
  }

  private somewhere(): Point {
    return { x: this.chance.int(60, river.width - 60), y: this.chance.int(10, river.height - 10) }
  }
}

function spotOf(match: Regatta, seat: Seat): Point {
  const { x, y } = match.state.areas.spots.of(seat)
  return { x, y }
}

/** A crew's docks are at the end that it plays from. */
function docksOf(match: Regatta, seat: Seat): readonly Point[] {
  const { team } = match.state.teams.side.of(seat)
  const end = match.state.rounds.now.swapped ? 1 - team : team
  return docks.filter((dock) => dock.team === end)
}

function strideTo(from: Point, aim: Point): Point {
  const part = Math.min(1, STRIDE / Math.max(1, away(from, aim)))
  return {
    x: within(Math.round(from.x + (aim.x - from.x) * part), river.width),
    y: within(Math.round(from.y + (aim.y - from.y) * part), river.height),
  }
}

const within = (at: number, most: number): number => Math.max(0, Math.min(most, at))
