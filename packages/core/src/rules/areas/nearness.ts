import type { Seat } from '../../state/index.ts'
import type { AreaSettings, Match, Point, Spot, Thing } from './shape.ts'

/** Squared, so that it is exact. */
export const apart = (a: Point, b: Point): number => (a.x - b.x) ** 2 + (a.y - b.y) ** 2

function withMember(members: ReadonlySet<Seat>, seat: Seat, isIn: boolean): Set<Seat> {
  const changed = new Set(members)
  if (isIn) changed.add(seat)
  else changed.delete(seat)
  return changed
}

/** Sets that say who is near, kept current in both directions when a step has settled. */
export class Nearness {
  private readonly near: number
  private readonly far: number

  constructor({ near, far }: AreaSettings) {
    this.near = near * near
    this.far = far * far
  }

  sectorOf({ x, y }: Point): string {
    const size = Math.sqrt(this.far)
    return `${Math.floor(x / size)},${Math.floor(y / size)}`
  }

  /** The sectors in which all lies that can be near, or can have been. */
  around(sector: string): string[] {
    if (sector === '') return []
    const [x = 0, y = 0] = sector.split(',').map(Number)
    return [-1, 0, 1].flatMap((dx) => [-1, 0, 1].map((dy) => `${x + dx},${y + dy}`))
  }

  isNear(distance: number, was: boolean): boolean {
    return distance <= (was ? this.far : this.near)
  }

  /** Two seats see one another or not. */
  meet(match: Match, seat: Seat, other: Seat, forgets: boolean) {
    const [one, two] = [match.own.spots.of(seat), match.own.spots.of(other)]
    const was = one.near.has(other)
    const is = one.placed && two.placed && this.isNear(apart(one, two), was && !forgets)
    if (was === is) return
    one.near = withMember(one.near, other, is)
    two.near = withMember(two.near, seat, is)
    match.emit(is ? 'entered' : 'left', { seat, near: other })
  }

  notice(thing: Thing, seat: Seat, spot: Spot, forgets: boolean) {
    const was = thing.near.has(seat)
    const is = spot.placed && this.isNear(apart(thing, spot), was && !forgets)
    if (was !== is) thing.near = withMember(thing.near, seat, is)
  }

  look(match: Match, seat: Seat, forgets: boolean) {
    const spot = match.own.spots.of(seat)
    for (const other of match.seats) if (other !== seat) this.meet(match, seat, other, forgets)
    const sector = spot.placed ? this.sectorOf(spot) : ''
    for (const here of new Set([...this.around(spot.sector), ...this.around(sector)]))
      for (const thing of match.own.things.where({ sector: here })) this.notice(thing, seat, spot, forgets)
    spot.sector = sector
  }
}
