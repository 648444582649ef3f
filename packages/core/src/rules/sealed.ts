import { z } from 'zod'
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
  rowCell,
  type Seat,
  seatRef,
  single,
  time,
} from '../cells/index.ts'
import { declareRule, type MatchOf, refuse } from '../rule/index.ts'
import { phases } from './phases.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'

/** What stands for a choice that was not made. */
export interface SealedOptions<V> {
  /** This one. Default: none. */
  readonly otherwise?: V
  /** One of these at random. */
  readonly among?: readonly V[]
  /**
   * Where rows are chosen: true if all may go on naming a chosen row by the choice that was revealed, wherever it goes.
   * Default: false. The choices are notices, by which nobody can follow a row that has moved on.
   */
  readonly follows?: boolean
  /** Whether the choices that a seat has are in its view: of few values only. Default: they are looked up on request. */
  readonly offered?: boolean
}
/** A choice as it was revealed. */
export interface Chosen<V> {
  /** Who chose. */
  readonly seat: Seat
  /** What was chosen. */
  readonly choice: V
}

/** Any cell but an amount, which amendments could change. */
type SealedCell<V> = Cell<V, Reach, Exclude<Mark, 'amount'>>

const whoSeen = bySetting('whoSeen')

const MAX_VALUES = 100

/** All values of a cell that has few: those of a choice, yes and no, numbers within bounds. */
function valuesOf<V>({ kind, values, least, most }: SealedCell<V>): readonly V[] | undefined {
  const all: readonly unknown[] | undefined =
    kind === 'choice'
      ? values
      : kind === 'flag'
        ? [true, false]
        : kind === 'int' && least !== undefined && most !== undefined && most - least < MAX_VALUES
          ? Array.from({ length: most - least + 1 }, (_, n) => least + n)
          : undefined
  return all as readonly V[] | undefined // the cell's kind says what it holds
}

const ruleOf = <const N extends string, V>(name: N, of: SealedCell<V>) =>
  declareRule({
    name,
    needs: [roster, phases],
    knows: [rounds],
    settings: z.object({
      /** Ms of play time in which to choose; null is without end. */
      time: z.int().min(1).nullable().default(null),
      /** Whether a choice can be changed and taken back until the end. */
      changes: z.boolean().default(true),
      /** Whether the end comes when all who are awaited have chosen. */
      closeWhenAll: z.boolean().default(true),
      /** Whether absent seats are awaited. */
      awaitAbsent: z.boolean().default(false),
      leaverChoice: z.enum(['drop', 'keep']).default('drop'),
      /** Who sees that a seat has chosen. */
      whoSeen: z.enum(['everyone', 'nobody']).default('everyone'),
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
      opened: { asked: list(seatRef()).seenBy(everyone) },
      chosen: { seat: seatRef().seenBy(whoSeen) },
      /** All at once; the choices are in the part `revealed`, and in the call `choices`. */
      revealed: { number: int().seenBy(everyone) },
      /** What one seat has chosen, where rows are chosen that nobody may follow. */
      'choice-revealed': { seat: seatRef().seenBy(everyone), choice: maybe(of).seenBy(everyone) },
      /** What was chosen could not be carried out any more: it counts as not chosen. */
      'no-longer-legal': { seat: seatRef().seenBy(owner) },
    },
    /** Refused, the choice is not legal: asked when it is made, and again at the reveal. */
    drafts: { take: { seat: seatRef(), choice: of } },
    timers: ['end'],
  })
type Match<N extends string, V> = MatchOf<ReturnType<typeof ruleOf<N, V>>>

/**
 * A question that everyone who is asked answers in secret, revealed together. No outcome depends on who chose when.
 *
 * @example
 * ```ts
 * const bid = sealedOf('bid', int(), { otherwise: 0 })
 * ```
 */
export const sealedOf = <const N extends string, V>(
  name: N,
  of: SealedCell<V>,
  { otherwise, among, offered = false, follows = false }: SealedOptions<NoInfer<V>> = {},
) => {
  const asked = (match: Match<N, V>): Seat[] =>
    match.seating.all.filter((seat) => match.own.seats.of(seat).asked)

  function awaited(match: Match<N, V>): Seat[] {
    return asked(match).filter(
      (seat) =>
        !match.own.seats.of(seat).chosen && (match.settings.awaitAbsent || match.use(roster).isHere(seat)),
    )
  }

  function open(match: Match<N, V>, seats: readonly Seat[]) {
    const { question } = match.own
    if (question.open) return refuse('already-open')
    question.open = true
    question.number += 1
    for (const seat of match.seating.all) {
      const row = match.own.seats.of(seat)
      row.asked = seats.includes(seat) && match.use(roster).isInPlay(seat)
      row.chosen = false
      row.choice = undefined
      match.own.revealed.of(seat).choice = undefined
      match.own.last.of(seat).choice = undefined
    }
    if (match.settings.time !== null) {
      match.timers.start('end', { in: match.settings.time })
      question.until = match.time.play + match.settings.time
    }
    match.emit('opened', { asked: asked(match) })
    return undefined
  }

  /** A choice that is made and may be carried out still; else what stands for one. */
  function settled(match: Match<N, V>, seat: Seat): V | undefined {
    const { chosen, choice } = match.own.seats.of(seat)
    // Drawn for those who have chosen too, so that what is drawn next does not tell who had not.
    const drawn = among === undefined ? otherwise : match.chance('missing').pick(among)
    if (!chosen || choice === undefined) return drawn
    if (match.resolve('take', { seat, choice }).ok) return choice
    match.emit('no-longer-legal', { seat })
    return drawn
  }

  function close(match: Match<N, V>) {
    const { question } = match.own
    if (!question.open) return
    question.open = false
    question.until = undefined
    match.timers.cancel('end')
    for (const seat of asked(match)) {
      const choice = settled(match, seat)
      match.own.seats.of(seat).choice = undefined
      match.own.last.of(seat).choice = choice
      if (isShown) match.own.revealed.of(seat).choice = choice
      else match.emit('choice-revealed', { seat, choice })
    }
    match.emit('revealed', { number: question.number })
  }

  function drop(match: Match<N, V>) {
    match.own.question.open = false
    match.own.question.until = undefined
    for (const seat of match.seating.all) {
      match.own.seats.of(seat).asked = false
      match.own.seats.of(seat).choice = undefined
    }
  }

  function forget(match: Match<N, V>, seat: Seat) {
    const row = match.own.seats.of(seat)
    if (row.chosen && match.settings.leaverChoice === 'keep') return
    row.asked = false
    row.choice = undefined
  }

  function problem(match: Match<N, V>, seat: Seat) {
    const { asked: isAsked, chosen } = match.own.seats.of(seat)
    if (!match.own.question.open) return refuse('sealed-closed')
    if (!isAsked) return refuse('not-asked')
    return chosen && !match.settings.changes ? refuse('already-chosen') : undefined
  }

  const values = valuesOf(of)
  const isShown = follows || rowCell(of) === undefined

  return ruleOf(name, of).does({
    discloses: ['choice', 'chosen'].map((cell) => ({
      secret: `${name}.seats.${cell}`,
      by: `${name}.revealed`,
      to: 'everyone',
      why: 'choices are revealed to all together',
    })),
    apply: { take() {} },
    actions: {
      choose: {
        offered: offered && values !== undefined,
        input: { choice: of },
        ...(values && { options: () => values.map((choice) => ({ choice })) }),
        decide(match, seat, { choice }) {
          const refusal = problem(match, seat)
          if (refusal !== undefined) return refusal
          const ruling = match.resolve('take', { seat, choice })
          if (!ruling.ok) return ruling
          const row = match.own.seats.of(seat)
          if (!row.chosen) match.emit('chosen', { seat })
          row.chosen = true
          row.choice = choice
          return undefined
        },
      },
      unchoose: {
        input: {},
        decide(match, seat) {
          const refusal = problem(match, seat)
          if (refusal !== undefined) return refusal
          const row = match.own.seats.of(seat)
          row.chosen = false
          row.choice = undefined
          return undefined
        },
      },
    },
    timers: { end: { band: 'inner', fire: (match) => close(match) } },
    on: {
      'roster.left': (match, { seat }) => forget(match, seat),
      'roster.sidelined': (match, { seat }) => forget(match, seat),
      'rounds.ended': (match) => close(match),
      'phases.changed'(match, { to }) {
        if (to === 'over') drop(match)
      },
    },
    settle: {
      wokenBy: ['question', 'seats', 'roster.seats'],
      run(match) {
        if (!match.own.question.open) return
        const isDone =
          asked(match).length === 0 || (match.settings.closeWhenAll && awaited(match).length === 0)
        if (isDone) close(match)
      },
    },
    calls: {
      open,
      close,
      isOpen: (match): boolean => match.own.question.open,
      /** What was revealed last, by seat number; who has no choice is not among them. */
      choices: (match): Chosen<V>[] =>
        match.seating.all.flatMap((seat) => {
          const { choice } = match.own.last.of(seat)
          return choice === undefined ? [] : [{ seat, choice }]
        }),
    },
  })
}
