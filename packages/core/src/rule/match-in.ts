import type { Given, Own, Seat, Settled, State } from '../cells/index.ts'
import type { Chance } from '../chance/index.ts'
import type { ClockName } from '../time/index.ts'
import type { Gate } from './gates.ts'
import type { AnyCode, Ruling } from './ruling.ts'
import type { Payloads, RuleLike, Shape, Spec } from './spec.ts'

/** Ms on each of the four clocks, and how long ago happened what is being heard. */
export type Times = Readonly<Record<ClockName, number>> & {
  /** Ms before now; 0 but for a fact that was reported late. */
  readonly late: number
}

/** When a timer fires: after this many ms, at a moment, or again and again; all in the time of its clock. */
export type When = { readonly key?: string } & (
  | { readonly in: number }
  | { readonly at: number }
  | { readonly every: number }
)

/** What a rule may do with steps that can be taken back. */
export interface TakeBack {
  /** This step is that seat's, and can be taken back if it may. */
  allow(seat: Seat): void
  /** What was done up to now cannot be taken back any more. */
  finalize(): void
  /** Puts everything back to before the seat's last step that can be taken back. False if somebody has done anything since. */
  undo(seat: Seat): boolean
}

/** The running match as the handlers of one rule meet it. */
export interface MatchIn<H extends Shape> {
  /** The seats that are taken and have not left this bout, by seat number. */
  readonly seats: readonly Seat[]
  /** How many seats the rulebook asks for. */
  readonly seatLimits: { readonly min: number; readonly max: number }
  /** 0 before the first start. */
  readonly bout: number
  /** Milliseconds on each of the four clocks. There is no bare now. For windows of memory: `late`, how long ago a fact has happened. */
  readonly time: Times
  /** The rule's settings in force. */
  readonly settings: H['settings']
  /** The options with which the rulebook took this rule. */
  readonly config: H['config']
  /** The rule's own state. */
  readonly own: Own<H['state']>
  /** The rule's stream of chance for a purpose; other purposes and rules draw from others. */
  chance(purpose: string): Chance
  /** Starts, postpones and cancels the rule's timers. */
  readonly timers: {
    /** Starts a named timer, in place of one that runs under the same name and key. */
    start(timer: H['timers'], when: When): void
    cancel(timer: H['timers'], key?: string): void
    runs(timer: H['timers'], key?: string): boolean
    /** What remains, ms; 0 when it does not run. */
    left(timer: H['timers'], key?: string): number
    /** Postpones its due (or forward, below zero); it keeps its place among timers of one instant. Returns the new due. */
    postpone(timer: H['timers'], by: number, key?: string): number
  }
  /** For rules that say when time runs: phases and turns. */
  readonly clocks: {
    resume(...clocks: readonly ClockName[]): void
    pause(...clocks: readonly ClockName[]): void
    runs(clock: ClockName): boolean
    /** Cancels every timer on that clock. */
    clear(clock: ClockName): void
  }
  /** For rules that let a seat take back what it did. What chance, sights or others have touched stands. */
  readonly takeBack: TakeBack
  /** For rules that seat people. */
  readonly seating: {
    add(seat: Seat): void
    /** The seat stays in feed and ledger but takes part no more; timers keyed by it are cancelled. */
    markGone(seat: Seat): void
    markHere(seat: Seat): void
    /** Somebody else has the seat from now on, with all that it has; views and action ids of who had it end. */
    handOver(seat: Seat): void
    /** The seat goes with its rows. Wherever the state names it, it says `former-2` (its number): who gets its id later is somebody else. */
    remove(seat: Seat): void
    has(seat: Seat): boolean
    isGone(seat: Seat): boolean
    /** The order of joining, from 1; never given twice in a match. */
    number(seat: Seat): number
    /** All of them, those that have left this bout too. */
    readonly all: readonly Seat[]
  }
  /** Sets the cells of that span, and of shorter ones, back to their first values: of a seat's life, or for all. A new bout runs every rule's `setUp`. */
  beginSpan(span: 'life', seat: Seat): void
  beginSpan(span: 'turn' | 'round' | 'bout'): void
  /** Another rule's calls and drafts. A rule that is only in `knows` may be missing from the match. */
  use<S extends Spec>(
    rule: S['name'] extends H['needs'] | H['knows']
      ? RuleLike<S>
      : `add ${S['name']} to the needs of ${H['name']}`,
  ): S['name'] extends Exclude<H['knows'], H['needs']> ? RuleApi<S> | undefined : RuleApi<S>
  /** Runs a function of the rulebook that only reads: with the calls of other rules, and nothing can be changed by them. */
  reading<R>(ask: (match: Reading) => R): R
  /** Whether a seat has any option among the actions under this gate. */
  canAct(seat: Seat, gate: Gate): boolean
  /** Carries out the first action under this gate whose `onTimeOut` gives an input that is accepted; whether there was one. */
  byDefault(seat: Seat, gate: Gate): boolean
  /** Announces one of the rule's events. */
  emit<E extends keyof H['events'] & string>(event: E, cells: Given<H['events'][E]>): void
  /** Amends and carries out a draft of this rule's own. */
  resolve<D extends keyof H['drafts'] & string>(draft: D, cells: Given<H['drafts'][D]>): Ruling<AnyCode>
  /** The amended draft without carrying it out: a price on show. */
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
  ) => Ruling<AnyCode | (D extends keyof S['draftCodes'] ? S['draftCodes'][D] : never)>
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
