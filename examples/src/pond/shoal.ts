import { type Chance, chanceFrom, type MatchFor, type Seat } from 'zinc-referee'
import type { Point } from 'zinc-referee/rules'
import { away } from '../points.ts'
import { MINNOWS, type pikePond } from './rulebook.ts'
import { pond } from './water.ts'

/** A match of the pond. */
export type Pond = MatchFor<typeof pikePond>

interface Food extends Point {
  readonly id: string
  readonly kind: string
}

const REACH = 24

/**
 * The game's own simulation. It swims every fish, decides where each one gets to, and reports that to the referee. A
 * fish goes for what it sees near it, or else anywhere it likes.
 */
export class Shoal {
  private readonly chance: Chance
  private readonly aims: Map<Seat, Point> = new Map()

  constructor(seed: string) {
    this.chance = chanceFrom(seed, 'shoal')
  }

  /** Moves all fish for this many ms. Fish that it does not drive go where their players sent them. */
  stroke(match: Pond, ms: number, drives: (seat: Seat) => boolean = () => true): void {
    const { phase } = match.state.phases.now
    if (phase !== 'live' && phase !== 'over') return
    const fish = match.seats.filter(
      (seat) => !match.state.vitals.body.of(seat).down && this.spot(match, seat),
    )
    const moves = fish.map((seat) => ({ seat, ...this.swim(match, seat, ms, drives(seat)) }))
    match.reportAll('areas.at', moves)
    if (phase === 'live') for (const seat of fish) this.bite(match, seat)
  }

  private spot(match: Pond, seat: Seat): Point | undefined {
    const { x, y, placed } = match.state.areas.spots.of(seat)
    return placed ? { x, y } : undefined
  }

  private swim(match: Pond, seat: Seat, ms: number, drives: boolean): Point {
    const from = this.spot(match, seat) ?? { x: 0, y: 0 }
    const aim = drives ? this.choice(match, seat, from) : (this.heading(match, seat) ?? from)
    const speed = this.isMinnow(match, seat) ? 0.075 : 0.085
    const part = Math.min(1, (speed * ms) / Math.max(1, away(from, aim)))
    return {
      x: clamp(Math.round(from.x + (aim.x - from.x) * part), pond.width),
      y: clamp(Math.round(from.y + (aim.y - from.y) * part), pond.height),
    }
  }

  private heading(match: Pond, seat: Seat): Point | undefined {
    const { x, y } = match.state.pond.heading.of(seat)
    return x === undefined || y === undefined ? undefined : { x, y }
  }

  /** Returns a point away from a hunter, or else towards what it wishes for. */
  private choice(match: Pond, seat: Seat, from: Point): Point {
    const [fear, wish] = [this.hunter(match, seat), this.wish(match, seat)]
    return fear === undefined ? wish : { x: 2 * from.x - fear.x, y: 2 * from.y - fear.y }
  }

  /** Returns the nearest prey or food that it sees, or else a point of its own choice. */
  private wish(match: Pond, seat: Seat): Point {
    const from = this.spot(match, seat) ?? { x: 0, y: 0 }
    const prey = this.seen(match, seat).flatMap((other) =>
      this.hunts(match, seat, other) ? (this.spot(match, other) ?? []) : [],
    )
    const [nearest] = [...prey, ...this.food(match, seat)].sort((a, b) => away(from, a) - away(from, b))
    if (nearest !== undefined) return nearest
    const aim = this.aims.get(seat)
    if (aim !== undefined && away(from, aim) > REACH) return aim
    const next = { x: this.chance.int(0, pond.width), y: this.chance.int(0, pond.height) }
    this.aims.set(seat, next)
    return next
  }

  private hunter(match: Pond, seat: Seat): Point | undefined {
    const from = this.spot(match, seat) ?? { x: 0, y: 0 }
    const foes = this.seen(match, seat).flatMap((other) =>
      this.hunts(match, other, seat) ? (this.spot(match, other) ?? []) : [],
    )
    return foes.find((foe) => away(from, foe) < 90)
  }

  private bite(match: Pond, seat: Seat): void {
    const from = this.spot(match, seat) ?? { x: 0, y: 0 }
    for (const other of this.seen(match, seat)) {
      const there = this.spot(match, other)
      if (there !== undefined && away(from, there) <= REACH && this.hunts(match, seat, other))
        match.report('pond.bit', { by: seat, target: other })
    }
    for (const { id } of this.food(match, seat).filter((food) => away(from, food) <= REACH))
      match.report('pond.ate', { seat, thing: id })
  }

  /** Returns what a fish sees and can eat. */
  private food(match: Pond, seat: Seat): Food[] {
    const isMinnow = this.isMinnow(match, seat)
    return match.state.areas.things
      .all()
      .filter(({ near, kind }) => near.has(seat) && (isMinnow || kind === 'moonfly'))
      .map(({ id, kind, x, y }) => ({ id, kind, x, y }))
  }

  private seen(match: Pond, seat: Seat): Seat[] {
    const near = [...match.state.areas.spots.of(seat).near]
    return near.filter((other) => !match.state.vitals.body.of(other).down)
  }

  private isMinnow(match: Pond, seat: Seat): boolean {
    return match.state.teams.side.of(seat).team === MINNOWS
  }

  private hunts(match: Pond, seat: Seat, other: Seat): boolean {
    const { turned } = match.state.pond.tide
    return this.isMinnow(match, seat) !== this.isMinnow(match, other) && this.isMinnow(match, seat) === turned
  }
}

const clamp = (n: number, most: number): number => Math.max(0, Math.min(most, n))
