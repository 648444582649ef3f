import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type CircuitOptions, openCircuit } from '@zinc-referee/circuit'
import { openVenue, type Venue, type VenueOptions } from '@zinc-referee/venue'
import { connect } from '@zinc-referee/venue/client'
import { afterAll, afterEach, beforeAll, expect } from 'vitest'
import { WebSocket } from 'ws'
// @ts-expect-error a script without types
import { startNats } from '../../../scripts/nats-servers.mjs'
import { tallyMode } from './simulation/tally-mode.ts'

let nats: any
/** One NATS server for the tests of a file, and the venues that they open. */
export function oneServer(): void {
  beforeAll(async () => {
    nats = await startNats(1)
  })
  afterAll(() => nats.stop())
  afterEach(async () => {
    for (const venue of venues.splice(0)) await venue.close()
  })
}
/** The address of the server. */
export const serverUrl = (): string => nats.urls[0]
/** Where a client of NATS finds it. */
export const serverHost = (): string => new URL(serverUrl()).host

const venues: Venue[] = []
let circuits = 0
/** Each test has a circuit of its own. */
export const newCircuit = (): string => `fair-${++circuits}`

export async function venueOf(
  circuit: string,
  venue: string,
  given: Partial<CircuitOptions> = {},
  options: Partial<VenueOptions> = {},
) {
  const records = mkdtempSync(join(tmpdir(), 'circuit-'))
  const lines: { readonly msg: string; readonly match?: string }[] = []
  const log: any = Object.fromEntries(
    ['info', 'warn', 'error'].map((level) => [
      level,
      (fields: object, msg: string) => void lines.push({ ...fields, msg }),
    ]),
  )
  const link = await openCircuit({
    circuit,
    venue,
    servers: [serverUrl()],
    modes: [tallyMode.name],
    records,
    replicas: 1,
    pace: { beatEvery: 60 },
    log,
    ...given,
  })
  const plenty = { burst: 1e9, perSecond: 1e9 }
  const limits = { calls: plenty, joins: plenty }
  const opened = await openVenue({ circuit: link, rulebooks: [tallyMode], log, limits, ...options })
  venues.push(opened)
  const said = (msg: string) => expect.poll(() => lines.some((line) => line.msg === msg), POLL).toBe(true)
  return { venue: opened, link, records, said }
}
export const POLL = { timeout: 60_000, interval: 20 }
export const play = { phases: { countdown: 0 } }

export const enter = (venue: Venue, given: object) =>
  connect<any>({
    url: `ws://127.0.0.1:${venue.port}/socket`,
    WebSocket,
    wait: (ms) => new Promise((soon) => setTimeout(soon, ms / 10)),
    changed() {},
    ended() {},
    ...given,
  })
export const counted = (client: { readonly view: any }, seat: string) => client.view.tally.counts[seat]?.all
