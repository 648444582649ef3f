import { type Chance, chanceFrom, type MatchFor, type Seat } from 'zinc-referee'
import type { Point } from 'zinc-referee/rules'
import { away } from '../points.ts'
import type { bellTide } from './rulebook.ts'

/** A match of Bell Tide. */
export type Tide = MatchFor<typeof bellTide>

/** Four metres a second. */
const SPEED = 0.04
const REACH = 20
/** From this far no stone hits. */
const SURE_MISS = 350

/**
 * The game's own simulation. It walks everyone, decides whether a stone hits, and finds out who comes upon a stone that
 * lies about. All of that it reports to the referee.
 */
export class Planks {
  private readonly chance: Chance

  constructor(seed: string) {
    this.chance = chanceFrom(seed, 'planks')
  }

  /** Moves everything on by this many ms. */
  pass(match: Tide, ms: number): void {
    if (match.state.phases.now.phase !== 'live') return
    const up = match.seats.filter((seat) => !match.state.vitals.body.of(seat).down && spotOf(match, seat))
    match.reportAll(
      'areas.at',
      up.flatMap((seat) => this.walk(match, seat, ms) ?? []),
    )
    for (const { id, by, target } of match.state.tide.flying.all())
      match.report('tide.landed', { stone: id, hits: this.hits(match, by, target) })
    for (const seat of up) this.gather(match, seat)
  }

  private walk(match: Tide, seat: Seat, ms: number): ({ readonly seat: Seat } & Point) | undefined {
    const from = spotOf(match, seat)
    const { x, y } = match.state.tide.walks.of(seat)
    if (from === undefined || x === undefined || y === undefined || away(from, { x, y }) < 1) return undefined
    const part = Math.min(1, (SPEED * ms) / away(from, { x, y }))
    return {
      seat,
      x: Math.round(from.x + (x - from.x) * part),
      y: Math.round(from.y + (y - from.y) * part),
    }
  }

  /** The nearer, the surer. */
  private hits(match: Tide, by: Seat, target: Seat): boolean {
    const [from, to] = [spotOf(match, by), spotOf(match, target)]
    if (from === undefined || to === undefined) return false
    return this.chance.int(1, SURE_MISS) > away(from, to)
  }

  private gather(match: Tide, seat: Seat): void {
    const spot = spotOf(match, seat)
    for (const { id, x, y } of match.state.areas.things.all())
      if (spot !== undefined && away(spot, { x, y }) <= REACH)
        match.report('tide.gathered', { seat, stone: id })
  }
}

function spotOf(match: Tide, seat: Seat): Point | undefined {
  const { x, y, placed } = match.state.areas.spots.of(seat)
  return placed ? { x, y } : undefined
}
