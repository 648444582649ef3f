export {
  type Amount,
  type Applies,
  type Behaviour,
  type Inputs,
  type Keys,
  type Known,
  type Tier,
  type TimerRule,
} from './behaviour.ts'
export { compilePlan } from './compile-plan.ts'
export { declareRule, type RuleShape } from './declare-rule.ts'
export { defineRule } from './define-rule.ts'
export { type Definition, definitionOf } from './definition.ts'
export type { Disclosure, VariationAsked } from './disclosure.ts'
export { Engine, type ServerEvent } from './engine.ts'
export { FaultRuns, type SavedRuns } from './fault-runs.ts'
export type { Fault } from './faults.ts'
export type { Asked, Gate, GatePlace, GateRule } from './gates.ts'
export { Inbox } from './inbox.ts'
export { type ActionOptions, type InputTags, type ReportOptions } from './input-tags.ts'
export type { Entry, Journal } from './journal.ts'
export type { MatchIn, MatchOf, Reading, RuleApi, When } from './match-in.ts'
export type { InputPlan, Plan, PlanBody, RulePlan } from './plan.ts'
export { explainRefusal, refusalTexts } from './refusal-text.ts'
export {
  type Allowed,
  type AnyCode,
  type AnyInputCode,
  allowed,
  type CodeOf,
  type Details,
  idle,
  type Refusal,
  type Ruling,
  refuse,
} from './ruling.ts'
export { isFormer } from './seating.ts'
export { settingsOf } from './settings.ts'
export type {
  InputSpec,
  NameOf,
  ParsedOf,
  Payloads,
  Rule,
  RuleLike,
  Shape,
  Spec,
  SpecOf,
  WireOf,
} from './spec.ts'
export type { KeptStep } from './take-back.ts'
export { type InitialView, isSpectator, type Update, Viewing } from './viewing.ts'
