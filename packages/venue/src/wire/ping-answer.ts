import type { Watchable } from '../matches/index.ts'
import type { Doors } from './doors.ts'

/** Returns the answer to `ping`: the match time, and by which other venues of a circuit a client may come back. */
export const pingAnswer = (watched: Watchable, { circuit }: Doors): string =>
  JSON.stringify({ at: watched.now(), ...(circuit && { others: circuit.addresses() }) })
