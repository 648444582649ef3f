export { type BeginOptions, beginAnyMatch, beginMatch, isMatchOf } from './begin-match.ts'
export { type AnyRulebook, defineRulebook, type Presets, type Rulebook } from './define-rulebook.ts'
export type {
  CellDescription,
  CellDescriptions,
  InputDescription,
  RulebookDescription,
  RuleDescription,
} from './describe.ts'
export { erasePlayer } from './erase-player.ts'
export { insideOf, replayLine } from './match-handle.ts'
export type {
  ActionsFor,
  AnyMatch,
  AnyView,
  ClocksView,
  ClockView,
  Match,
  MatchFor,
  Moment,
  NoticeFor,
  RunningMatch,
  SettingsOf,
  ViewAll,
  ViewFor,
} from './match-type.ts'
export { outlinesApart } from './outline.ts'
export { openRecorded, type ReplayedMatch, type ReplayRecordOptions, replayRecord } from './replay-record.ts'
export { idsOf, type ResumeOptions, resumeAnyMatch, resumeChanged, resumeMatch } from './resume-match.ts'
export { type OpenMatch, seedFrom } from './start-match.ts'
export {
  type Answered,
  type OpenTrace,
  openTraced,
  type TracedMatch,
  type TraceEnd,
  traceRecord,
} from './trace-record.ts'
