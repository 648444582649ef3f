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
export { beatOnce, type Crowd, type Demo, type Line, playOut } from './crowd.ts'
export { type FaultKind, FaultKinds } from './fault-kinds.ts'
export { type Harness, playMatch } from './play-match.ts'
export { randomCrowd, randomValue } from './random-crowd.ts'
