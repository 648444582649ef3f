import type { Seat } from '../../cells/index.ts'
import { withEntry } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import { roster } from '../roster/roster.ts'
import { forgetLooks } from './looking.ts'
import {
  ASIDE,
  type Card,
  HAND,
  type Match,
  type PlaceKind,
  type Places,
  type Row,
  type Where,
} from './shape.ts'

/** Where cards go, what they are and how they are seen. */
export interface Setup<P extends string> {
  readonly places: Places<P>
  /** The place that refills this one when it runs out. */
  readonly refill: { readonly [place: string]: P | undefined }
  /** Where a leaver's hand goes; nothing: aside. */
  readonly leavers: P | undefined
}
interface Move<P extends string> {
  readonly seat: Seat | undefined
  readonly toSeat: Seat | undefined
  readonly cards: readonly string[]
  readonly from: Where<P>
  readonly to: Where<P>
  readonly under: boolean
}

/** Cards that go from one seat's hand to another's. */
export interface Gift {
  readonly from: Seat
  readonly to: Seat
  readonly cards: readonly string[]
}

/** How cards lie and move. It holds what the mode says of its places, and no state. */
export class Cards<N extends string, F, P extends string> {
  private readonly setup: Setup<P>

  constructor(setup: Setup<P>) {
    this.setup = setup
  }

  /** True for a hand and a rack: each seat has one. */
  private isOwn(place: Where<P>): boolean {
    return place === HAND || this.kindOf(place) === 'rack'
  }

  /** The cards of a place, or of a seat's hand or rack, in no order. */
  private lying(match: Match<N, F, P>, place: Where<P>, seat?: Seat): readonly Row<N, F, P>[] {
    return this.isOwn(place)
      ? match.own.cards.where({ holder: seat, place })
      : match.own.cards.where({ place })
  }

  /** The same, the top card last. */
  pile(match: Match<N, F, P>, place: Where<P>, seat?: Seat): Row<N, F, P>[] {
    return [...this.lying(match, place, seat)].sort((a, b) => a.at - b.at)
  }

  /** Keeps the counts, and which card is on top if only that one is seen. */
  private reckon(match: Match<N, F, P>, place: Where<P>, seat?: Seat) {
    const { length } = this.lying(match, place, seat)
    if (place === HAND) {
      if (seat !== undefined && match.seating.has(seat)) match.own.hands.of(seat).count = length
      return
    }
    if (this.kindOf(place) === 'rack') return
    if (this.kindOf(place) !== 'aside') match.own.counts.of = withEntry(match.own.counts.of, place, length)
    if (this.kindOf(place) === 'top')
      for (const [n, row] of this.pile(match, place).entries()) row.isTop = n === length - 1
  }

  /** Puts a card on top of the others, or below them. */
  private put(match: Match<N, F, P>, row: Row<N, F, P>, to: Where<P>, seat: Seat | undefined, under = false) {
    const there = this.lying(match, to, seat)
    forgetLooks(match, row)
    const edge = there.reduce(
      (so, { at }) => (under ? Math.min(so, at) : Math.max(so, at)),
      there[0]?.at ?? 0,
    )
    row.at = under ? edge - 1 : edge + 1
    row.place = to
    row.holder = this.isOwn(to) ? seat : undefined
    row.isTop = false
  }

  /** Shuffles a place: nobody can tell any more which card is which. */
  shuffle(match: Match<N, F, P>, place: Where<P>) {
    const rows = this.pile(match, place)
    if (rows.length > 1) {
      const mixed = match.chance('shuffle').shuffle(rows)
      for (const [n, row] of mixed.entries()) row.at = n
    }
    for (const row of rows) {
      forgetLooks(match, row)
      match.own.cards.renew(row.id)
    }
    this.reckon(match, place)
    match.emit('shuffled', { place })
  }

  /** The place is empty: the place that refills it is shuffled into it. */
  private fillUp(match: Match<N, F, P>, place: Where<P>) {
    const source = this.setup.refill[place]
    if (source === undefined) return
    const rows = this.pile(match, source)
    if (rows.length === 0) return
    for (const row of rows) this.put(match, row, place, undefined)
    this.reckon(match, source)
    this.shuffle(match, place)
  }

  /** The top cards of a place, the top one first. Usually one is wanted, so no pile is sorted for that. */
  private topmost(match: Match<N, F, P>, from: Where<P>, count: number): Row<N, F, P>[] {
    if (count !== 1) return this.pile(match, from).slice(-count).reverse()
    const [first, ...rest] = this.lying(match, from)
    return first === undefined ? [] : [rest.reduce((top, row) => (row.at > top.at ? row : top), first)]
  }

  /** Takes cards from the top of a place, which is refilled when it runs out. */
  take(match: Match<N, F, P>, from: Where<P>, count: number): Row<N, F, P>[] {
    if (count === 0) return []
    const taken = this.topmost(match, from, count)
    const source = this.setup.refill[from]
    if (taken.length === count || source === undefined || this.lying(match, source).length === 0) return taken
    // Drawn cards leave the pile before the rest is shuffled into it.
    for (const row of taken) this.put(match, row, ASIDE, undefined)
    this.fillUp(match, from)
    return [
      ...taken,
      ...this.pile(match, from)
        .slice(taken.length - count)
        .reverse(),
    ]
  }

  /** How many cards can be drawn from a place, including those that refill it. */
  private available(match: Match<N, F, P>, from: Where<P>): number {
    const source = this.setup.refill[from]
    return this.lying(match, from).length + (source === undefined ? 0 : this.lying(match, source).length)
  }

  /** Draws cards into a seat's hand. */
  draw(match: Match<N, F, P>, seat: Seat, from: Where<P>, count: number) {
    if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
    const { short, maxHand } = match.settings
    const room = maxHand === null ? count : maxHand - this.lying(match, HAND, seat).length
    if (room < count) return refuse('hand-full', { most: maxHand })
    if (this.available(match, from) < count) {
      if (short === 'refuse') return refuse('pile-empty', { place: from })
      match.emit('ran-out', { place: from })
    }
    const rows = this.take(match, from, count)
    for (const row of rows) this.put(match, row, HAND, seat)
    this.reckon(match, from)
    this.reckon(match, HAND, seat)
    if (rows.length > 0) match.emit('moved', { seat, from, to: HAND, count: rows.length })
    return undefined
  }

  private isThere(row: Row<N, F, P> | undefined, from: Where<P>, seat: Seat | undefined): boolean {
    return row?.place === from && (!this.isOwn(from) || row.holder === seat)
  }

  /** Moves cards from one place to another. */
  move(match: Match<N, F, P>, { seat, toSeat = seat, cards, from, to, under }: Move<P>) {
    const rows = cards.map((id) => match.own.cards.get(id))
    if (new Set(cards).size < cards.length || !rows.every((row) => this.isThere(row, from, seat)))
      return refuse('no-such-card')
    if (toSeat !== seat && (toSeat === undefined || !match.use(roster).isInPlay(toSeat)))
      return refuse('not-in-play', { target: toSeat })
    const { maxHand } = match.settings
    const stays = from === HAND && toSeat === seat
    const inHand = to === HAND && !stays ? this.lying(match, HAND, toSeat).length + rows.length : 0
    if (maxHand !== null && inHand > maxHand) return refuse('hand-full', { most: maxHand })
    for (const row of rows) if (row !== undefined) this.put(match, row, to, toSeat, under)
    this.reckon(match, from, seat)
    this.reckon(match, to, toSeat)
    if (rows.length === 0) return undefined
    if (seat === undefined || toSeat === undefined || toSeat === seat)
      match.emit('moved', { seat, from, to, count: rows.length })
    else match.emit('passed', { seat, toSeat, from, to, count: rows.length })
    return undefined
  }

  /** Moves cards between hands, all at once: whether there is room counts when all have moved. */
  pass(match: Match<N, F, P>, gifts: readonly Gift[]) {
    const all = gifts.flatMap(({ cards }) => cards)
    const isHeld = ({ from, cards }: Gift): boolean =>
      cards.every((id) => this.isThere(match.own.cards.get(id), HAND, from))
    if (new Set(all).size < all.length || !gifts.every(isHeld)) return refuse('no-such-card')
    const away = gifts.find(({ to }) => !match.use(roster).isInPlay(to))
    if (away !== undefined) return refuse('not-in-play', { target: away.to })
    const { maxHand } = match.settings
    const hand = (seat: Seat): number =>
      gifts.reduce(
        (sum, { from, to, cards }) =>
          sum + (to === seat ? cards.length : 0) - (from === seat ? cards.length : 0),
        this.lying(match, HAND, seat).length,
      )
    if (maxHand !== null && gifts.some(({ to }) => hand(to) > maxHand))
      return refuse('hand-full', { most: maxHand })
    for (const { to, cards } of gifts)
      for (const id of cards) {
        const row = match.own.cards.get(id)
        if (row !== undefined) this.put(match, row, HAND, to)
      }
    for (const seat of new Set(gifts.flatMap(({ from, to }) => [from, to]))) this.reckon(match, HAND, seat)
    for (const { from, to, cards } of gifts)
      if (cards.length > 0)
        match.emit('passed', { seat: from, toSeat: to, from: HAND, to: HAND, count: cards.length })
    return undefined
  }

  /** A seat has left play: its hand goes where the mode says. */
  leave(match: Match<N, F, P>, seat: Seat) {
    const rows = this.pile(match, HAND, seat)
    const to: Where<P> = this.setup.leavers ?? ASIDE
    for (const row of rows) this.put(match, row, to, undefined)
    this.reckon(match, HAND, seat)
    this.reckon(match, to)
  }

  /** Puts new cards with these faces on top of a place, the last one on top. */
  fill(match: Match<N, F, P>, place: Where<P>, faces: readonly F[]): void {
    const first = (this.pile(match, place).at(-1)?.at ?? 0) + 1
    for (const [n, shown] of faces.entries()) {
      match.own.counts.made += 1
      const card = { n: match.own.counts.made, face: shown, place, at: first + n }
      // Only code that knows the face knows what else its cells require.
      match.own.cards.add(card as Parameters<typeof match.own.cards.add>[0])
    }
    this.reckon(match, place)
  }

  /** Moves the top card from one place to another. Returns nothing if there is none. */
  top(match: Match<N, F, P>, from: Where<P>, to: Where<P>): Card<F> | undefined {
    const [row] = this.take(match, from, 1)
    if (row === undefined) return undefined
    this.put(match, row, to, undefined)
    this.reckon(match, from)
    this.reckon(match, to)
    match.emit('moved', { seat: undefined, from, to, count: 1 })
    return cardOf(row)
  }

  private kindOf(place: string): PlaceKind {
    return (this.setup.places as { readonly [place: string]: PlaceKind })[place] ?? 'aside'
  }
}

/** Returns a card as rules meet it. */
export const cardOf = <F>({
  id,
  face,
  up,
}: {
  readonly id: string
  readonly face: unknown
  readonly up: boolean
}): Card<F> => ({
  id,
  face: face as F, // the cell of the face says what it holds
  up,
})
