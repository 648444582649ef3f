import {
  bySetting,
  type Cell,
  everyone,
  flag,
  int,
  list,
  type Mark,
  maybe,
  type OnClock,
  owner,
  perSeat,
  type Reach,
  seatRef,
  single,
  time,
} from '../../cells/index.ts'
import { declareRule, type MatchOf, type RuleLike } from '../../rule/index.ts'
import { fields, oneOf, orNull, setting, whole, yesNo } from '../../settings/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'

/** Any cell but an amount, which amendments could change. */
export type SealedCell<V> = Cell<V, Reach, Exclude<Mark, 'amount' | OnClock>>

const whoSeen = bySetting('whoSeen')

export const ruleOf = <const N extends string, V>(
  name: N,
  of: SealedCell<V>,
  /** Rules that decide what replaces a choice. */
  others: readonly RuleLike[] = [],
) =>
  declareRule({
    name,
    needs: [roster, phases, ...(others as readonly (typeof roster)[])], // types need not know what they read
    knows: [rounds],
    settings: fields({
      /** Time to choose, in ms of play time; null means no time limit. */
      time: setting(orNull(whole({ min: 1 })), null),
      /** If true, a choice can be changed or withdrawn until the end. */
      changes: setting(yesNo, true),
      /** If true, the question closes as soon as everyone who is awaited has chosen. */
      closeWhenAll: setting(yesNo, true),
      /** If true, absent seats are awaited. */
      awaitAbsent: setting(yesNo, false),
      /** What happens to the choice of a seat that leaves. */
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
      /** What was chosen, from the reveal on. Rows are shown only if everyone may follow them. */
      revealed: perSeat({ choice: maybe(of).seenBy(everyone) }),
      /** The same for rules. */
      last: perSeat({ choice: maybe(of) }),
    },
    events: {
      /** These seats are asked. */
      opened: { asked: list(seatRef()).seenBy(everyone) },
      /** A seat has chosen; what is not said. */
      chosen: { seat: seatRef().seenBy(whoSeen) },
      /** The question is closed. If choices are revealed, they are in the part `revealed`; rules have the call `choices`. */
      revealed: { number: int().seenBy(everyone) },
      /** What one seat has chosen, if rows are chosen that nobody may follow. */
      'choice-revealed': { seat: seatRef().seenBy(everyone), choice: maybe(of).seenBy(everyone) },
      /** A choice could no longer be carried out: it counts as not chosen. */
      'no-longer-legal': { seat: seatRef().seenBy(owner) },
    },
    /** If refused, the choice is not legal. Asked when it is made, and again at the reveal. */
    drafts: {
      /** A choice is to be carried out. */
      take: { seat: seatRef(), choice: of },
    },
    timers: ['end'],
  })
export type Match<N extends string, V> = MatchOf<ReturnType<typeof ruleOf<N, V>>>
