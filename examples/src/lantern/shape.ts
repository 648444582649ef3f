import {
  amount,
  choice,
  declareRule,
  everyone,
  flag,
  int,
  list,
  type MatchOf,
  maybe,
  perSeat,
  seatRef,
  single,
  table,
  text,
} from 'zinc-referee'
import { pilesOf, scores, sealedOf, turnStep, turns, verdict } from 'zinc-referee/rules'
import { fields, listOf, setting, whole } from 'zinc-referee/settings'

export const colour = choice('amber', 'rose', 'jade', 'ink')
export const quay = choice('mill', 'alder', 'ferry')
export const hooks = [1, 2, 3, 4, 5, 6, 7] as const
export type Quay = (typeof quay.values)[number]

export const wicks = pilesOf('wicks', choice('amber', 'rose', 'jade', 'ink', 'bell'), {
  deck: 'deck',
  crates: 'open',
  burnt: 'top',
  rung: 'open',
})
export const wishes = pilesOf('wishes', list(colour), { deck: 'deck', granted: 'open' })
/** After the last bell, everyone makes a secret bid of wicks for the harbour lamp. */
export const lampBid = sealedOf('lampBid', int().between(0, 60), { otherwise: 0 })

export const work = turnStep('work')
export const hang = turnStep('hang', { budget: 0 }) // only what is owed
export const boats = turnStep('boats', { budget: 0 }) // only with Night Boats

export const shape = declareRule({
  name: 'market',
  needs: [turns, wicks, wishes, lampBid, scores, verdict],
  settings: fields({
    /** Prizes at the first, second and third bell: for the most lanterns on a quay, the second most, and the third. */
    prizes: setting(listOf(listOf(whole())), [[3], [5, 2], [8, 4, 2]]),
    lamp: setting(whole(), 4),
  }),
  state: {
    lanterns: table({
      colour: colour.seenBy(everyone),
      holder: maybe(seatRef()).seenBy(everyone),
      on: choice('bench', 'shelf', 'quay').seenBy(everyone),
      quay: maybe(quay).seenBy(everyone),
      hook: int(0).seenBy(everyone),
    }).indexedBy('holder'),
    /** What a seat has done in its turn: fetched, or answered a wish. */
    day: perSeat({ fetched: flag(false).seenBy(everyone), wished: flag(false).seenBy(everyone) }),
    /** Bells that have rung, and what each quay pays at the next one. */
    market: single({ bells: int(0).seenBy(everyone), pays: list(int(), []).seenBy(everyone) }),
  },
  events: {
    dipped: { seat: seatRef().seenBy(everyone), colours: list(colour).seenBy(everyone) },
    hung: {
      seat: seatRef().seenBy(everyone),
      lantern: text(),
      colour: colour.seenBy(everyone),
      quay: quay.seenBy(everyone),
      hook: int().seenBy(everyone),
    },
    rang: { bell: int().seenBy(everyone) },
    granted: { seat: seatRef().seenBy(everyone) },
    /** The harbour lamp goes to the highest bid, or to nobody. */
    sold: { seat: maybe(seatRef()).seenBy(everyone), bid: int().seenBy(everyone) },
  },
  drafts: {
    /** The price of a dip: the wicks that burn, and the seat that gets the toll. */
    pay: { seat: seatRef(), dipped: list(colour), burnt: list(colour), price: amount(), toll: amount(0) },
    prize: { seat: seatRef(), why: text(), points: amount() },
  },
})
export type Market = MatchOf<typeof shape>
