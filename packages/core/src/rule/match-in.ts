import type { Given, Own, Seat, Settled, State } from '../cells/index.ts'
import type { Chance } from '../chance/index.ts'
import type { ClockName } from '../time/index.ts'
import type { Gate } from './gates.ts'
import type { AnyRefusal, Ruling } from './ruling.ts'
import type { Payloads, RuleLike, Shape, Spec } from './spec.ts'

/** The four clocks in ms, and how long ago the fact that is being handled happened. */
export type Times = Readonly<Record<ClockName, number>> & {
  /** Ms before now; 0 unless a fact was reported late. */
  readonly late: number
}

/** When a timer fires: after this many ms, at a moment, or repeatedly; all in the time of its clock. */
export type When = { readonly key?: string } & (
  | { readonly in: number }
  | { readonly at: number }
  | { readonly every: number }
)

/** Controls which steps can be taken back. */
export interface TakeBack {
  /** Says that this step is that seat's, and can be taken back if possible. */
  allow(seat: Seat): void
  /** Makes everything done so far final. */
  finalize(): void
  /**
   * Restores the state before the seat's last step that can be taken back. Returns false if somebody has done
   * anything since.
   */
  undo(seat: Seat): boolean
}

/** The running match as the handlers of one rule get it. */
export interface MatchIn<H extends Shape> {
  /** The seats that are taken and have not left this bout, by seat number. */
  readonly seats: readonly Seat[]
  /** How many seats the rulebook takes. */
  readonly seatLimits: { readonly min: number; readonly max: number }
  /** The number of the bout; 0 before the first start. */
  readonly bout: number
  /** The four clocks in ms. There is no single "now". For windows of memory: `late`, how long ago a fact happened. */
  readonly time: Times
  /** The rule's settings in force. */
  readonly settings: H['settings']
  /** The options that the rulebook gave this rule. */
  readonly config: H['config']
  /** The rule's own state. */
  readonly own: Own<H['state']>
  /** Returns the rule's random stream for a purpose. Other purposes and rules draw from other streams. */
  chance(purpose: string): Chance
  /** Starts, postpones and cancels the rule's timers. */
  readonly timers: {
    /** Starts a named timer. It replaces one that runs under the same name and key. */
    start(timer: H['timers'], when: When): void
    cancel(timer: H['timers'], key?: string): void
    runs(timer: H['timers'], key?: string): boolean
    /** Returns the time until it fires, in ms; 0 if it is not running. */
    left(timer: H['timers'], key?: string): number
    /**
     * Postpones it (or brings it forward, if negative). It keeps its place among timers of one instant. Returns the
     * new due.
     */
    postpone(timer: H['timers'], by: number, key?: string): number
  }
  /** For rules that decide when time runs: phases and turns. */
  readonly clocks: {
    resume(...clocks: readonly ClockName[]): void
    pause(...clocks: readonly ClockName[]): void
    runs(clock: ClockName): boolean
    /** Cancels every timer on that clock. */
    clear(clock: ClockName): void
  }
  /** For rules that let a seat take back what it did. What involved chance, sights or others stays. */
  readonly takeBack: TakeBack
  /** For rules that manage seats. */
  readonly seating: {
    add(seat: Seat): void
    /** The seat stays in feed and ledger but takes no further part. Timers keyed by it are cancelled. */
    markGone(seat: Seat): void
    markHere(seat: Seat): void
    /** Somebody else has the seat from now on, with all that it has. Views and action ids of the former player end. */
    handOver(seat: Seat): void
    /**
     * Removes the seat and its rows. Wherever the state names it, it now says `former-2` (its number): whoever gets
     * its id later is somebody else.
     */
    remove(seat: Seat): void
    has(seat: Seat): boolean
    isGone(seat: Seat): boolean
    /** Its number in the order of joining, from 1. Never given twice in a match. */
    number(seat: Seat): number
    /** All of them, including those that have left this bout. */
    readonly all: readonly Seat[]
  }
  /**
   * Sets the cells of that span, and of shorter ones, back to their initial values: for one seat's life, or for
   * everyone. A new bout runs every rule's `setUp`.
   */
  beginSpan(span: 'life', seat: Seat): void
  beginSpan(span: 'turn' | 'round' | 'bout'): void
  /** Returns another rule's calls and drafts. A rule that is only in `knows` may be missing from the match. */
  use<S extends Spec>(
    rule: S['name'] extends H['needs'] | H['knows']
      ? RuleLike<S>
      : `add ${S['name']} to the needs of ${H['name']}`,
  ): S['name'] extends Exclude<H['knows'], H['needs']> ? RuleApi<S> | undefined : RuleApi<S>
  /** Runs a function of the rulebook that only reads: it gets the calls of other rules, and can't change anything. */
  reading<R>(ask: (match: Reading) => R): R
  /** True if a seat has any option among the actions under this gate. */
  canAct(seat: Seat, gate: Gate): boolean
  /**
   * Does the first action under this gate whose `onTimeOut` gives an input that is accepted. Returns true if there
   * was one.
   */
  byDefault(seat: Seat, gate: Gate): boolean
  /** Announces one of the rule's events. */
  emit<E extends keyof H['events'] & string>(event: E, cells: Given<H['events'][E]>): void
  /** Amends a draft of this rule and carries it out. */
  resolve<D extends keyof H['drafts'] & string>(draft: D, cells: Given<H['drafts'][D]>): Ruling<AnyRefusal>
  /** Returns the amended draft without carrying it out, such as a price to show. */
  weigh<D extends keyof H['drafts'] & string>(draft: D, cells: Given<H['drafts'][D]>): Settled<H['drafts'][D]>
}

/** Another rule's calls, by name. */
export interface Reading {
  use<S extends Spec>(rule: RuleLike<S>): S['calls']
}

/** The `match` of a rule's handlers, for helper functions: `function sink(match: MatchOf<typeof shape>, …)`. */
export type MatchOf<R extends { readonly shape: Shape }> = MatchIn<R['shape']>

/** What `match.use(rule)` gives. */
export type RuleApi<S extends Spec> = S['calls'] & {
  readonly [D in keyof S['drafts']]: (
    draft: Given<S['drafts'][D]>,
  ) => Ruling<AnyRefusal | (D extends keyof S['draftRefusals'] ? S['draftRefusals'][D] : never)>
}

/** The `match` of a rule with these parts. */
export type Here<
  Name extends string,
  Set,
  Tk,
  St extends State,
  E extends Payloads,
  D extends Payloads,
  T extends string,
  N extends string,
  Kn extends string,
> = MatchIn<{
  name: Name
  settings: Set
  config: Tk
  state: St
  events: E
  drafts: D
  timers: T
  needs: N
  knows: Kn
}>
