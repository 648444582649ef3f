import type { Complete, State } from '../cells/index.ts'
import type { Schema } from '../kit/index.ts'
import type { Applies, Behaviour, Inputs, Known, TimerRule } from './behaviour.ts'
import type { NoticeShown } from './definition.ts'
import { handleOf } from './handle.ts'
import type { Here } from './match-in.ts'
import type { RefusalOf } from './ruling.ts'
import type { ParsedOf, Payloads, Rule, RuleLike, Spec, SpecOf, WireOf } from './spec.ts'

/**
 * Declares a rule in two steps, so that you can write helper functions: first what it declares, then what it does. In
 * between, type a helper as `(match: MatchOf<typeof shape>) => …`.
 */
export function declareRule<
  const Name extends string,
  const N extends readonly RuleLike[] = [],
  const Kn extends readonly RuleLike[] = [],
  Set = {},
  SetIn = {},
  Tk = {},
  St extends State = {},
  E extends Payloads = {},
  D extends Payloads = {},
  const T extends string = never,
>(shape: {
  readonly name: Name
  readonly needs?: readonly [...N]
  readonly knows?: readonly [...Kn]
  readonly settings?: Schema<SetIn, Set>
  readonly config?: (given: Tk) => NoInfer<Tk>
  readonly state?: St & Complete<NoInfer<St>>
  readonly events?: E
  /** How long clients show notices of an event, and whether viewers who come meanwhile get them. */
  readonly notices?: { readonly [K in keyof NoInfer<E>]?: NoticeShown }
  readonly drafts?: D
  readonly timers?: readonly T[]
}): RuleShape<Name, Set, SetIn, Tk, St, E, D, T, SpecOf<N[number]>, SpecOf<Kn[number]>> {
  const { timers: _names, ...rest } = shape
  // Only types know the shape. `does` joins both halves into the argument of defineRule.
  const declared = { name: shape.name, does: (behaviour: object) => handleOf({ ...rest, ...behaviour }) }
  return declared as object as RuleShape<
    Name,
    Set,
    SetIn,
    Tk,
    St,
    E,
    D,
    T,
    SpecOf<N[number]>,
    SpecOf<Kn[number]>
  >
}

/** A rule that is declared but does nothing yet: `does` adds its behaviour and returns the rule. */
export interface RuleShape<
  Name extends string,
  Set,
  SetIn,
  Tk,
  St extends State,
  E extends Payloads,
  D extends Payloads,
  T extends string,
  N extends Spec,
  Kn extends Spec,
> {
  /** The name of the rule. */
  readonly name: Name
  /** Known to types only. */
  readonly shape: {
    name: Name
    settings: Set
    config: Tk
    state: St
    events: E
    drafts: D
    timers: T
    needs: N['name']
    knows: Kn['name']
  }
  /** Adds the behaviour and returns the rule. */
  does<
    I extends Inputs<I> = {},
    Out = {},
    Facts extends Inputs<Facts> = {},
    Heard = {},
    Orders extends Inputs<Orders> = {},
    Obeyed = {},
    Veto = {},
    Calls = {},
    App = {},
  >(
    behaviour: {
      readonly timers?: {
        readonly [K in Known<T, '(declare its name in the shape first)'>]: TimerRule<
          Here<Name, Set, Tk, St, E, D, T, N['name'], Kn['name']>
        >
      }
    } & Behaviour<
      Here<Name, Set, Tk, St, E, D, T, N['name'], Kn['name']>,
      N | Kn,
      St,
      D,
      I,
      Out,
      Facts,
      Heard,
      Orders,
      Obeyed,
      Veto,
      Calls,
      App
    > &
      Applies<D>,
  ): Rule<
    NoInfer<{
      name: Name
      settings: Set
      state: St
      events: E
      drafts: D
      draftRefusals: { [K in keyof App]: RefusalOf<App[K]> }
      calls: {
        [K in keyof Calls]: Calls[K] extends (match: never, ...rest: infer A) => infer R
          ? (...args: A) => R
          : never
      }
      actions: {
        [K in keyof I]: {
          input: WireOf<I[K]>
          parsed: ParsedOf<I[K]>
          refusal: (K extends keyof Out ? RefusalOf<Out[K]> : never) | RefusalOf<App[keyof App]>
        }
      }
      facts: {
        [K in keyof Facts]: {
          input: WireOf<Facts[K]>
          refusal: (K extends keyof Heard ? RefusalOf<Heard[K]> : never) | RefusalOf<App[keyof App]>
        }
      }
      directives: {
        [K in keyof Orders]: {
          input: WireOf<Orders[K]>
          refusal: (K extends keyof Obeyed ? RefusalOf<Obeyed[K]> : never) | RefusalOf<App[keyof App]>
        }
      }
      timers: T
      needs: N['name']
      vetoes: RefusalOf<Veto[keyof Veto]>
    }>,
    NoInfer<SetIn & Tk>
  >
}
