export type { Notice } from '../sight/index.ts'
export { formatElapsed, formatRemaining, nextChange } from '../time/index.ts'
export { type Catalogue, catalogueOf, noticeIn, refusalIn } from './catalogue.ts'
export { LateView } from './late-view.ts'
export { type Latest, mergedLatest, operationsOf, replacementsOf } from './latest.ts'
export { applyPatch, type Operation } from './patch.ts'
export { type BareView, type Incoming, Replica, type StandingNotice } from './replica.ts'
export {
  type ScoreSheet,
  type SheetColumn,
  type SheetNumbers,
  type SheetRow,
  scoreSheet,
} from './score-sheet.ts'
