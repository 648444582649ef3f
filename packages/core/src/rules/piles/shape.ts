import {
  type Audience,
  amount,
  type Cell,
  choice,
  everyone,
  flag,
  int,
  list,
  type Mark,
  map,
  maybe,
  nobody,
  type OnClock,
  only,
  perSeat,
  type Seat,
  seatRef,
  set,
  single,
  table,
  text,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, oneOf, orNull, setting, whole } from '../../settings/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'

/**
 * What is seen of the cards of a place. 'deck': how many there are. 'table': each card, and its face while it is up.
 * 'open': each card with its face. 'rack': the same, and each seat has one of its own. 'top': the top card with its
 * face. 'aside': nothing at all.
 */
export type PlaceKind = 'deck' | 'table' | 'open' | 'rack' | 'top' | 'aside'
/** The places of piles, and the kind of each. */
export type Places<P extends string> = { readonly [K in P]: PlaceKind }
/** A card as a rule meets it. */
export interface Card<F> {
  /** The inner id of the card. */
  readonly id: string
  readonly face: F
  readonly up: boolean
}
/** Any cell but an amount, which amendments could change. */
export type FaceCell<F> = Cell<F, 'nobody', Exclude<Mark, 'amount' | OnClock>>

export const HAND = 'hand'
/** Cards that are out of the game: a leaver's, or put there by a rule. */
export const ASIDE = 'aside'
type Builtin = typeof HAND | typeof ASIDE

interface Sighted {
  readonly place: string
  readonly holder: Seat | undefined
  readonly up: boolean
  readonly isTop: boolean
  readonly watchers: ReadonlySet<Seat>
}

export const ruleOf = <const N extends string, F, const P extends string>(
  name: N,
  face: FaceCell<F>,
  places: Places<P>,
) => {
  const names: readonly Where<P>[] = [...(Object.keys(places) as P[]), HAND, ASIDE]
  const somewhere = choice<Where<P>>(...names)
  const kindOf = (place: string): PlaceKind =>
    (places as { readonly [place: string]: PlaceKind })[place] ?? 'aside'
  /** Who sees that the card is there. */
  const seen = ({ place, holder, up, isTop, watchers }: Sighted): Audience => {
    if (place === HAND) return up ? everyone : only(holder, ...watchers)
    const kind = kindOf(place)
    if (kind === 'table' || kind === 'open' || kind === 'rack' || (kind === 'top' && isTop)) return everyone
    return kind === 'aside' ? nobody : only(...watchers)
  }
  const faceSeen = (card: Sighted): Audience =>
    kindOf(card.place) === 'table' && card.place !== HAND && !card.up ? only(...card.watchers) : seen(card)
  return declareRule({
    name,
    needs: [roster, phases],
    settings: fields({
      /** What a draw does if there are not enough cards: take those that there are, or none. */
      short: setting(oneOf('fewer', 'refuse'), 'fewer'),
      /** The most cards that a hand can take; null means no limit. */
      maxHand: setting(orNull(whole({ min: 1 })), null),
    }),
    state: {
      cards: table({
        /** Its number, which is in no view. What runs for a card goes by it, since ids change. */
        n: int(),
        face,
        place: somewhere,
        holder: maybe(seatRef()),
        up: flag(false),
        /** Its position in the pile; the top card has the highest. */
        at: int(),
        isTop: flag(false),
        /** Who may look at it, for a while or for good. */
        watchers: set(seatRef()),
      })
        .indexedBy('place', 'holder', 'n')
        .seenWhen({ face: faceSeen, place: seen, holder: seen, up: seen }),
      /** How many cards lie in each place that is not aside, and in a hand. */
      counts: single({ of: map(int()).seenBy(everyone), made: int(0) }),
      hands: perSeat({ count: int(0).seenBy(everyone) }),
    },
    events: {
      /** Cards went from one place to another. */
      moved: {
        seat: maybe(seatRef()).seenBy(everyone),
        from: text().seenBy(everyone),
        to: text().seenBy(everyone),
        count: int().seenBy(everyone),
      },
      /** Cards went from one seat to another: to its hand or to a rack of it. */
      passed: {
        seat: seatRef().seenBy(everyone),
        toSeat: seatRef().seenBy(everyone),
        from: text().seenBy(everyone),
        to: text().seenBy(everyone),
        count: int().seenBy(everyone),
      },
      /** A place has been shuffled. */
      shuffled: { place: text().seenBy(everyone) },
      /** There were fewer cards than wanted. */
      'ran-out': { place: text().seenBy(everyone) },
      /** A card has been turned up or down. */
      turned: { card: text(), up: flag() },
    },
    drafts: {
      /** Draws cards into a seat's hand. */
      draw: {
        seat: seatRef(),
        from: somewhere,
        count: amount(1).between(0, 10_000),
      },
      /**
       * Cards that lie in `from` go to `to`. `seat` says whose hand or rack is meant, `toSeat` whose they go to if that
       * is another seat.
       */
      move: {
        seat: maybe(seatRef()),
        toSeat: maybe(seatRef()),
        cards: list(text()),
        from: somewhere,
        to: somewhere,
        /** Below the other cards instead of on top. */
        under: flag(false),
      },
    },
    timers: ['end-look', 'turn-back'],
  })
}
export type Match<N extends string, F, P extends string> = MatchOf<ReturnType<typeof ruleOf<N, F, P>>>
export type Row<N extends string, F, P extends string> = ReturnType<
  Match<N, F, P>['own']['cards']['all']
>[number]
/** Where a card is: one of the mode's places, or one that all piles have. */
export type Where<P extends string> = P | Builtin
