export { type Beginning, beginMatch, type ReplayedMatch, replayRecord } from './begin-match.ts'
export { defineRulebook, type Rulebook } from './define-rulebook.ts'
export { type CellDescription, type CellDescriptions, type InputDescription, type RulebookDescription, type RuleDescription } from './describe.ts'
export type { AnyMatch, AnyView, ClocksView, ClockView, Match, RunningMatch, SettingsOf, ViewAll } from './match-type.ts'
