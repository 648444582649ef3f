import type { Log } from '@zinc-referee/venue'
import { Counter, Gauge, Histogram, type OpenMetricsContentType, type Registry } from 'prom-client'
import type { CircuitEvent } from './protocol/options.ts'
import type { MatchStream } from './protocol/ports.ts'

/** What an operator watches of a venue's part in a circuit. */
export interface CircuitMeters {
  /** Counts and logs what happens. */
  happened(event: CircuitEvent): void
  /** Returns the same stream, whose acknowledged messages are counted and timed. */
  timed(stream: MatchStream, took: (ms: number) => void): MatchStream
  /** Shows them under `/metrics` of the venue. */
  showIn(registry: Registry<OpenMetricsContentType>): void
}

/** Seconds until a message is acknowledged. */
const BUCKETS = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.3, 1, 5, 15]

/** Returns meters of one venue, which read how many matches and venues there are when they are asked. */
export function circuitMeters(
  log: Log,
  counts: { readonly matches: () => number; readonly venues: () => number },
): CircuitMeters {
  const registers: Registry[] = []
  const gauge = (name: string, help: string, value: () => number): Gauge =>
    new Gauge({
      name: `zinc_referee_circuit_${name}`,
      help,
      registers,
      collect() {
        this.set(value())
      },
    })
  const events = new Counter({
    name: 'zinc_referee_circuit_events_total',
    help: 'Matches begun, taken, moved, lost, standing still, going on, broken or ended',
    labelNames: ['what'],
    registers,
  })
  const moved = new Histogram({
    name: 'zinc_referee_circuit_hand_over_seconds',
    help: 'How long a match stood still while it moved to another venue',
    buckets: BUCKETS,
    registers,
  })
  const committed = new Histogram({
    name: 'zinc_referee_circuit_commit_seconds',
    help: 'How long a message took to be safe',
    buckets: BUCKETS,
    registers,
  })
  const bytes = new Counter({
    name: 'zinc_referee_circuit_committed_bytes_total',
    help: 'Characters of committed messages',
    registers,
  })
  const all = [
    events,
    moved,
    committed,
    bytes,
    gauge('matches', 'Matches that this venue owns', counts.matches),
    gauge('venues', 'Venues that are there', counts.venues),
  ]
  return {
    happened(event) {
      const { what, ...more } = event
      events.inc({ what: what.replaceAll(' ', '_') })
      if (what === 'handed') moved.observe(event.took / 1000)
      const isBad = what === 'broken' || what === 'replaced' || what === 'stands still'
      log[isBad ? 'warn' : 'info'](more, `circuit: ${WORDS[what]}`)
    },
    timed: (stream, took) => ({
      ...stream,
      async publish(subject, id, text, after) {
        const began = performance.now()
        const sequence = await stream.publish(subject, id, text, after)
        const ms = performance.now() - began
        committed.observe(ms / 1000)
        took(ms)
        bytes.inc(text.length)
        return sequence
      },
    }),
    showIn(registry) {
      for (const each of all) registry.registerMetric(each as never)
    },
  }
}

const WORDS: { readonly [W in CircuitEvent['what']]: string } = {
  begun: 'match begun',
  taken: 'match taken',
  ended: 'match ended',
  lost: 'match lost to another venue',
  handed: 'match moved',
  'stands still': 'match stands still: nothing can be committed',
  'goes on': 'match goes on',
  broken: 'match cannot be gone on with',
  replaced: 'name taken by another venue',
}
