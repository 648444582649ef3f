import { type Seat, seatRef } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { inPhase, moving } from '../gates.ts'
import { roster } from '../roster/roster.ts'
import { directionOf } from './compass.ts'
import { walkOn } from './moves.ts'
import { apart, Nearness } from './nearness.ts'
import { type AreaSettings, assertSettings, coordinate, type Match, type Point, ruleOf } from './shape.ts'

/**
 * Where seats and things are, and that seats see only what is near. Positions come as facts of the game's own
 * simulation, or from clients within a top speed and walls.
 *
 * @throws ZR_SETTING_INVALID for distances and times that cannot be
 */
export const areasOf = (settings: AreaSettings = {}) => {
  assertSettings(settings)
  const { jump = Number.POSITIVE_INFINITY, hintEvery = 1000 } = settings
  const nearness = new Nearness(settings)

  function place(match: Match, seat: Seat, to: Point, forgets = false) {
    if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
    const spot = match.own.spots.of(seat)
    if (forgets || !spot.placed) spot.walked = match.time.phase
    if (forgets || !spot.placed || apart(spot, to) > jump * jump) spot.jumped = true
    spot.x = to.x
    spot.y = to.y
    spot.placed = true
    spot.reported = match.time.phase
    stir(match, seat)
    return undefined
  }

  function stir(match: Match, seat: Seat) {
    match.own.spots.of(seat).moved = true
    match.own.step.stirred = true
  }

  function unplace(match: Match, seat: Seat) {
    const spot = match.own.spots.of(seat)
    if (!spot.placed) return
    spot.placed = false
    nearness.look(match, seat, true, nearness.gridOf(match))
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
    discloses: ['areas.things.x', 'areas.things.y'].map((secret) => ({
      secret,
      by: 'again',
      to: 'everyone',
      why: 'what lies there is known again by its place',
    })),
    facts: {
      /** Where a seat is now, as the game's own simulation knows it. */
      at: {
        input: { seat: seatRef(), x: coordinate, y: coordinate },
        // Even in a pause: a game's bodies may still slide to a halt.
        when: inPhase('countdown', 'live', 'break', 'over'),
        handle: (match, { seat, x, y }) => place(match, seat, { x, y }),
      },
    },
    actions: {
      /** Where a client says that its own seat is. What is too fast or through a wall is refused with where it is. */
      move: {
        when: moving,
        input: { x: coordinate, y: coordinate },
        decide: (match, seat, to) => walkOn(match, seat, to, settings) ?? place(match, seat, to),
      },
    },
    timers: { hint: (match, seat) => hint(match, seat) },
    on: {
      // A halt in which nobody could move gives no time to move in.
      'phases.frozen'(match, { on }) {
        if (!on) for (const seat of match.seats) match.own.spots.of(seat).reported = match.time.phase
      },
      'roster.left': (match, { seat }) => unplace(match, seat),
      'roster.sidelined': (match, { seat }) => unplace(match, seat),
    },
    settle: {
      wokenBy: ['step'],
      run(match) {
        if (!match.own.step.stirred) return
        match.own.step.stirred = false
        const grid = nearness.gridOf(match)
        for (const seat of match.seats) {
          const spot = match.own.spots.of(seat)
          if (!spot.moved) continue
          spot.moved = false
          nearness.look(match, seat, spot.jumped, grid)
          spot.jumped = false
        }
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
      /** Whether a seat sees another. */
      sees: (match, seat: Seat, other: Seat): boolean => nearness.isSeen(match, seat, other),
      /** Who sees a seat because it is near, beside itself. */
      nearTo: (match, seat: Seat): readonly Seat[] => [...match.own.spots.of(seat).near],
      /** From now on foes see a seat only from within so many units; nobody says within what: as ever. */
      hide(match, seat: Seat, within: number | undefined) {
        match.own.spots.of(seat).hidden = within
        stir(match, seat)
      },
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
      /** From now on a seat is shown in which direction another is; nobody ends it. */
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

/** Positions that everyone sees, but for who is hidden; and the handle by which other rules know of areas. */
export const areas = areasOf()
