import type { Seat } from '../../cells/index.ts'
import { roster } from '../roster/roster.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'
import { ALL, type AreaSettings, type Match, type Point, type Spot, seesAll, type Thing } from './shape.ts'

/** Squared, so that it is exact. */
export const apart = (a: Point, b: Point): number => (a.x - b.x) ** 2 + (a.y - b.y) ** 2

function withMember(members: ReadonlySet<Seat>, seat: Seat, isIn: boolean): Set<Seat> {
  const changed = new Set(members)
  if (isIn) changed.add(seat)
  else changed.delete(seat)
  return changed
}

const MAX_REMEMBERED = 10_000

/** Seats by the sector that they are in now. */
export interface Grid extends ReadonlyMap<string, readonly Seat[]> {}

/** Sets that say who sees whom, updated when a step has settled. */
export class Nearness {
  private readonly near: number
  private readonly far: number
  private readonly isWhole: boolean
  private readonly teamSees: boolean
  private readonly absentSeen: boolean
  private readonly downSees: AreaSettings['downSees']
  /** A sector's neighbours, computed once: they never change. */
  private readonly neighbours: Map<string, readonly string[]> = new Map()

  constructor(settings: AreaSettings) {
    const { near, far = near, teamSees = false, absentSeen = true, downSees = 'place' } = settings
    this.isWhole = seesAll(settings)
    this.teamSees = teamSees
    this.absentSeen = absentSeen
    this.downSees = downSees
    this.near = (near ?? Number.POSITIVE_INFINITY) ** 2
    this.far = (far ?? Number.POSITIVE_INFINITY) ** 2
  }

  sectorOf({ x, y }: Point): string {
    const size = Math.sqrt(this.far)
    return `${Math.floor(x / size)},${Math.floor(y / size)}`
  }

  /** The sectors that hold everything that can be near. */
  private around(sector: string): readonly string[] {
    const known = this.neighbours.get(sector)
    if (known !== undefined) return known
    const [x = 0, y = 0] = sector.split(',').map(Number)
    const found = [-1, 0, 1].flatMap((dx) => [-1, 0, 1].map((dy) => `${x + dx},${y + dy}`))
    if (this.neighbours.size >= MAX_REMEMBERED) this.neighbours.clear()
    this.neighbours.set(sector, found)
    return found
  }

  /** The sectors around where a seat is, and around where it was when last checked. */
  private reach(before: string, now: string): readonly string[] {
    if (before === now || before === '') return now === '' ? [] : this.around(now)
    return now === '' ? this.around(before) : [...new Set([...this.around(before), ...this.around(now)])]
  }

  private isNear(distance: number, was: boolean): boolean {
    return distance <= (was ? this.far : this.near)
  }

  /** Foes see a hidden seat only from within this many units; team-mates see it as usual. */
  private isVeiled(match: Match, viewer: Seat, seat: Seat, hidden: number, distance: number): boolean {
    return distance > hidden * hidden && match.use(teams)?.foes(viewer, seat) !== false
  }

  private isAbsentFoe(match: Match, viewer: Seat, seat: Seat): boolean {
    return !match.use(roster).isHere(seat) && match.use(teams)?.foes(viewer, seat) !== false
  }

  /** True if a seat sees another, as last computed. */
  isSeen(match: Match, viewer: Seat, seat: Seat): boolean {
    const { hidden, near, placed, lit } = match.own.spots.of(seat)
    if (lit.has(ALL) || lit.has(viewer) || (this.isWhole && hidden === undefined)) return placed
    return near.has(viewer) || (placed && this.teamSees && match.use(teams)?.foes(viewer, seat) === false)
  }

  /** True if a seat sees another over this distance: by what a seat that is down sees, then by who is near or hidden. */
  private isInView(match: Match, viewer: Seat, seat: Seat, distance: number, was: boolean): boolean {
    const sight = match.use(vitals)?.isUp(viewer) === false ? this.downSees : 'place'
    if (sight !== 'place') return sight === 'all'
    if (!this.absentSeen && this.isAbsentFoe(match, viewer, seat)) return false
    const { hidden } = match.own.spots.of(seat)
    if (hidden !== undefined && this.isVeiled(match, viewer, seat, hidden, distance)) return false
    return this.isNear(distance, was)
  }

  private meet(match: Match, viewer: Seat, from: Spot, seat: Seat, spot: Spot, forgets: boolean) {
    const { hidden } = spot
    // If everyone sees everything, only hidden seats need to ask who sees them.
    if (this.isWhole && hidden === undefined) return
    const was = spot.near.has(viewer)
    const is =
      from.placed && spot.placed && this.isInView(match, viewer, seat, apart(from, spot), was && !forgets)
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

  /** All seats that have a place, for checks that follow each other while nobody moves. */
  gridOf(match: Match): Grid {
    const grid = new Map<string, Seat[]>()
    if (this.isWhole) return grid
    for (const seat of match.seats) {
      const spot = match.own.spots.of(seat)
      if (!spot.placed) continue
      const sector = this.sectorOf(spot)
      const there = grid.get(sector)
      if (there === undefined) grid.set(sector, [seat])
      else there.push(seat)
    }
    return grid
  }

  /** Seats that can see this one or be seen by it now, or could until now. */
  private others(match: Match, spot: Spot, sectors: readonly string[], grid: Grid): Iterable<Seat> {
    // A seat that is down may see all, and may have seen all until now.
    if (this.isWhole || this.downSees === 'all') return match.seats
    const found = new Set(spot.near)
    for (const sector of sectors) for (const seat of grid.get(sector) ?? []) found.add(seat)
    return found
  }

  look(match: Match, seat: Seat, forgets: boolean, grid: Grid) {
    const spot = match.own.spots.of(seat)
    const sector = spot.placed && !this.isWhole ? this.sectorOf(spot) : ''
    const sectors = this.reach(spot.sector, sector)
    for (const other of this.others(match, spot, sectors, grid)) {
      if (other === seat) continue
      const there = match.own.spots.of(other)
      this.meet(match, other, there, seat, spot, forgets)
      this.meet(match, seat, spot, other, there, forgets)
    }
    for (const here of sectors)
      for (const thing of match.own.things.where({ sector: here })) this.notice(thing, seat, spot, forgets)
    spot.sector = sector
  }
}
