export type { CircuitLink, Route } from './circuit-link.ts'
export { processClock } from './clock.ts'
export { venueError } from './errors.ts'
export type {
  MatchesOptions,
  MatchSummary,
  Restored,
  Unfinished,
  Wanted,
  Watchable,
} from './matches/index.ts'
export { HostedMatch, Matches, matchWithRoom, newCode } from './matches/index.ts'
export type { KeptRecord, RecordKeeper, Suspended } from './records/index.ts'
export { freePath, makeFolder } from './records/index.ts'
export { rulingText } from './wire/index.ts'
