export { compilePlan } from './compile-plan.ts'
export type { EventFacet, EventReference } from './event-facets.ts'
export type { Answer, Handler } from './handler.ts'
export { OpenDraft } from './open-draft.ts'
export {
  type ActionPlan,
  type DraftPlan,
  type EventPlan,
  type FactPlan,
  type GateCheck,
  type InputPlan,
  type InViews,
  MAX_PARTS,
  type PartPlan,
  type Plan,
  type PlanBody,
  type RulePlan,
  type TimerPlan,
} from './plan.ts'
export { settingsOfAll, settingsOrIssues } from './settings.ts'
