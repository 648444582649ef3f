import { assertName, RefereeError } from '../kit/index.ts'
import type { Complete, State } from '../state/index.ts'
import type { Applies, Behaviour, Inputs, Known, TimerRule } from './behaviour.ts'
import type { MatchIn } from './match-in.ts'
import type { CodeOf } from './ruling.ts'
import type { ParsedOf, Payloads, Rule, RuleLike, Schema, Spec, SpecOf, WireOf } from './spec.ts'

type Here<
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
  taken: Tk
  state: St
  events: E
  drafts: D
  timers: T
  needs: N
  knows: Kn
}>
type NameOf<R extends readonly RuleLike[]> = R[number]['name']

/**
 * One rule of a mode as one literal, its parts in any order, all optional but the name. The result is its own handle
 * (`needs`, `match.use`) and its own factory (`vitals({ max: 80 })` in a rulebook's list).
 *
 * @example
 * ```ts
 * const lamp = defineRule({
 *   name: 'lamp',
 *   state: { lamps: perSeat({ lit: flag(false).seenBy(everyone) }) },
 *   actions: { light: { input: {}, decide(match, seat) { match.own.lamps.of(seat).lit = true } } },
 * })
 * ```
 * @throws ZR_RULE_BAD_NAME, ZR_RULE_NAME_TWICE, ZR_RULE_UNHANDLED_DRAFT
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
    /** Options that are no JSON (steps, conditions): `takes: (given: { when: readonly Condition[] }) => given`. */
    readonly takes?: (given: Tk) => NoInfer<Tk>
    readonly state?: St & Complete<NoInfer<St>>
    readonly events?: E
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
    draftCodes: { [K in keyof App]: CodeOf<App[K]> }
    calls: {
      [K in keyof Calls]: Calls[K] extends (match: never, ...rest: infer A) => infer R
        ? (...args: A) => R
        : never
    }
    actions: {
      [K in keyof I]: {
        input: WireOf<I[K]>
        parsed: ParsedOf<I[K]>
        code: (K extends keyof Out ? CodeOf<Out[K]> : never) | CodeOf<App[keyof App]>
      }
    }
    facts: {
      [K in keyof Facts]: {
        input: WireOf<Facts[K]>
        code: (K extends keyof Heard ? CodeOf<Heard[K]> : never) | CodeOf<App[keyof App]>
      }
    }
    directives: {
      [K in keyof Orders]: {
        input: WireOf<Orders[K]>
        code: (K extends keyof Obeyed ? CodeOf<Obeyed[K]> : never) | CodeOf<App[keyof App]>
      }
    }
    timers: T
    needs: NameOf<N>
    vetoes: CodeOf<Veto[keyof Veto]>
  }>,
  NoInfer<SetIn & Tk>
> {
  return handleOf(rule)
}

/**
 * A rule in two steps, where it wants helper functions of its own: what there is, then what it does. Between them a
 * helper is typed `(match: MatchOf<typeof shape>) => …`.
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
  readonly takes?: (given: Tk) => NoInfer<Tk>
  readonly state?: St & Complete<NoInfer<St>>
  readonly events?: E
  readonly drafts?: D
  readonly timers?: readonly T[]
}): RuleShape<Name, Set, SetIn, Tk, St, E, D, T, SpecOf<N[number]>, SpecOf<Kn[number]>> {
  const { timers: _names, ...rest } = shape
  // The shape is known to types only; `does` joins both halves into what defineRule would have been given.
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
  readonly name: Name
  /** Known to types only. */
  readonly shape: {
    name: Name
    settings: Set
    taken: Tk
    state: St
    events: E
    drafts: D
    timers: T
    needs: N['name']
    knows: Kn['name']
  }
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
      draftCodes: { [K in keyof App]: CodeOf<App[K]> }
      calls: {
        [K in keyof Calls]: Calls[K] extends (match: never, ...rest: infer A) => infer R
          ? (...args: A) => R
          : never
      }
      actions: {
        [K in keyof I]: {
          input: WireOf<I[K]>
          parsed: ParsedOf<I[K]>
          code: (K extends keyof Out ? CodeOf<Out[K]> : never) | CodeOf<App[keyof App]>
        }
      }
      facts: {
        [K in keyof Facts]: {
          input: WireOf<Facts[K]>
          code: (K extends keyof Heard ? CodeOf<Heard[K]> : never) | CodeOf<App[keyof App]>
        }
      }
      directives: {
        [K in keyof Orders]: {
          input: WireOf<Orders[K]>
          code: (K extends keyof Obeyed ? CodeOf<Obeyed[K]> : never) | CodeOf<App[keyof App]>
        }
      }
      timers: T
      needs: N['name']
      vetoes: CodeOf<Veto[keyof Veto]>
    }>,
    NoInfer<SetIn & Tk>
  >
}

type Halves = { readonly [Part in 'drafts' | 'apply' | 'actions' | 'facts' | 'directives']?: object } & {
  readonly name?: string
}
/** The one place where a definition becomes a handle; the two functions above promise its type. */
function handleOf<S extends Spec, In>(definition: Halves): Rule<S, In> {
  const name = definition.name ?? ''
  assertName('rule', name)
  for (const [part, named] of Object.entries(definition)) {
    if (
      typeof named !== 'object' ||
      named === null ||
      Array.isArray(named) ||
      part === 'settings' ||
      part === 'on' ||
      part === 'amend' ||
      part === 'settle'
    )
      continue
    for (const key of Object.keys(named)) assertName(part.replace(/s$/, ''), key)
  }
  const { drafts = {}, apply = {}, actions = {}, facts = {}, directives = {} } = definition
  for (const draft of Object.keys(drafts))
    if (!(draft in apply)) throw new RefereeError('ZR_RULE_UNHANDLED_DRAFT', { rule: name, draft })
  for (const [some, others] of [
    [actions, { ...facts, ...directives, ...drafts }],
    [facts, directives],
  ] as const) {
    for (const key of Object.keys(some))
      if (key in others) throw new RefereeError('ZR_RULE_NAME_TWICE', { rule: name, name: key })
  }
  const instance = (given: unknown): object => ({ name, definition, given })
  const handle = Object.defineProperty((given: unknown) => instance(given), 'name', { value: name })
  return Object.assign(handle, { definition, given: {} }) as object as Rule<S, In>
}
