import type { Seat } from '../../cells/index.ts'
import { withEntry } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import { roster } from '../roster/roster.ts'
import { teams } from '../teams/teams.ts'
import { directionOf } from './compass.ts'
import { apart, type Nearness } from './nearness.ts'
import { ALL, type Match, type Point } from './shape.ts'

/** Puts a seat where it is now. With `forgets`, or if it is farther away than `jump`, it has not walked there. */
export function place(match: Match, seat: Seat, to: Point, jump: number, forgets = false) {
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

/** Who sees this seat and whom it sees is updated when the step settles. */
export function stir(match: Match, seat: Seat): void {
  match.own.spots.of(seat).moved = true
  match.own.step.stirred = true
}

/** A seat has left play: it has no place any more. */
export function unplace(match: Match, seat: Seat, nearness: Nearness): void {
  const spot = match.own.spots.of(seat)
  stopShowing(match, seat)
  if (!spot.placed) return
  spot.placed = false
  nearness.look(match, seat, true, nearness.gridOf(match))
}

/** Lays a thing there, and returns its id. */
export function add(match: Match, kind: string, at: Point, nearness: Nearness): string {
  const thing = match.own.things.add({ kind, ...at, sector: nearness.sectorOf(at) })
  for (const seat of match.seats) nearness.notice(thing, seat, match.own.spots.of(seat), true)
  return thing.id
}

/** Updates who sees whom for the seats that moved in this step. */
export function lookAround(match: Match, nearness: Nearness): void {
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
}

/** A halt in which nobody could move adds no time to move in. */
export function standStill(match: Match): void {
  for (const seat of match.seats) match.own.spots.of(seat).reported = match.time.phase
}

/** Lets foes see a seat only from within this distance. Without one, as usual. */
export function hide(match: Match, seat: Seat, within: number | undefined): void {
  match.own.spots.of(seat).hidden = within
  stir(match, seat)
}

/** Shows where a seat is, wherever that is, to these seats or to everyone, for this many ms. A longer time stays. */
export function reveal(match: Match, seat: Seat, ms: number, to: readonly Seat[] = [ALL]): void {
  const spot = match.own.spots.of(seat)
  const until = match.time.play + ms
  for (const each of to) spot.lit = withEntry(spot.lit, each, Math.max(until, spot.lit.get(each) ?? 0))
  unlight(match, seat)
}

/** Ends showing a seat to those whose time is over, and waits for the next of them. */
export function unlight(match: Match, seat: Seat): void {
  const spot = match.own.spots.of(seat)
  const { play } = match.time
  const left = [...spot.lit].filter(([, until]) => until > play)
  if (left.length < spot.lit.size) spot.lit = new Map(left)
  if (left.length > 0)
    match.timers.start('unlit', { in: Math.min(...left.map(([, until]) => until)) - play, key: seat })
}

/** Ends showing a seat to anybody. */
function stopShowing(match: Match, seat: Seat): void {
  match.timers.cancel('unlit', seat)
  match.own.spots.of(seat).lit = new Map()
}

/** Returns how many foes that have a place a seat does not see. */
export const unseenFoes = (match: Match, seat: Seat, nearness: Nearness): number =>
  match.seats.filter(
    (other) =>
      other !== seat &&
      match.own.spots.of(other).placed &&
      match.use(teams)?.foes(seat, other) !== false &&
      !nearness.isSeen(match, seat, other),
  ).length

/** Shows a seat where another is now. If the target has no place, is sidelined or has left, no hint is kept. */
export function hint(match: Match, seat: Seat): void {
  const row = match.own.hints.of(seat)
  const [from, target] = [match.own.spots.of(seat), row.of]
  const to =
    target === undefined || !match.use(roster).isInPlay(target) ? undefined : match.own.spots.of(target)
  row.towards = to?.placed && from.placed ? directionOf(to.x - from.x, to.y - from.y) : undefined
}

/** Starts, changes or ends a seat's hints, one each `every` ms. */
export function point(match: Match, seat: Seat, target: Seat | undefined, every: number): void {
  match.own.hints.of(seat).of = target
  if (target === undefined) {
    match.timers.cancel('hint', seat)
    match.own.hints.of(seat).towards = undefined
  } else if (!match.timers.runs('hint', seat)) {
    hint(match, seat)
    match.timers.start('hint', { every, key: seat })
  }
}
