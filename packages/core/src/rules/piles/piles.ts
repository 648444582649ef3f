import type { Seat } from '../../cells/index.ts'
import { assertOptions } from '../../kit/index.ts'
import { whenOutOfPlay } from '../play.ts'
import { roster } from '../roster/roster.ts'
import { Cards, cardOf, type Gift } from './cards.ts'
import { endLook, endPeek, look, lookedAt, mix, turn, turnBack } from './looking.ts'
import { type Card, type FaceCell, HAND, type Match, type Places, ruleOf, type Where } from './shape.ts'

/** What it refuses with. */
const refusals = {
  'pile-empty': 'There are not enough cards. Wait until there are, or take fewer.',
  'hand-full': 'There is no room in the hand. Put something down first.',
  'no-such-card': 'You cannot see a card with that id. Choose one from your view.',
}

/** How a set of piles behaves, besides its settings. */
export interface PilesOptions<P extends string> {
  /** Which place refills another, shuffled, when it runs out: `{ deck: 'burnt' }`. */
  readonly refill?: { readonly [K in P]?: NoInfer<P> }
  /** Where a leaver's hand goes. Default: aside, out of the game. */
  readonly leavers?: NoInfer<P>
}

/**
 * Decks, hands, boards and discards: `pilesOf('wicks', choice('amber', 'rose'), { deck: 'deck', crates: 'open' })`.
 * There is always a hand for each seat, and a place aside. A viewer who loses sight of a card can't follow it: from
 * then on it has a different id.
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
  options: PilesOptions<P> = {},
) => {
  assertOptions(`pilesOf '${name}'`, options, ['refill', 'leavers'])
  const { refill = {}, leavers } = options
  const cards = new Cards<N, F, P>({ places, refill, leavers })
  return ruleOf(name, face, places).does({
    refusals,
    // The rule counts where a card is and which place it has in its pile.
    varies: { cards: ['face'] },
    apply: {
      draw: (match, { seat, from, count }) => cards.draw(match, seat, from, count),
      move: (match, given) => cards.move(match, given),
    },
    timers: {
      'end-look': { band: 'lapse', keyedBy: 'text', fire: endLook },
      'turn-back': { band: 'lapse', keyedBy: 'text', fire: turnBack },
    },
    on: whenOutOfPlay((match: Match<N, F, P>, seat) => cards.leave(match, seat)),
    calls: {
      /** Puts new cards with these faces on top of a place, the last one on top. */
      fill: (match, place: Where<P>, faces: readonly F[]) => cards.fill(match, place, faces),
      /** Shuffles a place: nobody can tell any more which card is which. */
      shuffle: (match, place: Where<P>) => cards.shuffle(match, place),
      /** Deals this many cards from the top of a place to each of these seats, one at a time and in turn. */
      deal(match, from: Where<P>, count: number, seats: readonly Seat[] = match.use(roster).inPlay()) {
        for (let n = 0; n < count; n++) for (const seat of seats) cards.draw(match, seat, from, 1)
      },
      /** Moves the top card from one place to another. Returns nothing if there is none. */
      top: (match, from: Where<P>, to: Where<P>): Card<F> | undefined => cards.top(match, from, to),
      /** Moves cards from hands to other hands, all at once. Refuses with `hand-full` if one is too full afterwards. */
      pass: (match, gifts: readonly Gift[]) => cards.pass(match, gifts),
      /** Returns the cards of a place, the top one last. For a rack, say whose. */
      in: (match, place: Where<P>, seat?: Seat): Card<F>[] => cards.pile(match, place, seat).map(cardOf<F>),
      /** Returns the cards of a hand, the newest last. */
      hand: (match, seat: Seat): Card<F>[] => cards.pile(match, HAND, seat).map(cardOf<F>),
      /** Returns a card, or nothing if there is none with this id. */
      card(match, id: string): Card<F> | undefined {
        const row = match.own.cards.get(id)
        return row && cardOf(row)
      },
      /** Shows a seat the faces of these cards: for this many ms, or until they go anywhere. */
      peek: look,
      /** Ends a seat's looks at these cards. Default: at all of them. */
      endPeek,
      /** Returns the cards that a seat looks at now. */
      peeked: (match, seat: Seat): Card<F>[] => lookedAt(match, seat).map(cardOf<F>),
      /** Turns a card up or down. With a number of ms, it is turned back after that time. */
      turn,
      /** Mixes these cards of a place: nobody can tell any more which is which. */
      mix,
    },
  })
}
