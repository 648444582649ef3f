import { type ClientErrorCode, VenueError } from './venue-error.ts'

const messages = {
  ZR_VENUE_MATCH_TWICE: (d: { match: string }) =>
    `The venue has a match '${d.match}' already. Give the new one another id.`,
  ZR_VENUE_UNKNOWN_MODE: (d: { mode: string }) =>
    `The venue has no mode '${d.mode}'. Open it with that rulebook in rulebooks.`,
  ZR_VENUE_DELIVERY: (d: { url: string; status: number }) =>
    `${d.url} did not take a verdict: it answered ${d.status}. It is sent again later; answer 200 once it is kept.`,
  ZR_VENUE_CLOSED: (_: object) => 'The venue is closed. Open another.',
  ZR_VENUE_UNKNOWN_OPTION: (d: { where: string; option: string; known: readonly string[] }) =>
    `There is no '${d.option}' in ${d.where}. Fix the spelling; there are ${d.known.join(', ')}.`,
  ZR_VENUE_OPEN: (d: { address: string }) =>
    `Without admissions anybody may take any seat, so the venue does not listen on ${d.address}. Pass admissions, or listen on 127.0.0.1.`,
  ZR_VENUE_FULL: (d: { max: number }) =>
    `The venue hosts ${d.max} matches, and no more. End one, or raise limits.matches.`,
  ZR_VENUE_UNKNOWN_MATCH: (d: { match: string }) =>
    `The venue has no match '${d.match}'. Ask for one that it lists under /matches.`,
  ZR_VENUE_NOT_NOW: (d: { what: string }) => `${d.what} cannot be found or begun now. Try again in a moment.`,
  ZR_VENUE_UPGRADING: (d: { match: string }) =>
    `The match '${d.match}' goes on with a newer rulebook in a moment. Try again then.`,
  ZR_VENUE_NOT_UPGRADED: (d: { match: string; why: string }) =>
    `The match '${d.match}' goes on as it was, without the newer rulebook: ${d.why} Fix that, or let the match end.`,
  ZR_VENUE_RECORDS_IN_USE: (d: { folder: string }) =>
    `Another venue keeps its records in ${d.folder}. Close it first, or choose another folder.`,
  ZR_VENUE_NO_WORKER: (_: object) =>
    'This process is no worker. Begin it by openWorkers, with this module as its entry, or use openVenue.',
  ZR_VENUE_FEWER_WORKERS: (d: { folder: string; missing: number; count: number }) =>
    `${d.folder} has unfinished matches of worker ${d.missing}, and there are ${d.count} workers. Open at least ${d.missing}.`,
  ZR_VENUE_WORKER: (d: { why: string }) => `The workers did not begin: ${d.why}`,
  ZR_VENUE_PORT: (d: { port: number; why: string }) =>
    `The venue cannot listen on port ${d.port}: ${d.why}. Choose another port, or 0 for a free one.`,
  ZR_VENUE_RECORD: (d: { path: string; why: string }) =>
    `The match of ${d.path} cannot go on: ${d.why}. Its files are as they were. Move them away, or open the venue with the rulebook that they were made with.`,
} as const

type Messages = typeof messages
/** The code of an error of this package. */
export type VenueErrorCode = keyof Messages | ClientErrorCode
/** The codes of all errors that a venue and its clients throw. */
export const venueErrorCodes: readonly VenueErrorCode[] = [
  ...(Object.keys(messages) as (keyof Messages)[]),
  'ZR_VENUE_REFUSED',
  'ZR_VENUE_CONNECTION',
]

/** Returns an error that a host can fix. */
export function venueError<C extends keyof Messages>(
  code: C,
  details: Parameters<Messages[C]>[0],
  cause?: unknown,
): VenueError {
  return new VenueError(code, (messages[code] as (given: typeof details) => string)(details), cause)
}
