import type { Seat } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { apart } from './nearness.ts'
import type { AreaSettings, Match, Point } from './shape.ts'

/** By how many ms a client's reports may be late or early. */
const UNEVEN = 100

/**
 * A client's own move: no faster than the top speed since the last report, over any number of reports, and through no
 * wall. A refusal says where the seat is.
 */
export function walkOn(match: Match, seat: Seat, to: Point, { speed, wall }: AreaSettings) {
  const spot = match.own.spots.of(seat)
  if (speed === undefined || !spot.placed) return refuse('cannot-move', { seat })
  const { x, y } = spot
  // Square roots are exact to the last bit in every JavaScript engine, unlike other functions of real numbers.
  const ms = Math.ceil((Math.sqrt(apart(spot, to)) * 1000) / speed)
  const walked = Math.max(spot.walked, spot.reported) + ms
  if (walked > match.time.phase + UNEVEN) return refuse('too-fast', { x, y, most: speed })
  if (wall?.({ x, y }, to)) return refuse('blocked', { x, y })
  spot.walked = walked
  return undefined
}
