import { fewValues, rowCell, type Seat } from '../../cells/index.ts'
import { assertOptions } from '../../kit/index.ts'
import type { Reading, RuleLike } from '../../rule/index.ts'
import { whenOutOfPlay } from '../play.ts'
import { choose, close, closeWhenAll, drop, forget, open, type Reveal, unchoose } from './question.ts'
import { type Match, ruleOf, type SealedCell } from './shape.ts'

/** What it refuses with. */
const refusals = {
  'already-open': 'This is open already. Wait until it is closed.',
  'sealed-closed': 'The question is closed. Wait for the next one.',
  'not-asked': 'This is not asked of your seat. Wait until it is.',
  'already-chosen': 'The choice cannot be changed. Wait for the reveal.',
}

/** What replaces a choice that was not made. */
export interface SealedOptions<V> {
  /** This one. Default: none. */
  readonly otherwise?: V
  /** What this function returns for a seat, from what other rules say; nothing for none. */
  readonly otherwiseBy?: {
    /** The rules that it reads. */
    readonly needs: readonly RuleLike[]
    of(match: Reading, seat: Seat): V | undefined
  }
  /** One of these at random. */
  readonly among?: readonly V[]
  /**
   * If rows are chosen: true if everyone may keep following a chosen row by the choice that was revealed. Default:
   * false; the choices are notices, by which nobody can follow a row that has moved on.
   */
  readonly follows?: boolean
  /**
   * Who is shown the choices when the question closes. With 'nobody' only rules know them, and show what concerns
   * whom. Default: 'everyone'.
   */
  readonly revealedTo?: 'everyone' | 'nobody'
  /**
   * If true, the choices that a seat has are in its view; only for cells with few values. Default: they are looked up
   * on request.
   */
  readonly offered?: boolean
}
/** A choice as it was revealed. */
export interface Chosen<V> {
  /** The seat that chose. */
  readonly seat: Seat
  /** What was chosen. */
  readonly choice: V
}

/** Who has chosen what amounts to the most, as at an auction. */
export interface Highest {
  /** By seat number. */
  readonly seats: readonly Seat[]
  /** 0 if there are none. */
  readonly amount: number
}

const choices = <N extends string, V>(match: Match<N, V>): Chosen<V>[] =>
  match.seating.all.flatMap((seat) => {
    const { choice } = match.own.last.of(seat)
    return choice === undefined ? [] : [{ seat, choice }]
  })

/**
 * A question that everyone who is asked answers in secret, revealed together or to nobody. The outcome does not depend on who
 * chose when.
 *
 * @example
 * ```ts
 * const bid = sealedOf('bid', int(), { otherwise: 0 })
 * ```
 */
export const sealedOf = <const N extends string, V>(
  name: N,
  of: SealedCell<V>,
  options: SealedOptions<NoInfer<V>> = {},
) => {
  assertOptions(`sealedOf '${name}'`, options, [
    'otherwise',
    'otherwiseBy',
    'among',
    'offered',
    'follows',
    'revealedTo',
  ])
  const { otherwise, otherwiseBy, among, offered = false, follows = false, revealedTo = 'everyone' } = options
  const isOpen = revealedTo === 'everyone'
  const byPart = follows || rowCell(of) === undefined
  const reveal: Reveal<V> = {
    otherwise: otherwiseBy?.of ?? (() => otherwise),
    among,
    shownBy: isOpen ? (byPart ? 'part' : 'notice') : undefined,
  }
  return ruleOf(name, of, otherwiseBy?.needs).does({
    refusals,
    discloses: (isOpen ? ['choice', 'chosen'] : ['chosen']).map((cell) => ({
      secret: `${name}.seats.${cell}`,
      by: `${name}.revealed`,
      to: 'everyone',
      why: isOpen ? 'choices are revealed to all together' : 'when it closes, all may have chosen',
    })),
    apply: { take() {} },
    actions: {
      /** Makes or changes the seat's choice. */
      choose: {
        offered: offered && fewValues(of) !== undefined,
        input: { choice: of },
        decide: (match, seat, { choice }) => choose(match, seat, choice),
      },
      /** Withdraws the seat's choice. */
      unchoose: { input: {}, decide: unchoose },
    },
    timers: { end: { band: 'inner', fire: (match) => close(match, reveal) } },
    on: {
      ...whenOutOfPlay(forget),
      'rounds.ended': (match) => close(match, reveal),
      'phases.changed'(match, { to }) {
        if (to === 'over') drop(match)
      },
    },
    settle: {
      wokenBy: ['question', 'seats', 'roster.seats'],
      run: (match) => closeWhenAll(match, reveal),
    },
    calls: {
      /** Asks these seats. Refuses with `already-open`. */
      open,
      /** Closes the question now, and reveals the choices. */
      close: (match) => close(match, reveal),
      /** True while choices can be made. */
      isOpen: (match): boolean => match.own.question.open,
      /** Returns what was revealed last, by seat number. Seats without a choice are left out. */
      choices: (match) => choices(match),
      /**
       * Returns whose choice amounts to the most, and to how much: several seats if they are level, none if no choice
       * amounts to more than 0.
       */
      highest(match, amountOf: (choice: V) => number): Highest {
        const all = choices(match).map(({ seat, choice }) => ({ seat, amount: amountOf(choice) }))
        const most = Math.max(0, ...all.map(({ amount }) => amount))
        const first = all.filter(({ amount }) => amount === most && most > 0)
        return { seats: first.map(({ seat }) => seat), amount: most }
      },
    },
  })
}
