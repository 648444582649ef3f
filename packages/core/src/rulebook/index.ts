export {
  type Beginning,
  beginAnyMatch,
  beginMatch,
  idsOf,
  isMatchOf,
  type OpenMatch,
  type ReplayedMatch,
  type Resuming,
  replayRecord,
  resumeAnyMatch,
  resumeChanged,
  resumeMatch,
} from './begin-match.ts'
export { type AnyRulebook, defineRulebook, type Presets, type Rulebook } from './define-rulebook.ts'
export {
  type CellDescription,
  type CellDescriptions,
  type InputDescription,
  type RulebookDescription,
  type RuleDescription,
} from './describe.ts'
export { insideOf, replayLine } from './held-match.ts'
export type {
  AnyMatch,
  AnyView,
  ClocksView,
  ClockView,
  Match,
  MatchFor,
  RunningMatch,
  SettingsOf,
  ViewAll,
} from './match-type.ts'
