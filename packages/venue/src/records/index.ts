export { type Keeping, KeptMatch } from './kept-match.ts'
export type { Commit } from './record-file.ts'
export { readSuspended, type Suspended } from './suspended.ts'
export { freePath, makeFolder, readWhole, unfinishedIn } from './unfinished.ts'
