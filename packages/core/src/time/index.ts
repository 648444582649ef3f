export { assertWhole, type ClockStyle, gone, left, nextChange } from './clock-text.ts'
export { minutes, seconds } from './duration.ts'
export { type ClockName, clockNames, type Timer } from './heap.ts'
export { type Band, type SavedTime, type Start, Timekeeper } from './timekeeper.ts'
