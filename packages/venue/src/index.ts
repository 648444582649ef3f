export { VenueError, type VenueErrorCode, venueErrorCodes } from './errors.ts'
export { HostedMatch, type Listener } from './hosted-match.ts'
export { type RpcProblem, rpcErrors } from './protocol.ts'
export { type MatchOptions, openVenue, type Venue, type VenueOptions } from './venue.ts'
