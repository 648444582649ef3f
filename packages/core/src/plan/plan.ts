import type { AnyCell, Cells, Parse, Part, Seat, Show, Sight, Span, Values } from '../cells/index.ts'
import type { Named } from '../kit/index.ts'
import type { RowShape } from '../rows/index.ts'
import type { Asked, Definition, InputSpec, Refusal, TimerKeys } from '../rule/index.ts'
import type { TimerKind } from '../time/index.ts'
import type { EventFacet, EventReference } from './event-facets.ts'
import type { Answer, Handler } from './handler.ts'
import type { DraftClass } from './open-draft.ts'
import type { PartsBySpan } from './spans.ts'

/** Settle handlers share these bits. One that wakes too often finds nothing to do. */
export const WAKE_BITS = 31
/** A row's shape holds the place of its part: the rule's number times this, and the part's. */
export const MAX_PARTS = 1000

export interface PartPlan {
  readonly name: string
  readonly kind: Part['part']
  readonly span: Span
  readonly shape: RowShape
}
export interface RulePlan {
  readonly index: number
  readonly name: string
  readonly definition: Definition
  /** Settings of the rulebook, before those of a match are added. */
  readonly given: unknown
  /** Options that are not JSON. The rule has checked them. */
  readonly config: unknown
  /** The settings of a match that changes none of them. Frozen, as all are: matches share them. */
  readonly usual: unknown
  readonly parts: readonly PartPlan[]
  /** Settings that decide sight, which a match may not change. */
  readonly fixed: ReadonlySet<string>
  readonly timers: Named<TimerPlan>
  readonly events: Named<EventPlan>
  readonly drafts: Named<DraftPlan>
  readonly setUp: Handler<[], void> | undefined
  /** Ends a bout that cannot go on. */
  readonly onVoid: Handler<[], void> | undefined
  /** Runs when the settings of a rule have changed in a match. */
  readonly changed: Handler<[rule: string], void> | undefined
}
export interface TimerPlan extends TimerKind {
  readonly keyedBy: TimerKeys
  /** Who sees its due time. Empty: nobody. */
  readonly sights: readonly Sight[]
  readonly fire: Handler<[key: string, nothing: undefined], void> | undefined
}
export interface EventPlan {
  readonly name: string
  readonly cells: Cells
  readonly rule: number
  /** The parts of it that viewers are sent. */
  readonly facets: readonly EventFacet[]
  /** True if everyone sees all of it that anybody sees. */
  readonly isForAll: boolean
  /** What its notices say, with cells in braces. */
  readonly says: string | undefined
  /** How long clients show it, in ms. */
  readonly lasts: number
  /** True if viewers who come while it lasts get it too. */
  readonly later: boolean
  /** Its cells that name rows, and that somebody sees. */
  readonly references: readonly EventReference[]
  readonly withDefaults: (given: Values) => Values
  readonly handlers: Handler<[Values], void>[]
}
export interface DraftPlan {
  readonly name: string
  /** Among all drafts of the rulebook, from 0. */
  readonly number: number
  readonly cells: Cells
  /** Amounts with bounds. Values beyond them are refused. */
  readonly bounded: readonly { readonly name: string; readonly cell: AnyCell }[]
  readonly Draft: DraftClass
  readonly withDefaults: (given: Values) => Values
  readonly apply: Handler<[Values], Answer>
  readonly amendments: Handler<[object], Refusal | void>[]
}
export interface GateCheck extends Handler<[Asked], Refusal | void> {
  /** Such as `turns.step`. */
  readonly gate: string
  readonly given: readonly string[]
  readonly cost: number
  /** The gate's question when nobody asks for more. */
  readonly blank: Asked
  readonly accepted: Handler<[Asked], void> | undefined
}
interface PlannedInput<K extends string, A extends readonly unknown[]> {
  readonly kind: K
  readonly name: string
  /** Among all inputs of the rulebook, from 0. */
  readonly number: number
  readonly input: InputSpec
  /** Turns what was sent into what the handler gets. */
  readonly parse: Parse
  /** True if a schema parses it. Inputs in a record have been parsed already. */
  readonly bySchema: boolean
  /** Its cells that name rows: how a sender knows a row may change between two sendings of the same. */
  readonly rowCells: readonly string[]
  readonly gates: readonly GateCheck[]
  readonly handler: Handler<A, Answer>
  readonly amendments: Handler<[object], Refusal | void>[]
  /** Lists an action's candidates. */
  readonly options: Handler<[string, object], readonly unknown[]> | undefined
}
export interface ActionPlan extends PlannedInput<'action', [seat: Seat, input: unknown]> {
  /** Checks what a seat has chosen so far. */
  readonly parsePart: Parse
  /** An option with the ids that a seat knows. */
  readonly show: Show
  /** True if the inputs that its cells allow can be listed. */
  readonly isListable: boolean
  /** True if a seat may still do it after too many of its actions have faulted. */
  readonly neverLimited: boolean
  /** True if its options are in a seat's view. */
  readonly offered: boolean
  /** The action taken for a seat when its time is up. Undefined: there is none. */
  readonly onTimeOut: Handler<[string, object], unknown> | undefined
}
export interface FactPlan extends PlannedInput<'fact', [input: unknown]> {
  /** Maximum age of a fact, in ms. */
  readonly late: number
}
export type DirectivePlan = PlannedInput<'directive', [input: unknown, referee: string | undefined]>
export type InputPlan = ActionPlan | FactPlan | DirectivePlan
export interface SettlePlan extends Handler<[], void> {
  readonly bit: number
}

/** What views have besides the state of rules. */
export interface InViews {
  /** By rule, timers that somebody sees. */
  readonly timers: ReadonlyMap<string, readonly TimerPlan[]>
  /** By rule, actions whose options are offered. */
  readonly offered: ReadonlyMap<string, readonly ActionPlan[]>
  /** By rule, names of the settings that everyone sees. */
  readonly settings: ReadonlyMap<string, readonly string[]>
}

/** A rulebook made ready to run: every name resolved, every row class compiled. All matches share it. */
export interface Plan {
  readonly name: string
  readonly seatLimits: { readonly min: number; readonly max: number }
  /** In rulebook order, needed rules first. */
  readonly rules: readonly RulePlan[]
  readonly inputs: Named<InputPlan>
  /** True if code may be made for it: of rows, drafts and the ways of inputs. */
  readonly generatesCode: boolean
  /** By slot. */
  readonly timers: readonly TimerPlan[]
  /** By tier. */
  readonly settle: readonly (readonly SettlePlan[])[]
  readonly bySpan: PartsBySpan
  readonly inViews: InViews
  /** A short hash for each thing in it, by name: what differs between two versions can be said. */
  readonly outline: { readonly [name: string]: string }
  /** The hash of the outline. */
  readonly digest: string
}
/** A plan without what names it. */
export type PlanBody = Omit<Plan, 'outline' | 'digest'>
