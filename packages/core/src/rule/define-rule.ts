import type { Complete, State } from '../cells/index.ts'
import type { Schema } from '../kit/index.ts'
import type { Applies, Behaviour, Inputs, TimerRule } from './behaviour.ts'
import type { NoticeShown } from './definition.ts'
import { handleOf } from './handle.ts'
import type { Here } from './match-in.ts'
import type { RefusalOf } from './ruling.ts'
import type { NameOf, ParsedOf, Payloads, Rule, RuleLike, SpecOf, WireOf } from './spec.ts'

/**
 * Defines one rule of a mode as one literal. Its parts may come in any order, and all but the name are optional. The
 * result is the rule's handle (for `needs` and `match.use`) and its factory (`vitals({ max: 80 })` in a rulebook's
 * list).
 *
 * @example
 * ```ts
 * const lamp = defineRule({
 *   name: 'lamp',
 *   state: { lamps: perSeat({ lit: flag(false).seenBy(everyone) }) },
 *   actions: { light: { input: {}, decide(match, seat) { match.own.lamps.of(seat).lit = true } } },
 * })
 * ```
 * @throws ZR_RULE_BAD_NAME, ZR_RULE_BAD_FORM, ZR_RULE_NAME_TWICE, ZR_RULE_UNHANDLED_DRAFT
 */
export function defineRule<
  const Name extends string,
  const N extends readonly RuleLike[] = [],
  const Kn extends readonly RuleLike[] = [],
  Set = {},
  SetIn = {},
  Tk = {},
  St extends State = {},
  E extends Payloads = {},
  D extends Payloads = {},
  T extends string = never,
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
  rule: {
    readonly name: Name
    readonly needs?: readonly [...N]
    /** Rules that may be missing from the match. */
    readonly knows?: readonly [...Kn]
    readonly settings?: Schema<SetIn, Set>
    /**
     * Options that are not JSON (steps, conditions): `config: ({ when }: { when: readonly Condition[] }) => ({ when })`.
     * What it returns names them: other options are refused, unless they are settings.
     */
    readonly config?: (given: Tk) => NoInfer<Tk>
    readonly state?: St & Complete<NoInfer<St>>
    readonly events?: E
    /** How long clients show notices of an event, and whether viewers who come meanwhile get them. */
    readonly notices?: { readonly [K in keyof NoInfer<E>]?: NoticeShown }
    readonly drafts?: D
    readonly timers?: {
      readonly [K in T]: TimerRule<Here<Name, Set, Tk, St, E, D, NoInfer<T>, NameOf<N>, NameOf<Kn>>>
    }
  } & Behaviour<
    Here<Name, Set, Tk, St, E, D, NoInfer<T>, NameOf<N>, NameOf<Kn>>,
    SpecOf<(N | Kn)[number]>,
    NoInfer<St>,
    NoInfer<D>,
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
    Applies<NoInfer<D>>,
): Rule<
  NoInfer<{
    // Written out, not aliased: hovers and .d.ts files then show the found types, and none of the helpers.
    // NoInfer: what a rule is must not be guessed from where it is used.
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
    needs: NameOf<N>
    vetoes: RefusalOf<Veto[keyof Veto]>
  }>,
  NoInfer<SetIn & Tk>
> {
  return handleOf(rule)
}
