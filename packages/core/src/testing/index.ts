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
export { beatOnce, type Crowd, type Demo, type Line, playToEnd } from './crowd.ts'
export { type FaultKind, FaultKinds } from './fault-kinds.ts'
export { playMatch, type TestMatch } from './play-match.ts'
export { randomCrowd, randomValue } from './random-crowd.ts'
