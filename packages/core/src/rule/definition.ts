import type { Audience, Cells, Part, Seat, Sight, Values } from '../cells/index.ts'
import type { Schema } from '../kit/index.ts'
import type { Band, ClockName } from '../time/index.ts'
import type { Tier, TimerKeys } from './behaviour.ts'
import type { Disclosure, VariationAsked } from './disclosure.ts'
import type { Asked, Gate, GatePlace } from './gates.ts'
import type { RefusalTexts } from './refusal-text.ts'
import type { Refusal, Ruling } from './ruling.ts'
import type { InputSpec, RuleLike } from './spec.ts'

/** How the notices of an event are shown. */
export interface NoticeShown {
  /** How long a client shows it, in ms of match time. Default: 6 s. */
  readonly lasts?: number
  /** What it says, for a catalogue of texts. `{seat}` stands for that cell of the event. */
  readonly says?: string
  /** If false, viewers who come while it lasts do not get it. Default: true. */
  readonly later?: boolean
}

/** The `match` of a rule whose types are not known here. */
export type AnyMatch = unknown
type Handler<A extends readonly unknown[], R> = (match: AnyMatch, ...rest: A) => R
type Named<V> = { readonly [name: string]: V }
type Answer = Ruling | void

/** A rule as it was written, with the types of its parts forgotten: what the engine works on. */
export interface Definition {
  readonly name: string
  readonly needs?: readonly RuleLike[]
  readonly knows?: readonly RuleLike[]
  readonly settings?: Schema<unknown, unknown>
  readonly config?: (given: unknown) => unknown
  readonly state?: Named<Part>
  readonly events?: Named<Cells>
  readonly notices?: Named<NoticeShown>
  readonly drafts?: Named<Cells>
  readonly calls?: Named<Handler<unknown[], unknown>>
  readonly apply?: Named<Handler<[Values], Answer>>
  readonly actions?: Named<{
    readonly input: InputSpec
    readonly when?: Gate | readonly Gate[]
    readonly offered?: boolean
    readonly neverLimited?: boolean
    readonly cost?: number
    options?: Handler<[string, object], readonly unknown[]>
    onTimeOut?: Handler<[string, object], unknown>
    decide: Handler<[string, unknown], Answer>
  }>
  readonly facts?: Named<{
    readonly input: InputSpec
    readonly when?: Gate | readonly Gate[]
    readonly late?: number
    handle: Handler<[unknown], Answer>
  }>
  readonly directives?: Named<{
    readonly input: InputSpec
    handle: Handler<[unknown, string | undefined], Answer>
  }>
  readonly timers?: Named<
    | Handler<[string], void>
    | {
        readonly clock?: ClockName
        readonly band?: Band
        readonly keyedBy?: TimerKeys
        readonly seenBy?: Sight | readonly Sight[]
        readonly fire?: Handler<[string], void>
      }
  >
  readonly gates?: Named<{
    readonly place: GatePlace
    readonly applies?: 'asked' | 'unasked' | 'always'
    check: Handler<[Asked], Refusal | void>
    accepted?: Handler<[Asked], void>
  }>
  readonly on?: Named<Handler<[Values], void>>
  readonly amend?: Named<Handler<[object], Refusal | void>>
  readonly groups?: Named<Handler<[], readonly Seat[]>>
  readonly sides?: Handler<[Seat], readonly Seat[]>
  readonly inSight?: Handler<[Seat], Audience>
  readonly varies?: Named<readonly string[]>
  readonly variations?: Named<Handler<[VariationAsked], void>>
  readonly discloses?: readonly Disclosure[]
  readonly refusals?: RefusalTexts
  readonly setUp?: Handler<[], void>
  readonly onVoid?: Handler<[], void>
  readonly changed?: Handler<[rule: string], void>
  readonly settle?: {
    readonly tier?: Tier
    readonly wokenBy: readonly string[]
    alsoBy?(config: unknown): readonly RuleLike[]
    run: Handler<[], void>
  }
}

/** Returns what `defineRule` has checked, for code that does not know its types. */
export const definitionOf = (rule: RuleLike): Definition => rule.definition as Definition

/** The same with all that wakes it, now that it is known which rules its options read. */
export function wokenByOptions(definition: Definition, given: unknown): Definition {
  const { settle, config } = definition
  if (settle?.alsoBy === undefined) return definition
  const rules = withNeeds(settle.alsoBy(config?.(given)))
  return {
    ...definition,
    settle: { ...settle, wokenBy: [...settle.wokenBy, ...rules.map((rule) => `${rule}.*`)] },
  }
}

/** Names of rules and of all that they need or know, since their calls may read it. */
function withNeeds(rules: readonly RuleLike[], found: Set<string> = new Set()): string[] {
  for (const rule of rules) {
    if (found.has(rule.name)) continue
    found.add(rule.name)
    const { needs = [], knows = [] } = definitionOf(rule)
    withNeeds([...needs, ...knows], found)
  }
  return [...found]
}
