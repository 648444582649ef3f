import type { Audience, Cells, MarkOf, Seat, Settled, Sight, State } from '../cells/index.ts'
import type { Band, ClockName } from '../time/index.ts'
import type { Disclosure, VariationAsked } from './disclosure.ts'
import type { Gate, GateRule } from './gates.ts'
import type { RefusalTexts } from './refusal-text.ts'
import type { Refusal, Ruling } from './ruling.ts'
import type { InputSpec, ParsedOf, RuleLike, Spec, WireOf } from './spec.ts'

/** Keys such as 'vitals.down'. */
export type Keys<N extends Spec, P extends 'events' | 'drafts' | 'actions' | 'state'> = N extends Spec
  ? `${N['name']}.${keyof N[P] & string}`
  : never
type At<N extends Spec, P extends 'events' | 'drafts' | 'actions', K> = K extends `${infer R}.${infer I}`
  ? N extends { readonly name: R }
    ? I extends keyof N[P]
      ? N[P][I]
      : never
    : never
  : never
/** An empty mapped type would accept any key unchecked: offer one key instead that says why there are none. */
export type Known<K, Why extends string> = [K] extends [never] ? Why : K
type EventKey<N extends Spec> = Known<Keys<N, 'events'>, '(no rule in needs has events)'>
type AmendKey<N extends Spec> = Known<
  Keys<N, 'drafts'> | Keys<N, 'actions'>,
  '(no rule in needs has drafts or actions)'
>

/** In an amendment, a number changes only by operations that commute, so the order of rules never matters. */
export interface Amount {
  /** The value it was given. */
  readonly base: number
  /** Adds a whole number, which may be negative. */
  add(n: number): void
  /** Multiplies, with up to three decimals, exactly. */
  times(factor: number): void
  /** Makes it at least this. */
  atLeast(n: number): void
  /** Makes it at most this. Wins over `atLeast`. */
  atMost(n: number): void
}
type Amendable<F extends Cells, M> = {
  readonly [K in keyof F]: 'amount' extends MarkOf<F[K]> ? Amount : F[K]['initial']
} & {
  /** Runs if the draft is applied. Spend tokens here. */
  whenApplied(run: (match: M) => void): void
} & ('target' extends keyof F
    ? {
        /** Redirects the blow, once per draft: it is then judged again for that seat. */ redirect(
          target: Seat,
        ): void
      }
    : unknown)
/** A draft is amended; an action can only be refused. */
type Amended<N extends Spec, K, M> =
  K extends Keys<N, 'drafts'>
    ? At<N, 'drafts', K> extends infer F extends Cells
      ? Amendable<F, M>
      : never
    : At<N, 'actions', K> extends { parsed: infer P }
      ? { readonly seat: Seat; readonly input: P }
      : never

/** The order of settling inside a step. */
export type Tier = 'score' | 'return' | 'upkeep' | 'verdict' | 'turn' | 'round'
export const tiers: readonly Tier[] = ['score', 'return', 'upkeep', 'verdict', 'turn', 'round']

type Firing<M> = (match: M, key: string) => void
/** The kind of a timer's keys: seats, whose timers end when they leave; ids of rows; or other texts. */
export type TimerKeys = 'seat' | 'row' | 'text'
/** A timer. Without `fire` it is a cooldown that you only query. Default: clock play, band effect, keyed by seat. */
export type TimerRule<M> =
  | Firing<M>
  | {
      readonly clock?: ClockName
      readonly band?: Band
      readonly keyedBy?: TimerKeys
      /**
       * Who sees when it is due, under `view.rule.timers`. Default: nobody. If its key is a seat, that seat is its
       * owner.
       */
      readonly seenBy?: Sight | readonly Sight[]
      readonly fire?: Firing<M>
    }

/** The match as a group reads it: state, settings, seats, and other rules' read-only calls. */
type ReadOnly<M> = Pick<
  M,
  Extract<keyof M, 'own' | 'seats' | 'seating' | 'settings' | 'config' | 'seatLimits' | 'bout' | 'use'>
>

/** The behaviour of a rule, as opposed to its declarations. */
export interface Behaviour<
  M,
  N extends Spec,
  St,
  D,
  Inputs,
  Out,
  Facts,
  Heard,
  Orders,
  Obeyed,
  Veto,
  Calls,
  App,
> {
  readonly calls?: Calls & { readonly [K in keyof Calls]: (match: M, ...rest: never) => unknown }
  /** Carries out a settled draft. It may refuse, because only now the amended numbers are known. */
  readonly apply?: {
    readonly [K in Known<keyof D, '(declare it in drafts first)'>]?: (
      match: M,
      draft: K extends keyof D ? Settled<D[K]> : never,
    ) => Ruling | void
  } & {
    readonly [K in keyof App]: K extends keyof D
      ? (...args: never) => App[K]
      : `'${K & string}' is not among this rule's drafts`
  }
  readonly actions?: {
    readonly [K in keyof Inputs]: {
      readonly input: Inputs[K]
      /** When the action may be done. Default: in live play, by any seat. */
      readonly when?: Gate | readonly Gate[]
      /** What it costs of a budget, such as that of a step. Default: 1. */
      readonly cost?: number
      /** If true, even a seat whose actions fault too often may do it, such as leaving. Default: false. */
      readonly neverLimited?: boolean
      /**
       * If true, the seat's options are in its own view, under `view.rule.options`. Default: they are looked up on
       * request.
       */
      readonly offered?: boolean
      /**
       * Lists candidates. The engine keeps those that pass the checks and a trial of `decide`, so every option that
       * is offered would be accepted. `part` is what the asker has chosen so far. Default: every input that the cells
       * allow, if all of them are choices, flags, seats, rows that the asker sees, or whole numbers between bounds, at
       * most 1,000 without seats and rows; otherwise none.
       */
      options?(
        match: M,
        seat: Seat,
        part: Partial<WireOf<NoInfer<Inputs[K]>>>,
      ): readonly WireOf<NoInfer<Inputs[K]>>[]
      /** Returns what to do for a seat whose time is up, or nothing. */
      onTimeOut?(match: M, seat: Seat): WireOf<NoInfer<Inputs[K]>> | undefined
      decide(match: M, seat: Seat, input: ParsedOf<NoInfer<Inputs[K]>>): Ruling | void
    }
  } & { readonly [K in keyof Out]: { decide(...args: never): Out[K] } }
  readonly facts?: {
    readonly [K in keyof Facts]: {
      readonly input: Facts[K]
      /** When the fact may be reported. Default: in live play. Only gates of the phase and the life apply to facts. */
      readonly when?: Gate | readonly Gate[]
      /** How long ago it may have happened when it is reported with an `at`, in ms. Default: 0. */
      readonly late?: number
      handle(match: M, input: ParsedOf<NoInfer<Facts[K]>>): Ruling | void
    }
  } & { readonly [K in keyof Heard]: { handle(...args: never): Heard[K] } }
  readonly directives?: {
    readonly [K in keyof Orders]: {
      readonly input: Orders[K]
      handle(match: M, input: ParsedOf<NoInfer<Orders[K]>>, referee: string | undefined): Ruling | void
    }
  } & { readonly [K in keyof Obeyed]: { handle(...args: never): Obeyed[K] } }
  readonly on?: { readonly [K in EventKey<N>]?: (match: M, event: Settled<At<N, 'events', K>>) => void }
  readonly amend?: { readonly [K in AmendKey<N>]?: (match: M, draft: Amended<N, K, M>) => Refusal | void } & {
    readonly [K in keyof Veto]: K extends AmendKey<N>
      ? (...args: never) => Veto[K]
      : `no rule in needs has a draft or an action '${K & string}'`
  }
  /**
   * Called when a rule's settings have changed while the match runs. For the rule's own settings, clamp what is
   * beyond the new limits.
   */
  readonly changed?: (match: M, rule: string) => void
  /** Conditions for actions of this rule and others. */
  readonly gates?: { readonly [gate: string]: GateRule<M> }
  /** Groups of seats that see a cell; see `group`. Each runs again whenever something that it read has changed. */
  readonly groups?: { readonly [group: string]: (match: ReadOnly<M>) => readonly Seat[] }
  /** Returns who is on a seat's side, including itself. For the one rule of a rulebook that makes sides. */
  readonly sides?: (match: ReadOnly<M>, seat: Seat) => readonly Seat[]
  /** Returns who sees where a seat is, besides itself. For the one rule of a rulebook that places seats; see `near`. */
  readonly inSight?: (match: ReadOnly<M>, seat: Seat) => Audience
  /**
   * For the sight audit: the cells of a part that may have other values while everything else stays. The other cells
   * depend on each other, so a state in which only one of them differs is impossible. Default: every cell may.
   */
  readonly varies?: { readonly [part: string]: readonly string[] }
  /**
   * For the sight audit: other states that are possible, by name, if several cells must change together. Change only
   * what `sees` says is hidden, and draw from `chance`.
   */
  readonly variations?: { readonly [variation: string]: (match: M, asked: VariationAsked) => void }
  /**
   * What the rule reveals of secrets on purpose. If anything else reveals it, or to anybody else, the sight audit
   * reports a leak.
   */
  readonly discloses?: readonly Disclosure[]
  /**
   * Texts for the codes that this rule refuses with: what is wrong, and what to do. `match.explain` returns them, and
   * a venue sends them to its clients.
   */
  readonly refusals?: RefusalTexts
  /** Called when a bout begins. */
  readonly setUp?: (match: M) => void
  /** Ends a bout without a winner if the rulebook's code fails too often. For the one rule that keeps phases. */
  readonly onVoid?: (match: M) => void
  /** Runs in its tier of the settling if one of these parts of the state has changed in the step. */
  readonly settle?: {
    readonly tier?: Tier
    readonly wokenBy: readonly ((keyof St & keyof State & string) | Keys<N, 'state'>)[]
    /** Rules that this rule's options read: a change of their state, or of that of rules they need, runs it too. */
    alsoBy?(config: M extends { readonly config: infer Tk } ? Tk : unknown): readonly RuleLike[]
    run(match: M): void
  }
}

/** A rule with drafts must say in `apply` how each is carried out. */
export type Applies<D> = { readonly [K in keyof D as 'apply']: { readonly [P in keyof D]: unknown } }
export type Inputs<I> = { readonly [K in keyof I]: InputSpec }
