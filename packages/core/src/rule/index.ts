export { AmendedAmount } from './amounts.ts'
export { type Amount, type Tier, type TimerKeys, type TimerRule, tiers } from './behaviour.ts'
export { declareRule, type RuleShape } from './declare-rule.ts'
export { defineRule } from './define-rule.ts'
export {
  type AnyMatch,
  type Definition,
  definitionOf,
  type NoticeShown,
  wokenByOptions,
} from './definition.ts'
export type { Disclosure, VariationAsked } from './disclosure.ts'
export {
  type Asked,
  assertGates,
  factPlaces,
  type Gate,
  type GatePlace,
  type GateRule,
  gate,
  gatePlaces,
  type Tags,
} from './gates.ts'
export type { MatchIn, MatchOf, Reading, RuleApi, TakeBack, Times, When } from './match-in.ts'
export { explainRefusal, fillText, type RefusalTexts, refusalTexts } from './refusal-text.ts'
export {
  type Allowed,
  type AnyInputRefusal,
  type AnyRefusal,
  allowed,
  asRuling,
  type Details,
  idle,
  type NoDetails,
  type Refusal,
  type Ruling,
  refuse,
} from './ruling.ts'
export type { InputSpec, NameOf, Rule, RuleLike, Spec, SpecOf } from './spec.ts'
