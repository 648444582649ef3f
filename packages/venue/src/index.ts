export type { HostClock, Listener } from 'zinc-referee/host'
export type { Admissions } from './admissions.ts'
export type { CircuitLink, Route } from './circuit-link.ts'
export type { Deliver, DeliveryAddress, Verdict } from './deliveries/index.ts'
export { type VenueErrorCode, venueErrorCodes } from './errors.ts'
export type { Limits } from './limits.ts'
export type { Log } from './log.ts'
export {
  type Bots,
  HostedMatch,
  type Hosting,
  type MatchOptions,
  type MatchSummary,
  type NewerRulebook,
} from './matches/index.ts'
export type { Commit, Keeping } from './records/index.ts'
export type { Role } from './roles.ts'
export { openVenue, type Venue, type VenueOptions } from './venue.ts'
export { VenueError } from './venue-error.ts'
export { type Channel, type ChannelEnd, type Rate, type RpcProblem, rpcErrors } from './wire/index.ts'
export { openWorkers, runWorker, thisWorker, type Workers, type WorkersOptions } from './workers/index.ts'
