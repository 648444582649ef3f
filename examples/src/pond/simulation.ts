import { type Chance, chanceFrom, type MatchFor, type Seat } from 'zinc-referee'
import type { Point } from 'zinc-referee/rules'
import { away, nearest } from '../points.ts'
import { MINNOWS, type pikePond, REACH } from './rulebook.ts'
import { pond, reeds, reedsAt } from './water.ts'

/** A match of the pond. */
export type Pond = MatchFor<typeof pikePond>

interface Food extends Point {
  readonly id: string
  readonly kind: string
}

const FEAR = 100
const [MINNOW_SPEED, PIKE_SPEED] = [0.072, 0.085] // units in a ms

/**
 * The game's own simulation. It swims every fish, keeps pikes out of the reeds, and reports where each one gets to.
 * A fish that it drives goes by what it sees near it, or else anywhere it likes.
 */
export class PondSimulation {
  private readonly chance: Chance
  private readonly aims: Map<Seat, Point> = new Map()

  constructor(seed: string) {
    this.chance = chanceFrom(seed, 'pond')
  }

  /** Moves all fish for this many ms. Fish that it does not drive go where their players sent them. */
  stroke(match: Pond, ms: number, drives: (seat: Seat) => boolean = () => true): void {
    const { phase } = match.state.phases.now
    if (phase !== 'live' && phase !== 'over') return
    const fish = match.seats.filter((seat) => !match.state.vitals.body.of(seat).down && spotOf(match, seat))
    const moves = fish.map((seat) => ({ seat, ...this.swim(match, seat, ms, drives(seat)) }))
    match.reportAll('areas.at', moves)
    if (phase === 'live') for (const seat of this.chance.shuffle(fish)) this.eat(match, seat)
  }

  private swim(match: Pond, seat: Seat, ms: number, drives: boolean): Point {
    const from = spotOf(match, seat) ?? { x: 0, y: 0 }
    const aim = drives ? this.aimOf(match, seat, from) : (headingOf(match, seat) ?? from)
    const speed = isMinnow(match, seat) ? MINNOW_SPEED : PIKE_SPEED
    const part = Math.min(1, (speed * ms) / Math.max(1, away(from, aim)))
    const to = {
      x: clamp(Math.round(from.x + (aim.x - from.x) * part), pond.width),
      y: clamp(Math.round(from.y + (aim.y - from.y) * part), pond.height),
    }
    return isMinnow(match, seat) ? to : outOfReeds(to)
  }

  private aimOf(match: Pond, seat: Seat, from: Point): Point {
    return isMinnow(match, seat) ? this.minnowAim(match, seat, from) : this.pikeAim(match, seat, from)
  }

  /** Away from a pike that is near, to the reeds if they are near too; else to food, and now and then to a mate. */
  private minnowAim(match: Pond, seat: Seat, from: Point): Point {
    const seen = seenBy(match, seat)
    const pike = nearest(
      from,
      spotsOf(
        match,
        seen.filter((other) => !isMinnow(match, other)),
      ),
    )
    if (pike !== undefined && away(from, pike) < FEAR && !match.state.pond.fish.of(seat).shoal) {
      const patch = nearest(from, reeds)
      if (patch !== undefined && away(from, patch) < FEAR + patch.breadth) return patch
      const mate = nearest(
        from,
        spotsOf(
          match,
          seen.filter((other) => isMinnow(match, other)),
        ),
      )
      if (mate !== undefined && away(from, mate) < away(pike, mate)) return mate
      return { x: 2 * from.x - pike.x, y: 2 * from.y - pike.y }
    }
    return nearest(from, foodFor(match, seat)) ?? this.anywhere(seat, from)
  }

  /** To the nearest minnow that it can bite or scatter, or to the moonfly. */
  private pikeAim(match: Pond, seat: Seat, from: Point): Point {
    const prey = seenBy(match, seat).filter((other) => isMinnow(match, other) && isOpen(match, other))
    return nearest(from, [...spotsOf(match, prey), ...foodFor(match, seat)]) ?? this.anywhere(seat, from)
  }

  private anywhere(seat: Seat, from: Point): Point {
    const aim = this.aims.get(seat)
    if (aim !== undefined && away(from, aim) > REACH) return aim
    const next = { x: this.chance.int(0, pond.width), y: this.chance.int(0, pond.height) }
    this.aims.set(seat, next)
    return next
  }

  private eat(match: Pond, seat: Seat): void {
    const from = spotOf(match, seat) ?? { x: 0, y: 0 }
    const within = (there: Point): boolean => away(from, there) <= REACH
    if (!isMinnow(match, seat))
      for (const other of seenBy(match, seat))
        if (isMinnow(match, other) && spotsOf(match, [other]).some(within))
          match.report('pond.bit', { by: seat, target: other })
    for (const { id } of foodFor(match, seat).filter(within)) match.report('pond.ate', { seat, thing: id })
  }
}

const isMinnow = (match: Pond, seat: Seat): boolean => match.state.teams.side.of(seat).team === MINNOWS

function spotOf(match: Pond, seat: Seat): Point | undefined {
  const { x, y, placed } = match.state.areas.spots.of(seat)
  return placed ? { x, y } : undefined
}
const spotsOf = (match: Pond, seats: readonly Seat[]): Point[] =>
  seats.flatMap((seat) => spotOf(match, seat) ?? [])

function headingOf(match: Pond, seat: Seat): Point | undefined {
  const { x, y } = match.state.pond.heading.of(seat)
  return x === undefined || y === undefined ? undefined : { x, y }
}

const seenBy = (match: Pond, seat: Seat): Seat[] =>
  [...match.state.areas.spots.of(seat).near].filter((other) => !match.state.vitals.body.of(other).down)

/** What a fish sees and can eat. */
const foodFor = (match: Pond, seat: Seat): Food[] =>
  match.state.areas.things
    .all()
    .filter(({ near, kind }) => near.has(seat) && (kind === 'moonfly' || isMinnow(match, seat)))
    .map(({ id, kind, x, y }) => ({ id, kind, x, y }))

/** A minnow outside of the reeds. What is in a shoal may be worth a try. */
const isOpen = (match: Pond, seat: Seat): boolean =>
  spotsOf(match, [seat]).every((spot) => reedsAt(spot) === undefined)

/** The nearest place beside the reeds. */
function outOfReeds(spot: Point): Point {
  const patch = reedsAt(spot)
  if (patch === undefined) return spot
  const apart = Math.max(1, away(patch, spot))
  const part = (patch.breadth + 2) / apart
  return {
    x: clamp(Math.round(patch.x + (spot.x - patch.x) * part), pond.width),
    y: clamp(Math.round(patch.y + (spot.y - patch.y) * part), pond.height),
  }
}

const clamp = (n: number, most: number): number => Math.max(0, Math.min(most, n))
