import { randomBytes } from 'node:crypto'
import { setTimeout as sleep } from 'node:timers/promises'
import { SignJWT } from 'jose'
import { LoadClient, type Sample, type Tally } from './client.ts'
import { type ServerUnderLoad, startServer } from './server-under-load.ts'

/** How much load, and for how long. */
export interface Load {
  readonly matches: number
  readonly seats: number
  /** Actions of each seat, a second. */
  readonly rate: number
  /** How long, in ms. */
  readonly time: number
  /** Which part of the seats reads slowly, and which part loses its connection in each second: 0 to 1. */
  readonly slow: number
  readonly drop: number
  readonly records: string | undefined
  readonly compress: boolean
}
/** What came of it. */
export interface Measured {
  readonly rulings: readonly Sample[]
  readonly notices: readonly Sample[]
  readonly sent: number
  readonly lost: number
  readonly refused: number
  readonly bytes: number
  readonly messages: number
  readonly answerBytes: number
  /** Of the server, in ms: processor time, and how long it took. */
  readonly cpu: number
  readonly took: number
  /** Of the server, in bytes: with all seated, and before anybody came. */
  readonly memory: number
  readonly memoryBefore: number
}

/** How long clients of a run wait for the last answers, in ms. */
const GRACE = 10_000
/** How many sockets are opened at a time. */
const AT_ONCE = 100

const newTally = (): Tally => ({
  rulings: [],
  notices: [],
  bytes: 0,
  messages: 0,
  answerBytes: 0,
  refused: 0,
  sent: 0,
  answered: 0,
})

/** Plays regattas in a venue of its own process. `each`: called each second. */
export async function loadVenue(load: Load, each: (second: number, tally: Tally) => void): Promise<Measured> {
  const secret = randomBytes(32)
  const key = { kty: 'oct', k: secret.toString('base64url'), kid: 'load', alg: 'HS256' }
  const { records, compress } = load
  const server = await startServer({ kind: 'venue', matches: load.matches, records, keys: [key], compress })
  await sleep(1000)
  const memoryBefore = server.usage().memory
  const tally = newTally()
  const token = (claims: object): Promise<string> =>
    new SignJWT({ ...claims })
      .setProtectedHeader({ alg: 'HS256', kid: 'load' })
      .setExpirationTime('1d')
      .sign(secret)
  const tables = await Promise.all(
    Array.from({ length: load.matches }, async (_, match) => {
      const reported = new Map<string, number>()
      const address = `ws://127.0.0.1:${server.port}/socket`
      const seats = await Promise.all(
        Array.from({ length: load.seats }, async (_, seat) => {
          const admission = await token({
            sub: `p-${match}-${seat}`,
            role: 'player',
            match: `m${match}`,
            seat: `raft-${seat}`,
          })
          return { client: new LoadClient(address, tally, reported), join: { admission } }
        }),
      )
      const reporter = new LoadClient(address, tally, new Map())
      const admission = await token({ sub: 'load', role: 'reporter', match: `m${match}` })
      return { seats, reporter, reported, join: { admission } }
    }),
  )
  const all = tables.flatMap(({ seats, reporter, join }) => [...seats, { client: reporter, join }])
  for (let from = 0; from < all.length; from += AT_ONCE)
    await Promise.all(all.slice(from, from + AT_ONCE).map(({ client, join }) => client.open(join)))
  for (const { seats } of tables)
    for (const { client } of seats) client.call('act', { action: 'roster.ready' })
  await allAnswered(tally, 60_000)
  Object.assign(tally, newTally())
  const slow = tables.flatMap(({ seats }) => seats).filter(() => Math.random() < load.slow)
  const second = (): void => {
    for (const { client } of slow) client.rest(900)
    for (const { client, join } of load.drop === 0 ? [] : tables.flatMap(({ seats }) => seats))
      if (Math.random() < load.drop) {
        client.drop()
        void client.open(join)
      }
  }
  const acts = tables.flatMap(({ seats, reporter, reported }) => [
    // Each match has its own moment, as games have.
    () => {
      reported.set(`ws://127.0.0.1:${server.port}/socket`, performance.now())
      reporter.call('report', { fact: 'raft.rammed', input: { target: 'raft-1', by: 'raft-0' } })
    },
    ...seats.map(({ client }, seat) => (turn: number) => {
      const quarry = `raft-${(seat + 1 + (turn % (load.seats - 1))) % load.seats}`
      client.call('act', { action: 'raft.chase', input: { quarry } })
    }),
  ])
  const measured = await measure(server, tally, load, acts, second, each)
  for (const { client } of all) client.close()
  await server.stop()
  return { ...measured, memoryBefore }
}

/** The same frames, of the same sizes, to as many sockets, by a bare WebSocket server. */
export async function loadBare(load: Load, venue: Measured): Promise<Measured> {
  const notices = Math.max(1, venue.messages - venue.sent)
  const server = await startServer({
    kind: 'bare',
    answer: Math.max(1, Math.round(venue.answerBytes / venue.sent) - 30),
    notice: Math.max(1, Math.round((venue.bytes - venue.answerBytes) / notices)),
    others: notices / venue.sent / load.seats,
  })
  await sleep(600)
  const memoryBefore = server.usage().memory
  const tally = newTally()
  const clients = Array.from({ length: load.matches * load.seats }, (_, at) => {
    const table = Math.floor(at / load.seats)
    return new LoadClient(`ws://127.0.0.1:${server.port}/${table}`, tally, new Map())
  })
  for (let from = 0; from < clients.length; from += AT_ONCE)
    await Promise.all(clients.slice(from, from + AT_ONCE).map((client) => client.open()))
  const params = { action: 'raft.chase', input: { quarry: 'raft-1' } }
  const acts = clients.map((client) => () => client.call('act', params))
  const measured = await measure(
    server,
    tally,
    { ...load, time: Math.min(load.time, 20_000) },
    acts,
    () => {},
    () => {},
  )
  for (const client of clients) client.close()
  await server.stop()
  return { ...measured, memoryBefore }
}

async function allAnswered(tally: Tally, patience: number): Promise<void> {
  const until = performance.now() + patience
  while (tally.answered < tally.sent && performance.now() < until) await sleep(20)
}

/** Spreads the actions of each second evenly over it. */
async function measure(
  server: ServerUnderLoad,
  tally: Tally,
  { rate, time }: Load,
  acts: readonly ((turn: number) => void)[],
  second: () => void,
  each: (second: number, tally: Tally) => void,
): Promise<Omit<Measured, 'memoryBefore'>> {
  await sleep(600)
  const { cpu } = server.usage()
  const began = performance.now()
  let [done, seconds] = [0, 0]
  for (let now = 0; now < time; now = performance.now() - began) {
    if (now >= seconds * 1000) {
      second()
      each(seconds, tally)
      seconds++
    }
    const due = Math.floor((now / 1000) * rate * acts.length)
    for (; done < due; done++) acts[done % acts.length]?.(Math.floor(done / acts.length))
    await sleep(1)
  }
  const took = performance.now() - began
  const { memory } = server.usage()
  await allAnswered(tally, GRACE)
  await sleep(600) // the server's last report
  const { rulings, notices, sent, answered, refused, bytes, messages, answerBytes } = tally
  const used = server.usage().cpu - cpu
  return {
    rulings,
    notices,
    sent,
    lost: sent - answered,
    refused,
    bytes,
    messages,
    answerBytes,
    cpu: used,
    took,
    memory,
  }
}
