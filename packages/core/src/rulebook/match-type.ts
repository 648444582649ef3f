import type { AnyCell, Cells, Flat, LookAt, OnClock, Seat, Settled } from '../cells/index.ts'
import type { Fault, ServerEvent } from '../engine/index.ts'
import type { ActionOptions, ReportOptions } from '../inputs/index.ts'
import type { Snapshot } from '../record/index.ts'
import type { AnyInputRefusal, Refusal, Ruling, Spec, SpecOf } from '../rule/index.ts'
import type { phases, roster, rounds, turns, verdict, vitals } from '../rules/index.ts'
import type { Notice } from '../sight/index.ts'
import type { ClockName } from '../time/index.ts'
import type { InitialView, Update } from '../views/index.ts'
import type { Rulebook } from './define-rulebook.ts'
import type { RulebookDescription } from './describe.ts'

/** A hidden nothing and a shown nothing must differ, so a cell that holds nothing is null in a view. */
type Shown<V> = undefined extends V ? AsJson<Exclude<V, undefined>> | null : AsJson<V>
/** In a view, sets are lists and maps are objects. */
type AsJson<V> =
  V extends ReadonlyMap<string, infer E>
    ? { readonly [key: string]: E }
    : V extends ReadonlySet<infer E>
      ? readonly E[]
      : V
/** A moment in the time of a clock, in ms. Types know which. */
export type Moment<C extends ClockName = ClockName> = number & { readonly clock?: C }
type ClockOf<C> = C extends { readonly mark?: { readonly is: infer M } }
  ? M extends OnClock<infer N>
    ? N
    : never
  : never
/** A cell as a view has it. */
type ShownCell<C extends AnyCell> = [ClockOf<C>] extends [never]
  ? Shown<C['initial']>
  : Moment<ClockOf<C>> | null
/** The value that others get in place of a masked cell. */
type MaskOf<C> = C extends { readonly masked?: { readonly is: infer R } } ? R : never
/** Cells that everyone sees are present, those that some see are optional, and those that nobody sees are absent. */
type ViewRow<F extends Cells> = Flat<
  { readonly [K in keyof F as F[K]['reach'] extends 'everyone' ? K : never]: ShownCell<F[K]> } & {
    readonly [K in keyof F as F[K]['reach'] extends 'owner' | 'some' ? K : never]?:
      | ShownCell<F[K]>
      | MaskOf<F[K]>
  }
>
type ViewPart<P> = P extends { readonly part: infer Kind; readonly cells: infer F extends Cells }
  ? Kind extends 'single'
    ? ViewRow<F> & DerivedOf<P>
    : { readonly [id: string]: ViewRow<F> & DerivedOf<P> }
  : never
/** The derived values of a part, for views. */
type DerivedOf<P> = P extends { readonly derived?: { readonly is: infer D } } ? Partial<D> : unknown
type ViewOf<S extends Spec> = Flat<
  { readonly [K in keyof S['state']]: ViewPart<S['state'][K]> } & {
    /** When visible timers are due, by name and key, in the time of their clocks (ms). */
    readonly timers?: { readonly [T in S['timers']]?: { readonly [key: string]: number } }
    /** Settings that the rulebook shows. */
    readonly settings?: Partial<S['settings']>
    /** In a seat's own view: its options for actions that are offered. */
    readonly options?: { readonly [A in keyof S['actions']]?: readonly S['actions'][A]['input'][] }
  }
>

/** If it runs, `at` is the match time (ms) at which the clock read zero. If not, it is its reading. */
export interface ClockView {
  /** See above, in ms. */
  readonly at: number
  /** True if it runs. */
  readonly runs: boolean
}
/** The four clocks of a match as a view has them. */
export type ClocksView = { readonly [C in ClockName]: ClockView }

/** One record of 'rule.name' for all rules. */
type Named<S extends Spec, P extends 'actions' | 'facts' | 'directives'> = Merge<
  S extends Spec ? { readonly [K in keyof S[P] & string as `${S['name']}.${K}`]: S[P][K] } : never
>
type Merge<U> = (U extends unknown ? (each: U) => void : never) extends (all: infer I) => void ? I : never
type InputAt<A, K extends keyof A> = A[K] extends { input: infer I } ? I : never
type RefusalAt<A, K extends keyof A> = A[K] extends { refusal: infer R extends Refusal } ? R : never
type Partly<T> = { readonly [K in keyof T]?: Partial<T[K]> }

/** Settings of a match, by rule. Those that are left out keep the rulebook's values. */
export type SettingsOf<S extends Spec> = Partly<{ readonly [R in S as R['name']]: R['settings'] }>
/** A view of a match, by rule. Optional rules may be missing. */
export type ViewAll<S extends Spec, O extends Spec = never> = { readonly clocks: ClocksView } & {
  readonly [R in S as R['name']]: ViewOf<R>
} & { readonly [R in O as R['name']]?: ViewOf<R> }
type StateAll<S extends Spec, O extends Spec> = { readonly [R in S as R['name']]: LookAt<R['state']> } & {
  readonly [R in O as R['name']]?: LookAt<R['state']>
}

/** Settings to change while the match runs. */
type LiveSetting<S extends Spec> = S extends Spec
  ? { readonly rule: S['name']; readonly settings: Partial<S['settings']> }
  : never

/** Each event of each rule, as the viewer 'server' gets it. */
type ServerEventOf<S extends Spec> = S extends Spec
  ? {
      [E in keyof S['events'] & string]: {
        readonly name: `${S['name']}.${E}`
        readonly at: number
        readonly cells: Settled<S['events'][E]>
      }
    }[keyof S['events'] & string]
  : never

/** A running match from outside: inputs go in, views and updates come out. Anything of optional rules may be missing. */
export type Match<S extends Spec = Spec, O extends Spec = never> = RunningMatch<
  Named<S | O, 'actions'>,
  Named<S | O, 'facts'>,
  Named<S | O, 'directives'> & {
    readonly 'match.set': { readonly input: LiveSetting<S | O>; readonly refusal: never }
  },
  { readonly [R in S as R['name']]: R['settings'] } & { readonly [R in O as R['name']]?: R['settings'] },
  StateAll<S, O>,
  ViewAll<S, O>,
  (S | O)['vetoes'],
  ServerEventOf<S | O>
>

/** A running match: its inputs, its time, and what each viewer sees. */
export interface RunningMatch<A, F, D, Settings, State, View, Vetoes extends Refusal, Told = ServerEvent> {
  /** The name of the rulebook. */
  readonly rulebook: string
  /** Match time: ms since it began. */
  readonly now: number
  /** When the host must advance it next (match time), or nothing while no timer runs. */
  readonly nextDue: number | undefined
  /**
   * When the host must flush next to send values that wait, of cells that send only their latest one (match time), or
   * nothing.
   */
  readonly nextFlush: number | undefined
  /** The seats that are taken and have not left this bout, by seat number. Rules have the same as `match.seats`. */
  readonly seats: readonly Seat[]
  /** The same, including seats that have left this bout. */
  readonly allSeats: readonly Seat[]
  /** Settings in force, by rule. */
  readonly settings: Settings
  /**
   * The whole state, hidden cells included: for the server only, and read-only. @throws ZR_MATCH_CLOSED after
   * `close()`
   */
  readonly state: State
  /** The latest 20 faults: code of the rulebook that threw. Pass `onFault` to get each one at once. */
  readonly faults: readonly Fault[]
  /** How many faults there were for each handler, such as `{ 'raft on vitals.down': 3 }`. */
  readonly faultCounts: { readonly [handler: string]: number }
  /** Submits what a player asks for. The same id again is decided once and answered twice. */
  submit<K extends keyof A & string>(
    seat: Seat,
    action: K,
    input: InputAt<A, K>,
    how?: ActionOptions,
  ): Ruling<RefusalAt<A, K> | Vetoes | AnyInputRefusal>
  /**
   * Returns the inputs with which an action would be accepted from this seat right now. `part` is what the asker has
   * chosen so far. Empty if the action's rule lists no candidates.
   */
  options<K extends keyof A & string>(
    seat: Seat,
    action: K,
    part?: Partial<InputAt<A, K>>,
  ): readonly InputAt<A, K>[]
  /** Reports what a trusted game server says. */
  report<K extends keyof F & string>(
    fact: K,
    input: InputAt<F, K>,
    seen?: ReportOptions,
  ): Ruling<RefusalAt<F, K> | Vetoes | AnyInputRefusal>
  /** Reports several facts as one step: they are simultaneous, with one ruling each. */
  reportAll<K extends keyof F & string>(
    fact: K,
    inputs: readonly InputAt<F, K>[],
    seen?: ReportOptions,
  ): readonly Ruling<RefusalAt<F, K> | Vetoes | AnyInputRefusal>[]
  /** Gives an order of the host or a named referee. */
  direct<K extends keyof D & string>(
    directive: K,
    input: InputAt<D, K>,
    by?: { readonly referee?: string },
  ): Ruling<RefusalAt<D, K> | Vetoes | AnyInputRefusal>
  /**
   * Advances to this match time (ms) and fires each timer on the way, exactly at its due. @throws ZR_MATCH_TIME_BACK,
   * ZR_TIME_NOT_WHOLE
   */
  advanceTo(ms: number): void
  /**
   * Returns the view of a seat, of a spectator (a viewer whose id begins with 'spectator'), or of 'server', which
   * sees every cell that anybody may ever see. Computed from scratch. @throws ZR_MATCH_UNKNOWN_VIEWER
   */
  view(viewer: string): View
  /** Adds a viewer and returns its whole view. `flush` returns the updates that keep it current. */
  addViewer(viewer: string): InitialView
  /**
   * The current viewers, in the order in which they were added. A viewer whose seat has gone to somebody else is no
   * longer among them.
   */
  readonly viewers: readonly string[]
  /** Removes a viewer: it gets no more updates. */
  removeViewer(viewer: string): void
  /**
   * Returns what changed for each viewer since its last update. Cells that send only their latest value may wait;
   * with `all` they are sent too.
   */
  flush(how?: { readonly all?: boolean }): readonly Update<Told>[]
  /** Returns 64 bits over the whole state, as 16 hexadecimal digits. Secret until the match is closed. */
  hash(): string
  /** Returns everything that decides how the match goes on. It is secret: keep it on the server. */
  snapshot(): Snapshot
  /** Ends the match and its record. Every later input is refused with `closed`. */
  close(): void
  /** Returns the rulebook as data, for tools. */
  describe(): RulebookDescription
  /**
   * Returns a refusal as a sentence with its fix, from the texts of its rules. A code without a text is shown as it
   * is.
   */
  explain(refusal: Refusal): string
}

/** The match of a rulebook: `type Regatta = MatchFor<typeof reedRegatta>`. */
export type MatchFor<B> = B extends Rulebook<infer S, infer O> ? Match<S, O> : never

/** A match of whatever rulebook, for hosts and tools: names and inputs are checked at run time only. */
export interface AnyMatch
  extends RunningMatch<
    AnyInputs,
    AnyInputs,
    AnyInputs,
    { readonly [rule: string]: unknown },
    AnyState,
    AnyView,
    Refusal
  > {}
type AnyInputs = { readonly [name: string]: { readonly input: unknown; readonly refusal: Refusal } }
/** Rules that every rulebook has. */
type InAll = SpecOf<typeof roster> | SpecOf<typeof phases>
/** Rules that say when and whose turn it is, where a rulebook has them. */
type InMost = SpecOf<typeof rounds> | SpecOf<typeof turns> | SpecOf<typeof verdict> | SpecOf<typeof vitals>
type AnyParts = { readonly [rule: string]: { readonly [part: string]: unknown } }
type AnyState = StateAll<InAll, InMost> & AnyParts
/** A view of a match whose rulebook types do not know, but for the rules that are in all and in most. */
export type AnyView = ViewAll<InAll, InMost> & AnyParts

/** The view of a rulebook's matches: `connect<ViewFor<typeof reedRegatta>>(…)`. */
export type ViewFor<B> = B extends Rulebook<infer S, infer O> ? ViewAll<S, O> : never

/** A notice of each event of each rule that anybody is sent, with the cells that its viewer may know. */
type NoticeOf<S extends Spec> = S extends Spec
  ? {
      [E in keyof S['events'] & string]: Omit<Notice, 'name' | 'cells'> & {
        readonly name: `${S['name']}.${E}`
        readonly cells: ViewRow<S['events'][E]>
      }
    }[keyof S['events'] & string]
  : never
/** The notices of a rulebook's matches, told apart by `name`. */
export type NoticeFor<B> = B extends Rulebook<infer S, infer O> ? NoticeOf<S | O> : never
/** The inputs of a rulebook's actions, by name: what its clients may send. */
export type ActionsFor<B> = B extends Rulebook<infer S, infer O> ? InputsOf<Named<S | O, 'actions'>> : never
type InputsOf<A> = { readonly [K in keyof A]: InputAt<A, K> }
