export { nearest } from '../kit/index.ts'
export type { AuditAsked, AuditedRecord, Coverage, SightAudit, SightLeak } from './audit/asked.ts'
export { type AuditPart, auditPart, auditSight, joinAudits, type PartAsked } from './audit/audit-sight.ts'
export type { PlayRequest } from './begin-play.ts'
export type { CheckFinding } from './check-finding.ts'
export { checkLaws, type LawBreak, type LawReport, type LawsRequest } from './check-laws.ts'
export { type CheckRequest, checkRulebook } from './check-rulebook.ts'
export { type ComparedShare, compareRehearsals, type RehearsalsCompared } from './compare-rehearsals.ts'
export { beatOnce, type Crowd, type Demo, type Line, playToEnd } from './crowd.ts'
export { diffRecord, type FirstDifference, type RecordDiff, type RulingDifference } from './diff-record.ts'
export { explain } from './explain/explain.ts'
export { type Cause, type Explanation, shortCauses } from './explain/explanation.ts'
export type { Question } from './explain/questions.ts'
export { type FaultKind, FaultKinds } from './fault-kinds.ts'
export { type RefereeMatchers, refereeMatchers } from './matchers.ts'
export { playMatch, type TestMatch } from './play-match.ts'
export { randomCrowd, randomValue } from './random-crowd.ts'
export {
  joinRehearsals,
  type PartOfRehearsal,
  type Rehearsal,
  type RehearsalPart,
  type RehearsalRequest,
  rehearse,
  rehearsePart,
  type Share,
  type Tally,
} from './rehearse.ts'
export { type Timeline, type TimelineEntry, type TimerBar, timelineOf } from './review/timeline.ts'
export { type Track, tracksOf } from './review/track.ts'
export { type CutRequest, cutScenario } from './scenario/cut-scenario.ts'
export { readScenario, type Scenario, type ScenarioStep, scenarioSchema } from './scenario/read-scenario.ts'
export { runScenario, type ScenarioResult, type Unmet } from './scenario/run-scenario.ts'
export { timeFrom } from './scenario/time-from.ts'
export type { CellDifference } from './state-cells.ts'
export { type ApplyPatch, ViewCopies, type ViewDifference } from './view-copies.ts'
