// npm run bench-circuit: what a circuit on three NATS servers of this machine costs, beside bare publishes.
import { fork } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { jetstream, jetstreamManager } from '@nats-io/jetstream'
import { connect } from '@nats-io/transport-node'
import { type HostedMatch, openVenue } from '@zinc-referee/venue'
// @ts-expect-error a script without types
import { startNats } from '../../scripts/nats-servers.mjs'
import { counting } from './circuit-mode.js'
import { beginCounting, count, venueIn } from './circuit-venue.js'
import { machine } from './page.js'

const [MATCHES, IN_FLIGHT, SECONDS, ONE_AT_A_TIME, MOVED] = [1000, 128, 5, 1000, 100]
const PAYLOAD = 'x'.repeat(200)

const folder = mkdtempSync(join(tmpdir(), 'zinc-bench-'))
const nats = await startNats(3)
const rows: (readonly [string, string])[] = []
const row = (name: string, value: string): void => {
  rows.push([name, value])
  console.log(`${name.padEnd(34)}${value}`)
}
const quantile = (all: readonly number[], share: number): number =>
  [...all].sort((a, b) => a - b)[Math.floor(share * (all.length - 1))] ?? 0
const ms = (value: number): string => `${value.toFixed(value < 10 ? 2 : 0)} ms`
const both = (all: readonly number[]): string =>
  `p50 ${ms(quantile(all, 0.5))}   p99 ${ms(quantile(all, 0.99))}`

/** How often something was done in a second, with so many under way at a time. */
async function rateOf(act: () => Promise<unknown>, inFlight: number): Promise<number> {
  let done = 0
  const began = performance.now()
  const until = began + SECONDS * 1000
  const work = async (): Promise<void> => {
    while (performance.now() < until) {
      await act()
      done++
    }
  }
  await Promise.all(Array.from({ length: inFlight }, work))
  return (done * 1000) / (performance.now() - began)
}

async function timesOf(act: () => Promise<unknown>): Promise<readonly number[]> {
  const times: number[] = []
  for (let n = 0; n < ONE_AT_A_TIME; n++) {
    const began = performance.now()
    await act()
    times.push(performance.now() - began)
  }
  return times
}

console.log(`${machine()}, three NATS servers on it\n`)
const { venue, circuit } = await venueIn('north', nats.urls, join(folder, 'north'))
const connection = await connect({ servers: nats.urls.map((url: string) => new URL(url).host) })
const client = jetstream(connection)
const manager = await jetstreamManager(connection)
await manager.streams.add({ name: 'bare', subjects: ['bare.>'], num_replicas: 3 })
let subject = 0
const bare = () => client.publish(`bare.${subject++ % MATCHES}`, PAYLOAD)

const matches: HostedMatch[] = []
for (let at = 0; at < MATCHES; at++) matches.push(await beginCounting(venue, `m${at}`))
const [first] = matches as [HostedMatch]
/** Messages and bytes that the venue has sent into the stream, of its own metrics. */
async function committed(): Promise<{ readonly messages: number; readonly bytes: number }> {
  const text = await (await fetch(`${venue.url}metrics`)).text()
  const value = (name: string): number => Number(new RegExp(`^${name} (\\S+)$`, 'm').exec(text)?.[1])
  return {
    messages: value('zinc_referee_circuit_commit_seconds_count'),
    bytes: (await manager.streams.info('zinc-matches')).state.bytes,
  }
}
async function committing(act: () => Promise<unknown>, inFlight: number) {
  const before = await committed()
  const rate = await rateOf(act, inFlight)
  const after = await committed()
  const inputs = rate * SECONDS
  const messages = after.messages - before.messages
  return {
    rate,
    inEach: inputs / messages,
    bytes: (after.bytes - before.bytes) / inputs,
    perSecond: messages / SECONDS,
  }
}

// Interleaved, so that a slow moment of the machine weighs on both.
async function playRound() {
  let next = 0
  return {
    bare: await rateOf(bare, IN_FLIGHT),
    many: await committing(() => count(matches[next++ % MATCHES] as HostedMatch), IN_FLIGHT),
    one: await committing(() => count(first), IN_FLIGHT),
  }
}
const rounds = [await playRound(), await playRound(), await playRound()]
const median = (of: (round: (typeof rounds)[number]) => number): number => quantile(rounds.map(of), 0.5)
row('bare publishes', `${Math.round(median(({ bare }) => bare))} a second, ${IN_FLIGHT} at a time`)
row(
  `inputs of ${MATCHES} matches`,
  `${Math.round(median(({ many }) => many.rate))} a second, ${median(({ many }) => many.inEach).toFixed(2)} in a message, ${Math.round(median(({ many }) => many.bytes))} bytes each on each server`,
)
row('  against bare', `${median(({ many, bare }) => many.rate / bare).toFixed(2)} ×   goal at least 0.5`)
row(
  'inputs of one match',
  `${Math.round(median(({ one }) => one.rate))} a second, ${median(({ one }) => one.inEach).toFixed(1)} in a message, ${Math.round(median(({ one }) => one.perSecond))} messages a second`,
)

const alone = await openVenue({ rulebooks: [counting] })
const single = await beginCounting(alone, 'single')
const acks = await timesOf(bare)
const rulings = await timesOf(() => count(first))
const without = await timesOf(() => count(single))
row('bare acknowledgement', both(acks))
row('ruling of a circuit', both(rulings))
row('ruling of a venue without records', both(without))
const added = rulings.map((time) => time - quantile(without, 0.5))
row(
  '  added, against bare',
  `p99 ${(quantile(added, 0.99) / quantile(acks, 0.99)).toFixed(2)} ×   goal at most 3`,
)
await alone.close()

const moves: number[] = []
const south = await venueIn('south', nats.urls, join(folder, 'south'), (took) => moves.push(took))
for (let at = 0; at < MOVED; at++) await beginCounting(south.venue, `s${at}`)
await new Promise((soon) => setTimeout(soon, 2000))
await south.circuit.drain()
row(`move a match, of ${MOVED}`, `${both(moves)}   goal below 300 ms`)

const doomed = fork(fileURLToPath(new URL('circuit-venue.js', import.meta.url)), [
  '--doomed',
  nats.urls.join(','),
  join(folder, 'doomed'),
  String(MOVED),
])
await once(doomed, 'message')
const before = circuit.state.matches.length
const began = performance.now()
doomed.kill('SIGKILL')
const taken: number[] = []
while (taken.length < MOVED) {
  const now = circuit.state.matches.length - before
  while (taken.length < now) taken.push(performance.now() - began)
  await new Promise((soon) => setTimeout(soon, 5))
}
row(
  `take over from a killed venue`,
  `first match ${ms(taken[0] ?? 0)}   all ${MOVED} ${ms(taken.at(-1) ?? 0)}`,
)

await south.venue.suspend()
process.on('exit', () => rmSync(folder, { recursive: true, force: true }))
await connection.close()
await nats.stop()
process.exit(0)
