export type { Notice } from '../sight/index.ts'
export { gone, left, nextChange } from '../time/index.ts'
export { applyPatch, type Operation } from './patch.ts'
export { type BareView, type Incoming, Replica } from './replica.ts'
