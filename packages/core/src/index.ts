export { type Chance, chanceFrom, type Seed } from './chance/index.ts'
export { type ErrorCode, errorCodes, isRefereeError, RefereeError } from './kit/index.ts'
export {
  type Allowed, type Amount, type AnyInputCode, type Asked, declareRule, defineRule, type Details, explainRefusal, type Fault, type Gate, type GatePlace,
  type GateRule, type How, type MatchIn, type MatchOf, type Opening, type PassedOn, type Refusal, refusalTexts, refuse, type Rule, type RuleLike,
  type RuleShape, type Ruling, type Schema, type Seen, type Spec, type SpecOf, type Tier, type TimerRule, type Update, type Used, type When,
} from './match/index.ts'
export { type CheckLine, type Header, type InputLine, type Line, type NumberedLine, readRecord, type RecordContent, type Replayed, type Sink } from './record/index.ts'
export {
  type AnyMatch, type AnyRulebook, type AnyView, beginAnyMatch, type Beginning, beginMatch, type CellDescription, type CellDescriptions, type ClocksView, type ClockView, defineRulebook,
  type InputDescription, isMatchOf, type Match, type MatchFor, type ReplayedMatch, replayRecord, type Rulebook, type RulebookDescription, type RuleDescription, type RunningMatch,
  type SettingsOf, type ViewAll,
} from './rulebook/index.ts'
export { bySetting, everyone, nobody, type Notice, owner } from './sight/index.ts'
export {
  amount, type Bounded, type Cell, type Cells, type Choice, choice, flag, type Given, int, list, type Mark, maybe, num, type Part, type PerSeat, perSeat,
  type Reach, type Row, type Rows, type Seat, type Seats, seatRef, type Settled, type Sight, type Single, single, type Span, type State, type Table, table,
  text, time,
} from './state/index.ts'
export { type Band, type ClockName, type ClockStyle, gone, left, minutes, nextChange, seconds } from './time/index.ts'
