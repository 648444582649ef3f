export { nearest } from '../kit/index.ts'
export {
  type AuditAsked,
  type AuditedRecord,
  type Coverage,
  type SightAudit,
  type SightLeak,
} from './audit/asked.ts'
export {
  type AuditPart,
  auditPart,
  auditSight,
  joinAudits,
  type PartAsked,
} from './audit/audit-sight.ts'
export { type PlayRequest } from './begin-play.ts'
export { checkLaws, type LawBreak, type LawReport, type LawsRequest } from './check-laws.ts'
export { beatOnce, type Crowd, type Demo, type Line, playToEnd } from './crowd.ts'
export { type FaultKind, FaultKinds } from './fault-kinds.ts'
export { playMatch, type TestMatch } from './play-match.ts'
export { randomCrowd, randomValue } from './random-crowd.ts'
export { type ApplyPatch, ViewCopies, type ViewDifference } from './view-copies.ts'
