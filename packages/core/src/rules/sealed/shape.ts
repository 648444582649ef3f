import {
  bySetting,
  type Cell,
  everyone,
  flag,
  int,
  list,
  type Mark,
  maybe,
  owner,
  perSeat,
  type Reach,
  seatRef,
  single,
  time,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, oneOf, orNull, setting, whole, yesNo } from '../../settings/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'

/** Any cell but an amount, which amendments could change. */
export type SealedCell<V> = Cell<V, Reach, Exclude<Mark, 'amount'>>

const whoSeen = bySetting('whoSeen')

export const ruleOf = <const N extends string, V>(name: N, of: SealedCell<V>) =>
  declareRule({
    name,
    needs: [roster, phases],
    knows: [rounds],
    settings: fields({
      /** Ms of play time in which to choose; null is without end. */
      time: setting(orNull(whole({ min: 1 })), null),
      /** Whether a choice can be changed and taken back until the end. */
      changes: setting(yesNo, true),
      /** Whether the end comes when all who are awaited have chosen. */
      closeWhenAll: setting(yesNo, true),
      /** Whether absent seats are awaited. */
      awaitAbsent: setting(yesNo, false),
      /** What becomes of the choice of a seat that leaves. */
      leaverChoice: setting(oneOf('drop', 'keep'), 'drop'),
      /** Who sees that a seat has chosen. */
      whoSeen: setting(oneOf('everyone', 'nobody'), 'everyone'),
    }),
    state: {
      question: single({
        open: flag(false).seenBy(everyone),
        /** On the play clock. */
        until: time().seenBy(everyone),
        /** How many were asked before. */
        number: int(0).seenBy(everyone),
      }),
      seats: perSeat({
        asked: flag(false).seenBy(everyone),
        chosen: flag(false).seenBy(whoSeen),
        choice: maybe(of).seenBy(owner),
      }),
      /** What was chosen, from the reveal on; rows only where all may follow them. */
      revealed: perSeat({ choice: maybe(of).seenBy(everyone) }),
      /** The same for rules. */
      last: perSeat({ choice: maybe(of) }),
    },
    events: {
      /** These seats are asked. */
      opened: { asked: list(seatRef()).seenBy(everyone) },
      /** A seat has chosen, whatever. */
      chosen: { seat: seatRef().seenBy(whoSeen) },
      /** All at once; the choices are in the part `revealed`, and in the call `choices`. */
      revealed: { number: int().seenBy(everyone) },
      /** What one seat has chosen, where rows are chosen that nobody may follow. */
      'choice-revealed': { seat: seatRef().seenBy(everyone), choice: maybe(of).seenBy(everyone) },
      /** What was chosen could not be carried out any more: it counts as not chosen. */
      'no-longer-legal': { seat: seatRef().seenBy(owner) },
    },
    /** Refused, the choice is not legal: asked when it is made, and again at the reveal. */
    drafts: {
      /** A choice is to be carried out. */
      take: { seat: seatRef(), choice: of },
    },
    timers: ['end'],
  })
export type Match<N extends string, V> = MatchOf<ReturnType<typeof ruleOf<N, V>>>
