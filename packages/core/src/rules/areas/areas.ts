import { type Seat, seatRef } from '../../cells/index.ts'
import { inPhase, moving } from '../gates.ts'
import { add, hide, hint, lookAround, place, point, standStill, unplace } from './bodies.ts'
import { walkOn } from './moves.ts'
import { apart, Nearness } from './nearness.ts'
import { type AreaSettings, assertSettings, coordinate, type Point, ruleOf } from './shape.ts'

/** What it refuses with. */
const refusals = {
  'cannot-move': 'This seat cannot move by itself yet. Wait until it has a place.',
  'too-fast': 'No seat gets that far so soon. Go on from where the refusal says it is.',
  blocked: 'Something is in the way. Go on from where the refusal says it is.',
}

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

  return ruleOf(settings).does({
    refusals,
    discloses: ['areas.things.x', 'areas.things.y'].map((secret) => ({
      secret,
      by: 'again',
      to: 'everyone',
      why: 'what lies there is known again by its place',
    })),
    actions: {
      /** Where a client says that its own seat is. What is too fast or through a wall is refused with where it is. */
      move: {
        when: moving,
        input: { x: coordinate, y: coordinate },
        decide: (match, seat, to) => walkOn(match, seat, to, settings) ?? place(match, seat, to, jump),
      },
    },
    facts: {
      /** Where a seat is now, as the game's own simulation knows it. */
      at: {
        input: { seat: seatRef(), x: coordinate, y: coordinate },
        // Even in a pause: a game's bodies may still slide to a halt.
        when: inPhase('countdown', 'live', 'break', 'over'),
        handle: (match, { seat, x, y }) => place(match, seat, { x, y }, jump),
      },
    },
    timers: { hint: (match, seat) => hint(match, seat) },
    on: {
      'phases.frozen'(match, { on }) {
        if (!on) standStill(match)
      },
      'roster.left': (match, { seat }) => unplace(match, seat, nearness),
      'roster.sidelined': (match, { seat }) => unplace(match, seat, nearness),
    },
    settle: { wokenBy: ['step'], run: (match) => lookAround(match, nearness) },
    calls: {
      /** Puts a seat somewhere else: what was seen of it before is forgotten. */
      put: (match, seat: Seat, to: Point) => place(match, seat, to, jump, true),
      /** Where a seat is; nothing where it has no place. */
      spot(match, seat: Seat): Point | undefined {
        const { x, y, placed } = match.own.spots.of(seat)
        return placed ? { x, y } : undefined
      },
      /** Whether a seat sees another. */
      sees: (match, seat: Seat, other: Seat): boolean => nearness.isSeen(match, seat, other),
      /** Who sees a seat because it is near, except itself. */
      nearTo: (match, seat: Seat): readonly Seat[] => [...match.own.spots.of(seat).near],
      /** From now on foes see a seat only from within this many units; with nothing: as ever. */
      hide,
      /** Whether a seat is within this many units of a point. */
      isWithin(match, seat: Seat, point: Point, units: number): boolean {
        const spot = match.own.spots.of(seat)
        return spot.placed && apart(spot, point) <= units * units
      },
      /** Lays a thing of a kind there, and returns its id. */
      add: (match, kind: string, at: Point): string => add(match, kind, at, nearness),
      /** Returns a thing; nothing where it is gone. */
      thing: (match, id: string): (Point & { readonly kind: string }) | undefined => {
        const thing = match.own.things.get(id)
        return thing && { kind: thing.kind, x: thing.x, y: thing.y }
      },
      /** Takes a thing away. */
      remove: (match, id: string) => match.own.things.remove(id),
      /** How many things of a kind lie about. */
      count: (match, kind: string): number => match.own.things.where({ kind }).length,
      /** From now on a seat is shown in which direction another is; nobody ends it. */
      point: (match, seat: Seat, target: Seat | undefined) => point(match, seat, target, hintEvery),
    },
  })
}

/** Positions that everyone sees, but for who is hidden; and the handle by which other rules know of areas. */
export const areas = areasOf()
