import type { CircuitEvent } from './protocol/options.ts'
import type { Room } from './stream-room.ts'

/** How many events and times of commits are kept. */
const [EVENTS, TIMES] = [50, 500]

/** What a venue says of itself to whoever looks at the circuit. */
export interface VenueReport {
  readonly venue: string
  readonly url: string
  readonly isLeaving: boolean
  readonly max: number
  /** How much room the servers have, as it sees them. */
  readonly room: Room
  /** Its matches, how often each has changed hands, and whether it stands still because nothing can be committed. */
  readonly matches: readonly {
    readonly match: string
    readonly mode: string
    readonly epoch: number
    readonly standsStill: boolean
  }[]
  /** How long messages took to be safe lately, in ms; undefined if there were none. */
  readonly commit: { readonly p50: number; readonly p99: number } | undefined
  /** What happened lately, the newest first. `ago`: in ms. */
  readonly lately: readonly (CircuitEvent & { readonly ago: number })[]
}

/** Keeps what happened lately at a venue. */
export class Lately {
  private readonly events: (CircuitEvent & { readonly at: number })[] = []
  private readonly times: number[] = []

  happened(event: CircuitEvent): void {
    this.events.push({ ...event, at: performance.now() })
    if (this.events.length > EVENTS) this.events.shift()
  }

  /** A message was safe after this many ms. */
  committed(took: number): void {
    this.times.push(took)
    if (this.times.length > TIMES) this.times.shift()
  }

  get commit(): VenueReport['commit'] {
    const sorted = [...this.times].sort((a, b) => a - b)
    const at = (share: number): number =>
      Number((sorted[Math.floor(share * (sorted.length - 1))] ?? 0).toFixed(2))
    return sorted.length === 0 ? undefined : { p50: at(0.5), p99: at(0.99) }
  }

  get lately(): VenueReport['lately'] {
    const now = performance.now()
    return this.events.toReversed().map(({ at, ...event }) => ({ ...event, ago: Math.round(now - at) }))
  }
}
