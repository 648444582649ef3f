import {
  amount,
  everyone,
  flag,
  int,
  list,
  map,
  maybe,
  perSeat,
  type Seat,
  seatRef,
  set,
  single,
  text,
  time,
} from '../../cells/index.ts'
import { declareRule, type Gate, type MatchOf } from '../../rule/index.ts'
import { fields, oneOf, orNull, setting, whole, yesNo } from '../../settings/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { scores } from '../scores.ts'

/** A part of a turn. As a gate it lets the seat in turn act while that part lasts. */
export interface Step extends Gate {
  /** Its name. */
  readonly step: string
  /** How many actions it allows; null is without limit. */
  readonly budget: number | null
}

/**
 * A step of a turn, to be listed in `turns({ steps })` and named as an action's `when`. With a budget of 0 only what is
 * owed is done in it.
 */
export const turnStep = (name: string, { budget = 1 }: { readonly budget?: number | null } = {}): Step => ({
  gate: 'turns.step',
  given: [name],
  step: name,
  budget,
})

/** What a mode's own order goes by. */
export interface OrderAsked {
  /** In play, in the order of the cycle before, newcomers last. */
  readonly seats: readonly Seat[]
  /** From 1. */
  readonly cycle: number
}

/** Under this reason turns are held while others may react. */
export const WINDOW = 'window'

/** A budget without limit. */
export const NO_LIMIT = -1

export const shape = declareRule({
  name: 'turns',
  needs: [roster, phases],
  knows: [rounds, scores],
  config: (given: {
    readonly steps: readonly Step[]
    /** For the order 'custom': seats may be left out, or be in it more than once. */
    readonly inOrder?: (asked: OrderAsked) => readonly Seat[]
  }) => given,
  settings: fields({
    /** In which order seats take turns, or all together. */
    order: setting(oneOf('seats', 'reversed', 'snake', 'by-score', 'custom', 'together'), 'seats'),
    /** Who begins with the order `by-score`. */
    byScore: setting(oneOf('low-first', 'high-first'), 'low-first'),
    /** Who begins the first bout. */
    starts: setting(oneOf('first', 'random'), 'first'),
    /** Who begins each later round and bout; where several won or lost, as 'rotate'. */
    starter: setting(oneOf('rotate', 'loser', 'winner', 'random', 'same'), 'rotate'),
    /** Ms on the turn clock; null is without end. */
    turnTime: setting(orNull(whole({ min: 1 })), null),
    /** Ms that a seat has beside, for all its turns; what is added for each turn, and the most it can have. */
    bank: setting(whole({ min: 0 }), 0),
    /** Ms that are added to a seat's bank after each of its turns. */
    addPerTurn: setting(whole({ min: 0 }), 0),
    /** The most that a bank holds, ms; null is without limit. */
    maxBank: setting(orNull(whole({ min: 0 })), null),
    /** What is done when time is up: the default of each step that is left, or nothing. */
    timeOut: setting(oneOf('defaults', 'end-turn'), 'defaults'),
    /** What becomes of the turn of an absent seat: its clock runs, it is skipped, or it is waited for. */
    absentTurn: setting(oneOf('clock', 'skip', 'wait'), 'clock'),
    /** After so many turns in a row in which it was absent, a seat is skipped until it acts again. */
    skipAfter: setting(whole({ min: 1 }), 2),
    /** 'never': only who has no option passes, and then by itself. */
    passing: setting(oneOf('this-turn', 'out-for-cycle', 'never'), 'this-turn'),
    /** Whether a seat may take back what it did in its turn, action by action, until chance, hidden things or others come into it. */
    takingBack: setting(yesNo, false),
    /** How many extra turns can wait at once; null is without limit. */
    maxExtra: setting(orNull(whole({ min: 1 })), null),
    /** Which extra turn comes first where several wait. */
    extraOrder: setting(oneOf('oldest', 'newest'), 'oldest'),
  }),
  state: {
    now: single({
      /** Whose turn it is; nothing where several act together. */
      seat: maybe(seatRef()).seenBy(everyone),
      seats: list(seatRef(), []).seenBy(everyone),
      turn: int(0).seenBy(everyone),
      cycle: int(0).seenBy(everyone),
      step: text('').seenBy(everyone),
      /** The end of the turn, on the turn clock. */
      ends: time().seenBy(everyone),
      /** When it began, on the turn clock. */
      began: int(0),
      /** Why the turn is to end when the step has settled. */
      ending: text(''),
      timedOut: flag(false),
      /** Who holds turns up: nothing goes on while there is one. */
      held: set(text()),
      finished: flag(false).seenBy(everyone),
    }),
    order: single({
      /** Of this cycle; `at` is the place of who is next. */
      seats: list(seatRef(), []).seenBy(everyone),
      at: int(0).seenBy(everyone),
      /** What a cycle's order is made from. */
      base: list(seatRef(), []),
      extra: list(seatRef(), []).seenBy(everyone),
    }),
    seats: perSeat({
      /** What is left of the step's budget; -1 is without limit. */
      budget: int(0).seenBy(everyone),
      /** By step: how many actions must still be done. */
      owes: map(int()).seenBy(everyone),
      passed: flag(false).seenBy(everyone),
      /** Its turn did not take place, and nobody has acted since. */
      skipped: flag(false),
      /** Ms. */
      bank: int(0).seenBy(everyone),
      /** Regular turns that it is to miss. */
      misses: int(0).seenBy(everyone),
      /** What is added to the budget of its next turn. */
      bonus: int(0).seenBy(everyone),
      /** Turns in a row in which it was absent. */
      away: int(0),
    }),
    /** Who began last, by number; and who won last. */
    starter: single({ last: int(0), winners: list(seatRef(), []) }).each('match'),
  },
  events: {
    /** A turn has begun. */
    began: { seat: maybe(seatRef()).seenBy(everyone), turn: int().seenBy(everyone) },
    /** A step of a turn has begun. */
    'step-began': { step: text().seenBy(everyone), turn: int() },
    /** A turn is over; `why` is done, passed, time-out, left, out or what a rule says. */
    ended: { seat: maybe(seatRef()).seenBy(everyone), turn: int(), why: text().seenBy(everyone) },
    /** Everyone has had its turn. */
    'cycle-ended': { cycle: int() },
    /** The turn of a seat does not take place. */
    skipped: { seat: seatRef().seenBy(everyone), why: text().seenBy(everyone) },
    /** A seat gets another turn after the present one. */
    'extra-given': { seat: seatRef().seenBy(everyone) },
    /** An extra turn is not given. */
    'extra-dropped': { seat: seatRef().seenBy(everyone), why: text().seenBy(everyone) },
    /** Everyone has passed one after another. */
    'all-passed': {},
    /** A seat has taken its last action back. */
    'taken-back': { seat: seatRef().seenBy(everyone) },
  },
  drafts: {
    /** More of the present step's budget; grants of several rules add up. */
    budget: { seat: seatRef(), add: amount(), why: text() },
  },
  timers: ['clock'],
})
export type Match = MatchOf<typeof shape>
