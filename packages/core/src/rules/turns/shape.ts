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

/** A part of a turn. As a gate, it lets the seat in turn act during that part. */
export interface Step extends Gate {
  /** Its name. */
  readonly step: string
  /** How many actions it allows; null means no limit. */
  readonly budget: number | null
}

/**
 * A step of a turn. List it in `turns({ steps })` and name it as an action's `when`. With a budget of 0, only actions
 * that are owed are done in it.
 */
export const turnStep = (name: string, { budget = 1 }: { readonly budget?: number | null } = {}): Step => ({
  gate: 'turns.step',
  given: [name],
  step: name,
  budget,
})

/** What a mode's own order goes by. */
export interface OrderAsked {
  /** The seats in play, in the order of the last cycle, newcomers last. */
  readonly seats: readonly Seat[]
  /** From 1. */
  readonly cycle: number
}

/** The reason under which turns are held while others may react. */
export const WINDOW = 'window'

/** A budget without limit. */
export const NO_LIMIT = -1

export const shape = declareRule({
  name: 'turns',
  needs: [roster, phases],
  knows: [rounds, scores],
  config: ({
    steps,
    inOrder,
  }: {
    readonly steps: readonly Step[]
    /** For the order 'custom'. Seats may be left out, or listed more than once. */
    readonly inOrder?: ((asked: OrderAsked) => readonly Seat[]) | undefined
  }) => ({ steps, inOrder }),
  settings: fields({
    /** In which order seats take turns, or all together. */
    order: setting(oneOf('seats', 'reversed', 'snake', 'by-score', 'custom', 'together'), 'seats'),
    /** Who begins with the order `by-score`. */
    byScore: setting(oneOf('low-first', 'high-first'), 'low-first'),
    /** Who begins the first bout. */
    starts: setting(oneOf('first', 'random'), 'first'),
    /** Who begins each later round and bout. If several won or lost, as with 'rotate'. */
    starter: setting(oneOf('rotate', 'loser', 'winner', 'random', 'same'), 'rotate'),
    /** Time limit for a turn, in ms on the turn clock; null means none. */
    turnTime: setting(orNull(whole({ min: 1 })), null),
    /** Extra time per seat, in ms, shared by all its turns and used after `turnTime` runs out. */
    bank: setting(whole({ min: 0 }), 0),
    /** Added to a seat's bank after each of its turns, in ms. */
    addPerTurn: setting(whole({ min: 0 }), 0),
    /** The most that a bank can hold, in ms; null means no limit. */
    maxBank: setting(orNull(whole({ min: 0 })), null),
    /** What happens when time is up: the default action of each remaining step, or nothing. */
    timeOut: setting(oneOf('defaults', 'end-turn'), 'defaults'),
    /** What happens to the turn of an absent seat: its clock runs, it is skipped, or it is waited for. */
    absentTurn: setting(oneOf('clock', 'skip', 'wait'), 'clock'),
    /** After this many turns in a row while absent, a seat is skipped until it acts again. */
    skipAfter: setting(whole({ min: 1 }), 2),
    /**
     * What passing means: skip this turn, or stay out for the rest of the cycle. With 'never', a seat passes only if
     * it has no option, and then by itself.
     */
    passing: setting(oneOf('this-turn', 'out-for-cycle', 'never'), 'this-turn'),
    /** What happens when everyone has passed one after another: turns go on, or the round ends as if time were up. */
    allPass: setting(oneOf('go-on', 'end-round'), 'go-on'),
    /**
     * If true, a seat may take back what it did in its turn, action by action, as long as no chance, no hidden
     * information and no other seat was involved.
     */
    takingBack: setting(yesNo, false),
    /** How many extra turns can wait at once; null means no limit. */
    maxExtra: setting(orNull(whole({ min: 1 })), null),
    /** Which extra turn comes first if several wait. */
    extraOrder: setting(oneOf('oldest', 'newest'), 'oldest'),
  }),
  state: {
    now: single({
      /** Whose turn it is; nothing if several act together. */
      seat: maybe(seatRef()).seenBy(everyone),
      seats: list(seatRef(), []).seenBy(everyone),
      turn: int(0).seenBy(everyone),
      cycle: int(0).seenBy(everyone),
      step: text('').seenBy(everyone),
      /** The end of the turn, on the turn clock. */
      ends: time().seenBy(everyone),
      /** When it began, on the turn clock. */
      began: int(0),
      /** Why the turn ends when the step has settled. */
      ending: text(''),
      timedOut: flag(false),
      /** How many turns in a row have ended because nothing could be done in them. */
      stuck: int(0),
      /** The reasons why turns are held. Nothing goes on while there is one. */
      held: set(text()),
      finished: flag(false).seenBy(everyone),
    }),
    order: single({
      /** Of this cycle. `at` is the position of the next seat. */
      seats: list(seatRef(), []).seenBy(everyone),
      at: int(0).seenBy(everyone),
      /** What a cycle's order is made from. */
      base: list(seatRef(), []),
      /** Arranged before the first cycle of a round. */
      first: list(seatRef(), []),
      extra: list(seatRef(), []).seenBy(everyone),
      /** The end of the cycle was announced. */
      ending: flag(false),
    }),
    seats: perSeat({
      /** What is left of the step's budget; -1 means no limit. */
      budget: int(0).seenBy(everyone),
      /** For each step: how many actions must still be done. */
      owes: map(int()).seenBy(everyone),
      passed: flag(false).seenBy(everyone),
      /** Its turn did not take place, and nobody has acted since. */
      skipped: flag(false),
      /** Ms. */
      bank: int(0).seenBy(everyone),
      /** Regular turns that it will miss. */
      misses: int(0).seenBy(everyone),
      /** What is added to the budget of its next turn. */
      bonus: int(0).seenBy(everyone),
      /** Turns in a row during which it was absent. */
      away: int(0),
    }),
    /** Who began last, by number, and who won last. */
    starter: single({ last: int(0), winners: list(seatRef(), []) }).each('match'),
  },
  events: {
    /** A turn has begun. */
    began: { seat: maybe(seatRef()).seenBy(everyone), turn: int().seenBy(everyone) },
    /** A step of a turn has begun. */
    'step-began': { step: text().seenBy(everyone), turn: int() },
    /** A turn has ended. `why` is done, passed, time-out, left, out or what a rule says. */
    ended: { seat: maybe(seatRef()).seenBy(everyone), turn: int(), why: text().seenBy(everyone) },
    /** No turn of this cycle is left. A rule may hold turns now, or arrange the next cycle's order. */
    'cycle-ending': { cycle: int() },
    /** Everyone has had its turn. */
    'cycle-ended': { cycle: int() },
    /** A seat's turn does not take place. */
    skipped: { seat: seatRef().seenBy(everyone), why: text().seenBy(everyone) },
    /** A seat gets another turn after the current one. */
    'extra-given': { seat: seatRef().seenBy(everyone) },
    /** An extra turn is not given. */
    'extra-dropped': { seat: seatRef().seenBy(everyone), why: text().seenBy(everyone) },
    /** Everyone has passed one after another. */
    'all-passed': {},
    /** A seat has taken its last action back. */
    'taken-back': { seat: seatRef().seenBy(everyone) },
  },
  drafts: {
    /** More of the current step's budget. Grants of several rules add up. */
    budget: { seat: seatRef(), add: amount(), why: text() },
  },
  timers: ['clock'],
})
export type Match = MatchOf<typeof shape>
