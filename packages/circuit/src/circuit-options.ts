import type { CircuitLink, Log } from '@zinc-referee/venue'
import type { NatsOptions } from './nats/connect.ts'
import type { Member } from './protocol/members.ts'
import type { Pace } from './protocol/options.ts'

/** Options of `openCircuit`. */
export interface CircuitOptions extends NatsOptions {
  /** The name of this venue: no other of the circuit has it. Letters, digits, `-` and `_`. */
  readonly venue: string
  /** The modes that it has. A match of another mode is never given to it. */
  readonly modes: readonly string[]
  /** The folder for the records of matches that have ended. */
  readonly records: string
  /** The name of the circuit: several may be on the same servers. Default: `zinc`. */
  readonly circuit?: string
  /** The address of this venue's socket for clients. Default: where it listens. */
  readonly address?: string
  /** How many matches it takes. Default: 10,000. */
  readonly max?: number
  /** If true, clients stay where they are, and their messages are passed on. Default: false, they are sent there. */
  readonly passesOn?: boolean
  /** On how many servers each message is kept. Default: 3. */
  readonly replicas?: 1 | 3 | 5
  /**
   * From how many bytes on each server on no new matches begin. All that is in the account counts. From a quarter more on, those
   * that run stand still until there is room. It is looked at each second: keep it well below what the servers can store, since
   * they lose messages when they are full. Default: no limit.
   */
  readonly fullAt?: number
  /** How long the servers may take to agree on a leader when it opens, in ms. Default: 30,000. */
  readonly patience?: number
  /** Times and numbers. All venues of a circuit have the same. */
  readonly pace?: Partial<Pace>
  /** Takes a line for each thing that an operator looks for. Default: nothing. */
  readonly log?: Log
  /** Called if another venue has taken this one's name. Close the venue then. */
  readonly onReplaced?: (error: Error) => void
}

/** One venue's part in a circuit. Pass it to `openVenue` as `circuit`. */
export interface VenueInCircuit extends CircuitLink {
  /** What this venue sees of the circuit. */
  readonly state: CircuitState
  /** Resolves when it knows all venues and where all matches are, with the ids of those. */
  known(): Promise<readonly string[]>
  /** Gives all matches to other venues, one by one, and takes none from now on. Returns how many have gone. */
  drain(): Promise<number>
}
/** What one venue sees of a circuit. */
export interface CircuitState {
  readonly venue: string
  readonly venues: readonly Member[]
  /** The matches that this venue owns. */
  readonly matches: readonly string[]
}
