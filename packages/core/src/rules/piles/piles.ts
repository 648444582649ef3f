import type { Seat } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { roster } from '../roster/roster.ts'
import {
  ASIDE,
  type Card,
  type FaceCell,
  HAND,
  type Match,
  type PlaceKind,
  type Places,
  type Row,
  ruleOf,
  type Where,
} from './shape.ts'

/** How a set of piles behaves beside its settings. */
export interface PilesOptions<P extends string> {
  /** From where a place is filled up, shuffled, when it runs out: `{ deck: 'burnt' }`. */
  readonly refill?: { readonly [K in P]?: NoInfer<P> }
  /** Where the hand of a leaver goes. Default: aside, out of the game. */
  readonly leavers?: NoInfer<P>
}

/**
 * Decks, hands, boards and discards: `pilesOf('wicks', choice('amber', 'rose'), { deck: 'deck', crates: 'open' })`. A
 * hand for each seat, and a place aside, are always there. Whoever loses sight of a card cannot follow it: it has
 * another id from then on.
 *
 * @example
 * ```ts
 * const wicks = pilesOf('wicks', choice('amber', 'rose'), { deck: 'deck', burnt: 'top' }, { refill: { deck: 'burnt' } })
 * ```
 */
export const pilesOf = <const N extends string, F, const P extends string>(
  name: N,
  face: FaceCell<F>,
  places: Places<P>,
  { refill = {}, leavers }: PilesOptions<P> = {},
) => {
  type M = Match<N, F, P>
  type R = Row<N, F, P>
  const sources: { readonly [place: string]: P | undefined } = refill
  const kinds: { readonly [place: string]: PlaceKind } = places
  const kindOf = (place: string): PlaceKind => kinds[place] ?? 'aside'

  /** Of a place, or of a seat's hand; in no order. */
  const lying = (match: M, place: Where<P>, seat?: Seat): readonly R[] =>
    place === HAND ? match.own.cards.where({ holder: seat, place }) : match.own.cards.where({ place })
  /** The same, the topmost last. */
  const pile = (match: M, place: Where<P>, seat?: Seat): R[] =>
    [...lying(match, place, seat)].sort((a, b) => a.at - b.at)
  const cardOf = ({ id, face: shown, up }: R): Card<F> => ({ id, face: shown as F, up })

  /** Counts are kept, and which card lies on top, where only that is seen. */
  function reckon(match: M, place: Where<P>, seat?: Seat) {
    const { length } = lying(match, place, seat)
    if (place === HAND) {
      if (seat !== undefined && match.seating.has(seat)) match.own.hands.of(seat).count = length
      return
    }
    if (kindOf(place) !== 'aside') match.own.counts.of = new Map(match.own.counts.of).set(place, length)
    if (kindOf(place) === 'top')
      for (const [n, row] of pile(match, place).entries()) row.isTop = n === length - 1
  }

  /** What was known of a card by looking at it ends as soon as it goes anywhere. */
  function forget(match: M, row: R) {
    for (const seat of row.watchers) match.timers.cancel('end-look', lookKey(row, seat))
    match.timers.cancel('turn-back', String(row.n))
    if (row.watchers.size > 0) row.watchers = new Set()
    row.up = false
  }

  function put(match: M, row: R, to: Where<P>, seat: Seat | undefined, under = false) {
    const there = lying(match, to, seat)
    forget(match, row)
    const edge = there.reduce(
      (so, { at }) => (under ? Math.min(so, at) : Math.max(so, at)),
      there[0]?.at ?? 0,
    )
    row.at = under ? edge - 1 : edge + 1
    row.place = to
    row.holder = to === HAND ? seat : undefined
    row.isTop = false
  }

  function shuffle(match: M, place: Where<P>) {
    const rows = pile(match, place)
    if (rows.length > 1) {
      const mixed = match.chance('shuffle').shuffle(rows)
      for (const [n, row] of mixed.entries()) row.at = n
    }
    for (const row of rows) {
      forget(match, row)
      match.own.cards.renew(row.id)
    }
    reckon(match, place)
    match.emit('shuffled', { place })
  }

  /** The place is empty: what it is filled up from is shuffled into it. */
  function fillUp(match: M, place: Where<P>) {
    const source = sources[place]
    if (source === undefined) return
    const rows = pile(match, source)
    if (rows.length === 0) return
    for (const row of rows) put(match, row, place, undefined)
    reckon(match, source)
    shuffle(match, place)
  }

  /** The topmost cards of a place, the topmost first. Mostly one is wanted: no pile is sorted for that. */
  function topmost(match: M, from: Where<P>, count: number): R[] {
    if (count !== 1) return pile(match, from).slice(-count).reverse()
    const [first, ...rest] = lying(match, from)
    return first === undefined ? [] : [rest.reduce((top, row) => (row.at > top.at ? row : top), first)]
  }

  function take(match: M, from: Where<P>, count: number): R[] {
    if (count === 0) return []
    const taken = topmost(match, from, count)
    const source = sources[from]
    if (taken.length === count || source === undefined || lying(match, source).length === 0) return taken
    // What is drawn already is out of the pile before the rest is shuffled into it.
    for (const row of taken) put(match, row, ASIDE, undefined)
    fillUp(match, from)
    return [
      ...taken,
      ...pile(match, from)
        .slice(taken.length - count)
        .reverse(),
    ]
  }

  function available(match: M, from: Where<P>): number {
    const source = sources[from]
    return lying(match, from).length + (source === undefined ? 0 : lying(match, source).length)
  }

  function draw(match: M, seat: Seat, from: Where<P>, count: number) {
    if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
    const { short, maxHand } = match.settings
    const room = maxHand === null ? count : maxHand - lying(match, HAND, seat).length
    if (room < count) return refuse('hand-full', { most: maxHand })
    if (available(match, from) < count) {
      if (short === 'refuse') return refuse('pile-empty', { place: from })
      match.emit('ran-out', { place: from })
    }
    const rows = take(match, from, count)
    for (const row of rows) put(match, row, HAND, seat)
    reckon(match, from)
    reckon(match, HAND, seat)
    if (rows.length > 0) match.emit('moved', { seat, from, to: HAND, count: rows.length })
    return undefined
  }

  interface Move {
    readonly seat: Seat | undefined
    readonly cards: readonly string[]
    readonly from: Where<P>
    readonly to: Where<P>
    readonly under: boolean
  }
  function move(match: M, { seat, cards, from, to, under }: Move) {
    const rows = cards.map((id) => match.own.cards.get(id))
    const isThere = (row: R | undefined): boolean =>
      row?.place === from && (from !== HAND || row.holder === seat)
    if (new Set(cards).size < cards.length || !rows.every(isThere)) return refuse('no-such-card')
    const { maxHand } = match.settings
    const inHand = to === HAND ? lying(match, HAND, seat).length : 0
    if (to === HAND && maxHand !== null && from !== HAND && inHand + rows.length > maxHand)
      return refuse('hand-full', { most: maxHand })
    for (const row of rows) if (row !== undefined) put(match, row, to, seat, under)
    reckon(match, from, seat)
    reckon(match, to, seat)
    if (rows.length > 0) match.emit('moved', { seat, from, to, count: rows.length })
    return undefined
  }

  const lookKey = ({ n }: R, seat: Seat): string => `${n} ${seat}`
  const numbered = (match: M, n: number): R | undefined => match.own.cards.where({ n })[0]

  function look(match: M, seat: Seat, cards: readonly string[], ms?: number) {
    for (const id of cards) {
      const row = match.own.cards.get(id)
      if (row === undefined) continue
      row.watchers = new Set([...row.watchers, seat])
      if (ms !== undefined) match.timers.start('end-look', { in: ms, key: lookKey(row, seat) })
    }
  }

  function turn(match: M, id: string, up: boolean, ms?: number) {
    const row = match.own.cards.get(id)
    if (row === undefined) return refuse('no-such-card')
    match.timers.cancel('turn-back', String(row.n))
    row.up = up
    match.emit('turned', { card: id, up })
    if (up && ms !== undefined) match.timers.start('turn-back', { in: ms, key: String(row.n) })
    return undefined
  }

  function leave(match: M, seat: Seat) {
    const rows = pile(match, HAND, seat)
    const to: Where<P> = leavers ?? ASIDE
    for (const row of rows) put(match, row, to, undefined)
    reckon(match, HAND, seat)
    reckon(match, to)
  }

  return ruleOf(name, face, places).does({
    // Where a card lies is counted, and its place in a pile is its own.
    varies: { cards: ['face'] },
    apply: {
      draw: (match, { seat, from, count }) => draw(match, seat, from, count),
      move: (match, given) => move(match, given),
    },
    timers: {
      'end-look': {
        band: 'lapse',
        keyedBy: 'text',
        fire(match, key) {
          const at = key.indexOf(' ')
          const [row, seat] = [numbered(match, Number(key.slice(0, at))), key.slice(at + 1)]
          if (row !== undefined) row.watchers = new Set([...row.watchers].filter((each) => each !== seat))
        },
      },
      'turn-back': {
        band: 'lapse',
        keyedBy: 'text',
        fire(match, n) {
          const row = numbered(match, Number(n))
          if (row !== undefined) turn(match, row.id, false)
        },
      },
    },
    on: {
      'roster.left': (match, { seat }) => leave(match, seat),
      'roster.sidelined': (match, { seat }) => leave(match, seat),
    },
    calls: {
      /** Puts new cards with these faces on top of a place, the last one topmost. */
      fill(match, place: Where<P>, faces: readonly F[]) {
        const first = (pile(match, place).at(-1)?.at ?? 0) + 1
        for (const [n, shown] of faces.entries()) {
          match.own.counts.made += 1
          const card = { n: match.own.counts.made, face: shown, place, at: first + n }
          // What a cell of a face wants beside is known only where the face is.
          match.own.cards.add(card as Parameters<typeof match.own.cards.add>[0])
        }
        reckon(match, place)
      },
      shuffle,
      /** So many cards from the top of a place to each of these seats, one at a time and in turn. */
      deal(match, from: Where<P>, count: number, seats: readonly Seat[] = match.use(roster).inPlay()) {
        for (let n = 0; n < count; n++) for (const seat of seats) draw(match, seat, from, 1)
      },
      /** The topmost card goes from one place to another; nothing where there is none. */
      top(match, from: Where<P>, to: Where<P>): Card<F> | undefined {
        const [row] = take(match, from, 1)
        if (row === undefined) return undefined
        put(match, row, to, undefined)
        reckon(match, from)
        reckon(match, to)
        match.emit('moved', { seat: undefined, from, to, count: 1 })
        return cardOf(row)
      },
      /** The cards of a place, the topmost last. */
      in: (match, place: Where<P>): Card<F>[] => pile(match, place).map(cardOf),
      hand: (match, seat: Seat): Card<F>[] => pile(match, HAND, seat).map(cardOf),
      card(match, id: string): Card<F> | undefined {
        const row = match.own.cards.get(id)
        return row && cardOf(row)
      },
      /** A seat sees the faces of these cards: for this many ms, or until they go anywhere. */
      peek: look,
      /** Turns a card up or down; up for this many ms, after which it is turned back. */
      turn,
      /** These cards of a place are mixed with one another: nobody can tell any more which is which. */
      mix(match, cards: readonly string[]) {
        const rows = cards.flatMap((id) => match.own.cards.get(id) ?? [])
        const places_ = rows.map(({ at }) => at)
        for (const [n, row] of match.chance('shuffle').shuffle(rows).entries()) {
          row.at = places_[n] ?? row.at
          forget(match, row)
          match.own.cards.renew(row.id)
        }
      },
    },
  })
}
