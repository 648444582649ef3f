import type { Seat } from '../../cells/index.ts'
import { RefereeError } from '../../kit/index.ts'
import { roster } from '../roster/roster.ts'
import { scores } from '../scores.ts'
import type { Match } from './shape.ts'

const inPlay = (match: Match): readonly Seat[] => match.use(roster).inPlay()

/** The list starting at the first seat with at least this number, by seat number. */
function rotated(match: Match, seats: readonly Seat[], from: number): Seat[] {
  const at = seats.findIndex((seat) => match.seating.number(seat) >= from)
  return at < 1 ? [...seats] : [...seats.slice(at), ...seats.slice(0, at)]
}

/** Who begins the round, as a seat's number. 'rotate' goes on from a number even if its seat has left. */
function starterOf(match: Match): number {
  const { starter, starts } = match.settings
  const { last, winners } = match.own.starter
  const seats = inPlay(match)
  const random = (): number => match.seating.number(match.chance('starter').pick(seats) ?? '')
  if (last === 0) return starts === 'random' ? random() : 0
  if (starter === 'random') return random()
  if (starter === 'same') return last
  const those =
    starter === 'winner'
      ? winners
      : starter === 'loser' && winners.length > 0
        ? seats.filter((seat) => !winners.includes(seat))
        : []
  const [only, other] = those
  return only !== undefined && other === undefined ? match.seating.number(only) : last + 1
}

/** The seats that are named first, in that order, then the others. */
export const withFirst = (first: readonly Seat[], seats: readonly Seat[]): Seat[] => [
  ...first.filter((seat) => seats.includes(seat)),
  ...seats.filter((seat) => !first.includes(seat)),
]

/** The order of a round's first cycle, from its starter on, or as a rule has arranged it. */
export function arrange(match: Match) {
  const { order, starter } = match.own
  const seats = inPlay(match)
  const backwards = match.settings.order === 'reversed'
  const from = starterOf(match)
  const forwards = rotated(match, seats, from)
  const [first] = forwards
  order.base = backwards && first !== undefined ? [first, ...forwards.slice(1).reverse()] : forwards
  if (order.first.length > 0) order.base = withFirst(order.first, order.base)
  order.first = []
  order.extra = []
  order.ending = false
  starter.last = match.seating.number(first ?? '')
  match.own.now.cycle = 0
  beginCycle(match)
}

function byScore(match: Match, seats: readonly Seat[]): Seat[] {
  const way = match.settings.byScore === 'low-first' ? 1 : -1
  const of = (seat: Seat): number => match.use(scores)?.of(seat) ?? 0
  return [...seats].sort((a, b) => (of(a) - of(b)) * way)
}

/** @throws ZR_MATCH_MISUSED if a mode's own order names nobody, or a seat that is not in play */
function custom(match: Match, seats: readonly Seat[], cycle: number): Seat[] {
  const own = match.config.inOrder?.({ seats, cycle }) ?? seats
  const stranger = own.find((seat) => !seats.includes(seat))
  if (own.length === 0 || stranger !== undefined)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `turns' 'inOrder' gave ${stranger === undefined ? 'nobody' : `'${stranger}', who is not in play`}`,
      fix: 'Give seats that it was asked about, at least one',
    })
  return [...own]
}

/** The seats in play of the last cycle, then newcomers. */
export function beginCycle(match: Match) {
  const { now, order } = match.own
  const seats = inPlay(match)
  const kept = order.base.filter((seat) => seats.includes(seat))
  const base = [...kept, ...seats.filter((seat) => !kept.includes(seat))]
  now.cycle += 1
  const how = match.settings.order
  order.base = how === 'by-score' ? byScore(match, base) : base
  order.seats =
    how === 'snake' && now.cycle % 2 === 0
      ? [...order.base].reverse()
      : how === 'custom' && base.length > 0
        ? custom(match, base, now.cycle)
        : order.base
  order.at = 0
}

/** Everybody else in play, as their turns come after that seat. Seats without a place in this cycle come last. */
export function others(match: Match, seat: Seat): Seat[] {
  const circle = [...new Set([...match.own.order.seats, ...inPlay(match)])]
  const at = circle.indexOf(seat)
  return [...circle.slice(at + 1), ...circle.slice(0, Math.max(0, at))].filter((each) =>
    match.use(roster).isInPlay(each),
  )
}

/** From now on the other way round: next is the neighbour on the other side of the seat in turn. */
export function reverse(match: Match) {
  const { order, now } = match.own
  const at = order.seats.indexOf(now.seat ?? '')
  if (at === -1 || order.seats.length < 3) return
  const circle = [...order.seats.slice(at), ...order.seats.slice(0, at)]
  const [present, ...others] = circle
  order.base = present === undefined ? [] : [present, ...others.reverse()]
  order.seats = order.base
  order.at = 1
}
