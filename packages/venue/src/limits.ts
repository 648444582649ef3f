import type { Rate } from './wire/token-bucket.ts'

/** What one client may ask of a venue. */
export interface Limits {
  /** Calls of one connection. Default: 60 at once, 30 a second. Beyond it they are refused with `too-fast`. */
  readonly calls: Rate
  /** Connections of one address. Default: 200. Further ones are refused (HTTP 429). */
  readonly connectionsPerAddress: number
  /** Length of a message, in bytes. Default: 65,536. A longer one ends the connection. */
  readonly messageBytes: number
  /** How deep a message may be nested. Default: 32. A deeper one is refused with `parse-error`. */
  readonly depth: number
  /** Joins of one address. Default: 60 at once, 5 a second. */
  readonly joins: Rate
  /** Connections that watch one match without a seat. Default: 1000. */
  readonly watchers: number
  /** Bytes that wait for a client. Default: 16,384. With more, numbers of which only the latest counts are merged until less waits. */
  readonly slowBytes: number
  /** Bytes that wait for a client that reads slowly. Default: 262,144. With more it gets a whole view later, and no patches until then. */
  readonly behindBytes: number
  /** Bytes that wait for a client that hardly reads. Default: 4,194,304. With more its connection ends. */
  readonly waitingBytes: number
  /** Matches at one time. Default: 10,000. */
  readonly matches: number
  /**
   * How often a connection is asked whether it is still there, in ms. One that does not answer ends. When the venue closes,
   * one that does not end its side within this time is cut off. Default: 5000.
   */
  readonly heartbeat: number
}

export const usualLimits: Limits = {
  calls: { burst: 60, perSecond: 30 },
  connectionsPerAddress: 200,
  messageBytes: 64 * 1024,
  depth: 32,
  joins: { burst: 60, perSecond: 5 },
  watchers: 1000,
  slowBytes: 16 * 1024,
  behindBytes: 256 * 1024,
  waitingBytes: 4 * 1024 * 1024,
  matches: 10_000,
  heartbeat: 5000,
}
