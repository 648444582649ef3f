import { RefereeError } from '../../kit/index.ts'
import { declareRule, type MatchOf, refuse } from '../../match/index.ts'
import {
  choice,
  flag,
  int,
  list,
  maybe,
  only,
  owner,
  perSeat,
  type Seat,
  seatRef,
  set,
  single,
  table,
  text,
} from '../../state/index.ts'
import { phases } from '../phases.ts'
import { roster } from '../roster.ts'
import { directionOf, directions } from './compass.ts'

/** A place in whole units, within ±2^24, so that squared distances are exact. */
export interface Point {
  readonly x: number
  readonly y: number
}
export interface AreaSettings {
  /** Whoever comes this near is seen; and whoever is seen stays so until it is further away than `far`. */
  readonly near: number
  readonly far: number
  /** Ms between two updates of a position. */
  readonly every?: number
  /** Whoever moves further than this at once is seen only where it is near: what was seen of it before is forgotten. */
  readonly jump?: number
  /** Ms between two hints of where something lies. */
  readonly hintEvery?: number
}

const MOST = 2 ** 24
const coordinate = int().between(-MOST, MOST)

const ruleOf = ({ every = 50 }: AreaSettings) => {
  const seen = ({ id, near }: { readonly id: Seat; readonly near: ReadonlySet<Seat> }) => only(id, ...near)
  const noticed = ({ near }: { readonly near: ReadonlySet<Seat> }) => only(...near)
  return declareRule({
    name: 'areas',
    needs: [roster, phases],
    state: {
      /** Where a seat is; seen by itself and by those near it. */
      spots: perSeat({
        x: int(0).latest(every),
        y: int(0).latest(every),
        placed: flag(false),
        near: set(seatRef()),
        /** The sector in which it was when it was last looked at. */
        sector: text(''),
      }).seenWhen({ x: seen, y: seen }),
      /** What lies about: seen by the seats near it. */
      things: table({
        kind: text(),
        x: coordinate,
        y: coordinate,
        near: set(seatRef()),
        sector: text(),
      })
        .indexedBy('sector')
        .seenWhen({ kind: noticed, x: noticed, y: noticed }),
      /** Where what a seat looks for lies, told on a beat of its own: how often it changes tells nothing. */
      hints: perSeat({ towards: maybe(choice(...directions)).seenBy(owner), of: maybe(seatRef()) }),
      step: single({ moved: list(seatRef(), []), jumped: list(seatRef(), []) }),
    },
    events: {
      entered: { seat: seatRef(), near: seatRef() },
      left: { seat: seatRef(), near: seatRef() },
    },
    timers: ['hint'],
  })
}
type Match = MatchOf<ReturnType<typeof ruleOf>>
type Spot = ReturnType<Match['own']['spots']['of']>
type Thing = ReturnType<Match['own']['things']['all']>[number]

const apart = (a: Point, b: Point): number => (a.x - b.x) ** 2 + (a.y - b.y) ** 2

function withMember(members: ReadonlySet<Seat>, seat: Seat, isIn: boolean): Set<Seat> {
  const changed = new Set(members)
  if (isIn) changed.add(seat)
  else changed.delete(seat)
  return changed
}

/** Sets that say who is near, kept current in both directions when a step has settled. */
class Nearness {
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

function assertSettings({ near, far, jump = 0, every = 1, hintEvery = 1 }: AreaSettings): void {
  const bad = Object.entries({ near, far, jump, every, hintEvery }).filter(
    ([, value]) => !Number.isSafeInteger(value) || value < 0 || value > MOST,
  )
  const issues = bad.map(([name, value]) => `'${name}' must be a whole number from 0 to 2^24, not ${value}`)
  if (issues.length === 0 && far < near) issues.push(`'far' is ${far}, and must be at least 'near', ${near}`)
  if (issues.length === 0 && far === 0) issues.push("'far' must be more than 0")
  if (issues.length > 0) throw new RefereeError('ZR_SETTING_INVALID', { rule: 'areas', issues })
}

/**
 * Seats see only what is near: positions of others, and things that lie about.
 *
 * @throws ZR_SETTING_INVALID for distances and times that cannot be
 */
export const areasOf = (settings: AreaSettings) => {
  assertSettings(settings)
  const { jump = Number.POSITIVE_INFINITY, hintEvery = 1000 } = settings
  const nearness = new Nearness(settings)

  function place(match: Match, seat: Seat, to: Point, forgets = false) {
    if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
    const spot = match.own.spots.of(seat)
    const { step } = match.own
    if (forgets || !spot.placed || apart(spot, to) > jump * jump) step.jumped = [...step.jumped, seat]
    spot.x = to.x
    spot.y = to.y
    spot.placed = true
    if (!step.moved.includes(seat)) step.moved = [...step.moved, seat]
    return undefined
  }

  function unplace(match: Match, seat: Seat) {
    const spot = match.own.spots.of(seat)
    if (!spot.placed) return
    spot.placed = false
    nearness.look(match, seat, true)
  }

  function add(match: Match, kind: string, at: Point): string {
    const thing = match.own.things.add({ kind, ...at, sector: nearness.sectorOf(at) })
    for (const seat of match.seats) nearness.notice(thing, seat, match.own.spots.of(seat), true)
    return thing.id
  }

  /** A target without a place, or that is out or gone, is nowhere: the last hint is not kept. */
  function hint(match: Match, seat: Seat) {
    const row = match.own.hints.of(seat)
    const [from, target] = [match.own.spots.of(seat), row.of]
    const to =
      target === undefined || !match.use(roster).isInPlay(target) ? undefined : match.own.spots.of(target)
    row.towards = to?.placed && from.placed ? directionOf(to.x - from.x, to.y - from.y) : undefined
  }

  return ruleOf(settings).does({
    facts: {
      /** Where a seat is now, as the game's own simulation knows it. */
      at: {
        input: { seat: seatRef(), x: coordinate, y: coordinate },
        hear: (match, { seat, x, y }) => place(match, seat, { x, y }),
      },
    },
    timers: { hint: (match, seat) => hint(match, seat) },
    on: {
      'roster.left': (match, { seat }) => unplace(match, seat),
      'roster.out': (match, { seat }) => unplace(match, seat),
    },
    settle: {
      wokenBy: ['step'],
      run(match) {
        const { moved, jumped } = match.own.step
        if (moved.length === 0) return
        match.own.step.moved = []
        match.own.step.jumped = []
        for (const seat of moved) nearness.look(match, seat, jumped.includes(seat))
      },
    },
    calls: {
      /** Puts a seat somewhere else: what was seen of it before is forgotten. */
      put: (match, seat: Seat, to: Point) => place(match, seat, to, true),
      /** Where a seat is; nothing where it has no place. */
      spot(match, seat: Seat): Point | undefined {
        const { x, y, placed } = match.own.spots.of(seat)
        return placed ? { x, y } : undefined
      },
      /** Whether two seats see one another. */
      sees: (match, seat: Seat, other: Seat): boolean => match.own.spots.of(seat).near.has(other),
      /** Who sees a seat, and whom it sees, beside itself. */
      nearTo: (match, seat: Seat): readonly Seat[] => [...match.own.spots.of(seat).near],
      /** Whether a seat is within so many units of a point. */
      isWithin(match, seat: Seat, point: Point, units: number): boolean {
        const spot = match.own.spots.of(seat)
        return spot.placed && apart(spot, point) <= units * units
      },
      add,
      thing: (match, id: string): (Point & { readonly kind: string }) | undefined => {
        const thing = match.own.things.get(id)
        return thing && { kind: thing.kind, x: thing.x, y: thing.y }
      },
      remove: (match, id: string) => match.own.things.remove(id),
      /** How many things of a kind lie about. */
      count: (match, kind: string): number => match.own.things.where({ kind }).length,
      /** From now on a seat is told in which direction another lies; nobody ends it. */
      point(match, seat: Seat, target: Seat | undefined) {
        match.own.hints.of(seat).of = target
        if (target === undefined) {
          match.timers.cancel('hint', seat)
          match.own.hints.of(seat).towards = undefined
        } else if (!match.timers.runs('hint', seat)) {
          hint(match, seat)
          match.timers.start('hint', { every: hintEvery, key: seat })
        }
      },
    },
  })
}
