import { type Chance, chanceFrom, type Seat } from 'zinc-referee'
import type { Point } from 'zinc-referee/rules'
import { away, nearest } from '../points.ts'
import { bell, docks, pier } from './pier.ts'
import type { Tide } from './planks.ts'

type View = ReturnType<Tide['view']>

/** How near a foe must be for a throw. */
const SURE = 200

/** Bots that know only their own view: they go for the bell, throw at foes in sight, and look for stones. */
export class Bots {
  private readonly chance: Chance
  private readonly nextThought: Map<Seat, number> = new Map()

  constructor(seed: string) {
    this.chance = chanceFrom(seed, 'bots')
  }

  think(match: Tide, seat: Seat): void {
    if (match.now < (this.nextThought.get(seat) ?? 0)) return
    this.nextThought.set(seat, match.now + this.chance.int(2, 5) * 500)
    const view = match.view(seat)
    const { phase } = view.phases.now
    if (phase === 'over' && view.rounds.wishes[seat]?.rematch === false)
      match.submit(seat, 'rounds.rematch', {})
    if (phase === 'lobby' && view.roster.seats[seat]?.ready === false) match.submit(seat, 'roster.ready', {})
    const here = pointOf(view, seat)
    if (phase !== 'live' || view.vitals.body[seat]?.down !== false || here === undefined) return
    const stones = view.tide.pockets[seat]?.stones ?? 0
    const foe = nearest(here, foesOf(view, seat))
    if (stones > 0 && foe !== undefined && away(here, foe) <= SURE)
      match.submit(seat, 'tide.throw', { target: foe.seat })
    const { x, y } = this.goal(view, seat, here, stones)
    match.submit(seat, 'tide.walk', { x: inside(x, pier.width), y: inside(y, pier.height) })
  }

  private goal(view: View, seat: Seat, here: Point, stones: number): Point {
    const lying = Object.values(view.areas.things).flatMap(({ x, y }) =>
      x === undefined || y === undefined ? [] : [{ x, y }],
    )
    const stone = nearest(here, lying)
    if (stones < 2 && stone !== undefined) return stone
    // Who is hurt keeps away from the bell for a moment.
    const isHurt = (view.vitals.body[seat]?.health ?? 100) <= 50 && this.chance.int(1, 3) === 1
    const dock = nearest(here, docks)
    if (isHurt && dock !== undefined) return dock
    return { x: bell.x + this.chance.int(-50, 50), y: bell.y + this.chance.int(-50, 50) }
  }
}

const inside = (at: number, most: number): number => Math.max(0, Math.min(most, at))

function pointOf(view: View, seat: Seat): Point | undefined {
  const { x, y } = view.areas.spots[seat] ?? {}
  return x === undefined || y === undefined ? undefined : { x, y }
}

function foesOf(view: View, seat: Seat): (Point & { readonly seat: Seat })[] {
  return Object.keys(view.areas.spots).flatMap((other) => {
    const spot = pointOf(view, other)
    const isFoe = view.teams.side[other]?.team !== view.teams.side[seat]?.team
    return spot !== undefined && isFoe && view.vitals.body[other]?.down === false
      ? [{ ...spot, seat: other }]
      : []
  })
}
