import type { Seat } from '../../cells/index.ts'
import { withItem, withoutItem } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import type { Match, Row } from './shape.ts'

const lookKey = (card: { readonly n: number }, seat: Seat): string => `${card.n} ${seat}`

const numbered = <N extends string, F, P extends string>(
  match: Match<N, F, P>,
  n: number,
): Row<N, F, P> | undefined => match.own.cards.where({ n })[0]

/** What a seat knows of a card from looking at it ends as soon as the card goes anywhere. */
export function forgetLooks<N extends string, F, P extends string>(match: Match<N, F, P>, row: Row<N, F, P>) {
  for (const seat of row.watchers) match.timers.cancel('end-look', lookKey(row, seat))
  match.timers.cancel('turn-back', String(row.n))
  if (row.watchers.size > 0) row.watchers = new Set()
  row.up = false
}

/** Shows a seat the faces of these cards: for this many ms, or until they go anywhere. */
export function look<N extends string, F, P extends string>(
  match: Match<N, F, P>,
  seat: Seat,
  cards: readonly string[],
  ms?: number,
) {
  for (const id of cards) {
    const row = match.own.cards.get(id)
    if (row === undefined) continue
    row.watchers = withItem(row.watchers, seat)
    if (ms !== undefined) match.timers.start('end-look', { in: ms, key: lookKey(row, seat) })
  }
}

/** The time of a look is over. Its key names the card and the seat. */
export function endLook<N extends string, F, P extends string>(match: Match<N, F, P>, key: string): void {
  const at = key.indexOf(' ')
  const [row, seat] = [numbered(match, Number(key.slice(0, at))), key.slice(at + 1)]
  if (row !== undefined) row.watchers = withoutItem(row.watchers, seat)
}

/** Ends a seat's looks at these cards; by default, at all of them. */
export function endPeek<N extends string, F, P extends string>(
  match: Match<N, F, P>,
  seat: Seat,
  cards?: readonly string[],
) {
  for (const row of lookedAt(match, seat)) {
    if (cards !== undefined && !cards.includes(row.id)) continue
    match.timers.cancel('end-look', lookKey(row, seat))
    row.watchers = withoutItem(row.watchers, seat)
  }
}

/** Returns the cards that a seat looks at now. */
export const lookedAt = <N extends string, F, P extends string>(match: Match<N, F, P>, seat: Seat) =>
  match.own.cards.all().filter(({ watchers }) => watchers.has(seat))

/** Turns a card up or down. With a number of ms, it is turned back after that time. */
export function turn<N extends string, F, P extends string>(
  match: Match<N, F, P>,
  id: string,
  up: boolean,
  ms?: number,
) {
  const row = match.own.cards.get(id)
  if (row === undefined) return refuse('no-such-card')
  match.timers.cancel('turn-back', String(row.n))
  row.up = up
  match.emit('turned', { card: id, up })
  if (up && ms !== undefined) match.timers.start('turn-back', { in: ms, key: String(row.n) })
  return undefined
}

/** The time of a card that was turned up is over. Its key is the card's number. */
export function turnBack<N extends string, F, P extends string>(match: Match<N, F, P>, n: string): void {
  const row = numbered(match, Number(n))
  if (row !== undefined) turn(match, row.id, false)
}

/** Mixes these cards of a place: nobody can tell any more which is which. */
export function mix<N extends string, F, P extends string>(
  match: Match<N, F, P>,
  cards: readonly string[],
): void {
  const rows = cards.flatMap((id) => match.own.cards.get(id) ?? [])
  const places = rows.map(({ at }) => at)
  for (const [n, row] of match.chance('shuffle').shuffle(rows).entries()) {
    row.at = places[n] ?? row.at
    forgetLooks(match, row)
    match.own.cards.renew(row.id)
  }
}
