import type { Seat } from '../../state/index.ts'
import { teams } from '../teams/teams.ts'
import type { AreaSettings, Match, Point, Spot, Thing } from './shape.ts'

/** Squared, so that it is exact. */
export const apart = (a: Point, b: Point): number => (a.x - b.x) ** 2 + (a.y - b.y) ** 2

function withMember(members: ReadonlySet<Seat>, seat: Seat, isIn: boolean): Set<Seat> {
  const changed = new Set(members)
  if (isIn) changed.add(seat)
  else changed.delete(seat)
  return changed
}

/** Sets that say who sees whom, kept current when a step has settled. */
export class Nearness {
  private readonly near: number
  private readonly far: number
  private readonly isWhole: boolean

  constructor({ near, far = near }: AreaSettings) {
    this.isWhole = near === undefined
    this.near = (near ?? Number.POSITIVE_INFINITY) ** 2
    this.far = (far ?? Number.POSITIVE_INFINITY) ** 2
  }

  sectorOf({ x, y }: Point): string {
    const size = Math.sqrt(this.far)
    return `${Math.floor(x / size)},${Math.floor(y / size)}`
  }

  /** The sectors in which all lies that can be near, or can have been. */
  private around(sector: string): string[] {
    if (sector === '') return []
    const [x = 0, y = 0] = sector.split(',').map(Number)
    return [-1, 0, 1].flatMap((dx) => [-1, 0, 1].map((dy) => `${x + dx},${y + dy}`))
  }

  private isNear(distance: number, was: boolean): boolean {
    return distance <= (was ? this.far : this.near)
  }

  /** Foes see who is hidden only from within so many units; team-mates see it as ever. */
  private isVeiled(match: Match, viewer: Seat, seat: Seat, hidden: number, distance: number): boolean {
    return distance > hidden * hidden && match.use(teams)?.foes(viewer, seat) !== false
  }

  /** Whether a seat sees another, as it was last worked out. */
  isSeen(match: Match, viewer: Seat, seat: Seat): boolean {
    const { hidden, near, placed } = match.own.spots.of(seat)
    return this.isWhole && hidden === undefined ? placed : near.has(viewer)
  }

  private meet(match: Match, viewer: Seat, from: Spot, seat: Seat, spot: Spot, forgets: boolean) {
    const { hidden } = spot
    // Where everyone sees everything, only who is hidden asks who sees it.
    if (this.isWhole && hidden === undefined) return
    const was = spot.near.has(viewer)
    let is = from.placed && spot.placed
    if (is) {
      const distance = apart(from, spot)
      is = this.isNear(distance, was && !forgets)
      if (hidden !== undefined) is &&= !this.isVeiled(match, viewer, seat, hidden, distance)
    }
    if (was === is) return
    spot.near = withMember(spot.near, viewer, is)
    if (!this.isWhole) match.emit(is ? 'entered' : 'left', { seat: viewer, near: seat })
  }

  notice(thing: Thing, seat: Seat, spot: Spot, forgets: boolean) {
    if (this.isWhole) return
    const was = thing.near.has(seat)
    const is = spot.placed && this.isNear(apart(thing, spot), was && !forgets)
    if (was !== is) thing.near = withMember(thing.near, seat, is)
  }

  look(match: Match, seat: Seat, forgets: boolean) {
    const spot = match.own.spots.of(seat)
    for (const other of match.seats) {
      if (other === seat) continue
      const there = match.own.spots.of(other)
      this.meet(match, other, there, seat, spot, forgets)
      this.meet(match, seat, spot, other, there, forgets)
    }
    if (this.isWhole) return
    const sector = spot.placed ? this.sectorOf(spot) : ''
    for (const here of new Set([...this.around(spot.sector), ...this.around(sector)]))
      for (const thing of match.own.things.where({ sector: here })) this.notice(thing, seat, spot, forgets)
    spot.sector = sector
  }
}
