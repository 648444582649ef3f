import { nobody, only, type Seat, seatRef } from '../../cells/index.ts'
import { inPhase, moving } from '../gates.ts'
import { whenOutOfPlay } from '../play.ts'
import { teams } from '../teams/teams.ts'
import {
  add,
  hide,
  hint,
  lookAround,
  place,
  point,
  reveal,
  standStill,
  stir,
  unlight,
  unplace,
  unseenFoes,
} from './bodies.ts'
import { walkOn } from './moves.ts'
import { apart, Nearness } from './nearness.ts'
import {
  type AreaSettings,
  assertSettings,
  coordinate,
  type Match,
  type Point,
  ruleOf,
  seesAll,
  watchersOf,
} from './shape.ts'

/** What it refuses with. */
const refusals = {
  'cannot-move': 'This seat cannot move by itself yet. Wait until it has a place.',
  'too-fast': 'No seat gets that far so soon. Go on from where the refusal says it is.',
  blocked: 'Something is in the way. Go on from where the refusal says it is.',
}

/** What it tells by other means. */
const discloses = ['areas.things.x', 'areas.things.y'].map((secret) => ({
  secret,
  by: 'again',
  to: 'everyone',
  why: 'what lies there is known again by its place',
}))

/**
 * Where seats and things are. A seat sees only what is near it. Positions come as facts of the game's own simulation,
 * or from clients within a top speed and walls.
 *
 * @throws ZR_SETTING_INVALID for distances and times that are out of bounds
 */
export const areasOf = (settings: AreaSettings = {}) => {
  assertSettings(settings)
  const { jump = Number.POSITIVE_INFINITY, hintEvery = 1000, teamSees = false } = settings
  const { downSees = 'place', absentSeen = true } = settings
  const nearness = new Nearness(settings)
  const lookAgain = (match: Match, { seat }: { readonly seat: Seat }): void => {
    if (downSees !== 'place' || !absentSeen) stir(match, seat)
  }

  return ruleOf(settings).does({
    refusals,
    discloses,
    inSight: (match, seat) =>
      watchersOf(
        seat,
        match.own.spots.of(seat),
        seesAll(settings),
        teamSees ? only(...(match.use(teams)?.mates(seat) ?? [])) : nobody,
      ),
    actions: {
      /**
       * A client reports where its own seat is. If that is too fast or through a wall, it is refused with the last
       * good position.
       */
      move: {
        when: moving,
        input: { x: coordinate, y: coordinate },
        decide: (match, seat, to) => walkOn(match, seat, to, settings) ?? place(match, seat, to, jump),
      },
    },
    facts: {
      /** Reports where a seat is now, as the game's own simulation knows it. */
      at: {
        input: { seat: seatRef(), x: coordinate, y: coordinate },
        // Runs in a pause too: bodies of the game may still slide to a halt.
        when: inPhase('countdown', 'live', 'break', 'over'),
        handle: (match, { seat, x, y }) => place(match, seat, { x, y }, jump),
      },
    },
    timers: { hint: (match, seat) => hint(match, seat), unlit: (match, seat) => unlight(match, seat) },
    on: {
      'vitals.down': lookAgain,
      'vitals.raised': lookAgain,
      'vitals.life-began': lookAgain,
      'roster.absent': lookAgain,
      'roster.returned': lookAgain,
      'phases.frozen'(match, { on }) {
        if (!on) standStill(match)
      },
      ...whenOutOfPlay((match: Match, seat) => unplace(match, seat, nearness)),
    },
    settle: { wokenBy: ['step'], run: (match) => lookAround(match, nearness) },
    calls: {
      /** Puts a seat somewhere else. What others saw of it before is forgotten. */
      put: (match, seat: Seat, to: Point) => place(match, seat, to, jump, true),
      /** Returns where a seat is, or nothing if it has no place. */
      spot(match, seat: Seat): Point | undefined {
        const { x, y, placed } = match.own.spots.of(seat)
        return placed ? { x, y } : undefined
      },
      /** True if a seat sees another. */
      sees: (match, seat: Seat, other: Seat): boolean => nearness.isSeen(match, seat, other),
      /** Returns how many foes that have a place a seat does not see. */
      unseenFoes: (match, seat: Seat): number => unseenFoes(match, seat, nearness),
      /** Returns who sees a seat because it is near, except the seat itself. */
      nearTo: (match, seat: Seat): readonly Seat[] => [...match.own.spots.of(seat).near],
      /** From now on foes see the seat only from within this many units. Without a number, as usual. */
      hide,
      /**
       * Shows where a seat is, wherever that is, for this many ms of play time: to these seats or, by default, to
       * everyone. A longer time stays.
       */
      reveal: (match, seat: Seat, ms: number, to?: readonly Seat[]) => reveal(match, seat, ms, to),
      /** True if a seat is within this many units of a point. */
      isWithin(match, seat: Seat, point: Point, units: number): boolean {
        const spot = match.own.spots.of(seat)
        return spot.placed && apart(spot, point) <= units * units
      },
      /** Lays a thing of this kind there, and returns its id. */
      add: (match, kind: string, at: Point): string => add(match, kind, at, nearness),
      /** Returns a thing, or nothing if it is gone. */
      thing: (match, id: string): (Point & { readonly kind: string }) | undefined => {
        const thing = match.own.things.get(id)
        return thing && { kind: thing.kind, x: thing.x, y: thing.y }
      },
      /** Returns the ids of all things of this kind. */
      things: (match, kind: string): readonly string[] =>
        match.own.things.where({ kind }).map(({ id }) => id),
      /** Removes a thing. */
      remove: (match, id: string) => match.own.things.remove(id),
      /** Returns how many things of this kind there are. */
      count: (match, kind: string): number => match.own.things.where({ kind }).length,
      /** From now on a seat is shown the direction in which another is. Pass nobody to end it. */
      point: (match, seat: Seat, target: Seat | undefined) => point(match, seat, target, hintEvery),
    },
  })
}

/** Positions that everyone sees, except those that are hidden. This is also how other rules refer to areas. */
export const areas = areasOf()
