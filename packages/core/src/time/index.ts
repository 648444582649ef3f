export { assertWhole, type ClockStyle, formatElapsed, formatRemaining, nextChange } from './clock-text.ts'
export { minutes, seconds } from './duration.ts'
export { type Band, type ClockName, clockNames, type Timer, type TimerKind } from './heap.ts'
export { type SavedTime, type TimeBefore, type TimeChange, Timekeeper } from './timekeeper.ts'
