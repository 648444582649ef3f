import type { Cells, Given, Settled, State } from '../cells/index.ts'
import type { Schema } from '../kit/index.ts'
import type { Refusal } from './ruling.ts'

/** An input is declared with cells or with a schema: what a client sends, and what the handler gets. */
export type InputSpec = Schema<unknown, unknown> | Cells
export type WireOf<I> = I extends Schema<infer In, unknown> ? In : I extends Cells ? Given<I> : never
export type ParsedOf<I> = I extends Schema<unknown, infer Out> ? Out : I extends Cells ? Settled<I> : never

export type Payloads = { readonly [name: string]: Cells }

/** The type of a finished rule: one labelled record, so that hovers and .d.ts files read like the source. */
export interface Spec {
  /** The name of the rule. */
  readonly name: string
  /** Its settings, as its schema gives them. */
  readonly settings: unknown
  /** The parts of its state. */
  readonly state: State
  /** Its events, with their cells. */
  readonly events: Payloads
  /** Its drafts, with their cells. */
  readonly drafts: Payloads
  /** What carrying out a draft may refuse with. */
  readonly draftRefusals: { readonly [draft: string]: Refusal }
  /** The calls that `match.use` gives to other rules. */
  readonly calls: object
  /** Its actions: what a client sends, what `decide` gets, and the refusals of `decide` and of the rule's own `apply`. */
  readonly actions: { readonly [action: string]: { input: unknown; parsed: unknown; refusal: Refusal } }
  /** Its facts. */
  readonly facts: { readonly [fact: string]: { input: unknown; refusal: Refusal } }
  /** Its directives. */
  readonly directives: { readonly [directive: string]: { input: unknown; refusal: Refusal } }
  /** The names of its timers. */
  readonly timers: string
  /** The names of the rules that it needs. */
  readonly needs: string
  /** With what it refuses other rules' inputs. */
  readonly vetoes: Refusal
}

/** A rule as a rulebook lists it, with the settings and options it was given. */
export interface RuleLike<S extends Spec = Spec> {
  /** The name of the rule. */
  readonly name: S['name']
  /** Known to types only. */
  readonly spec?: { readonly is: S }
  /** The object that it was defined with. */
  readonly definition: object
  /** The settings and options that it was called with. */
  readonly given: unknown
}
/** The types of a rule: its name, state, calls, inputs and settings. */
export type SpecOf<R> = R extends { readonly spec?: { readonly is: infer S extends Spec } } ? S : never

/** A rule is its own handle. Called with settings and options, it is the same rule with those. */
export interface Rule<S extends Spec, In = unknown> extends RuleLike<S> {
  (given: In): RuleLike<S>
}

/** The part of a rule that its handlers are typed by. */
export interface Shape {
  readonly name: string
  readonly settings: unknown
  readonly config: unknown
  readonly state: State
  readonly events: Payloads
  readonly drafts: Payloads
  readonly timers: string
  readonly needs: string
  readonly knows: string
}

export type NameOf<R extends readonly RuleLike[]> = R[number]['name']
