import { appendFileSync, mkdtempSync, readdirSync, readFileSync, statSync, utimesSync } from 'node:fs'
import { createServer } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gunzipSync } from 'node:zlib'
import { reedRegatta } from '@zinc-referee/examples'
import { type HostedMatch, type Log, openVenue, type VenueOptions, type Verdict } from '@zinc-referee/venue'
import { jwtVerify } from 'jose'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, replayRecord } from 'zinc-referee'
import { mostAtTime, phases, rounds, scores, verdict } from 'zinc-referee/rules'
import { HandClock } from './hand-clock.ts'

const folder = () => mkdtempSync(join(tmpdir(), 'verdicts-'))
const soon = () => new Promise((then) => setTimeout(then, 20))
const begun = { seed: 'fair-1', settings: { phases: { countdown: 0, linger: 0 }, rounds: { count: 1 } } }

async function opened(options: VenueOptions) {
  const clock = new HandClock()
  const venue = await openVenue({ clock, rulebooks: [reedRegatta], ...options })
  return { clock, venue }
}
const end = (hosted: HostedMatch) => hosted.run((match) => match.direct('rounds.close', {}))
const sit = (hosted: HostedMatch) =>
  hosted.run((match) => {
    for (const seat of ['otter', 'heron']) {
      match.direct('roster.join', { seat, name: seat, player: `p-${seat}` })
      match.submit(seat, 'roster.ready', {})
    }
  })
/** Two sit down and begin, and the round is closed. */
function play(hosted: HostedMatch) {
  sit(hosted)
  end(hosted)
}

test('each verdict is delivered once: tried again until it is taken, and not again by the next process', async () => {
  const records = folder()
  const heard: Verdict[] = []
  let takes = false
  const deliver = (verdict: Verdict) => {
    heard.push(verdict)
    if (!takes) throw new TypeError('not now')
  }
  const logged: any[] = []
  const log = { info() {}, error() {}, warn: (fields: object) => void logged.push(fields) } as Log
  const { venue, clock } = await opened({ records, deliver, log })
  const hosted = venue.begin('one', reedRegatta, begun)
  play(hosted)
  while (heard.length === 0) await soon()
  expect(heard[0]).toMatchObject({
    match: 'one',
    mode: 'reed-regatta',
    bout: 1,
    end: { kind: 'draw', winners: ['otter', 'heron'] },
    seats: [{ seat: 'otter' }, { seat: 'heron' }],
  })
  expect(JSON.stringify(heard[0])).not.toContain('p-otter') // without admissions that is a secret
  await soon()
  clock.pass(1000)
  await soon()
  expect(heard.length).toBe(2)
  // What was thrown is logged by its kind and place: its words may tell a secret.
  expect(logged[0]).toMatchObject({ match: 'one', error: 'TypeError' })
  expect(logged[0].at.length).toBeGreaterThan(2)
  expect(logged[0].at.every((line: string) => line.startsWith('at '))).toBe(true)
  await venue.suspend()
  appendFileSync(join(records, 'deliveries.jsonl'), '{"verdict":{"id"\n') // torn by a crash
  takes = true
  const next = await opened({ records, deliver })
  while (heard.length === 2) await soon()
  expect(new Set(heard.map(({ id }) => id)).size).toBe(1)
  for (const seat of ['otter', 'heron'])
    next.venue.matches[0]?.run((match) =>
      match.direct('roster.join', { seat, name: seat, player: `p-${seat}` }),
    )
  next.venue.matches[0]?.run((match) => match.direct('rounds.again', {}))
  next.clock.pass(10)
  end(next.venue.matches[0]!)
  while (heard.length === 3) await soon()
  expect(heard[3]).toMatchObject({ bout: 2, end: { kind: 'draw' } })
  await soon()
  await next.venue.suspend()
  for (const how of ['suspend', 'close'] as const) {
    const { venue: later } = await opened({ records, deliver })
    await soon()
    await later[how]()
  }
  expect(heard.length).toBe(4)
})

test('a match whose name comes again has a verdict of its own, even if it goes on or closes before its lines are safe', async () => {
  const heard: Verdict[] = []
  const deliver = (verdict: Verdict) => void heard.push(verdict)
  const { venue, clock } = await opened({ records: folder(), deliver })
  const ways: readonly ((hosted: HostedMatch) => unknown)[] = [
    end,
    (hosted) => [end(hosted), hosted.run((match) => match.direct('rounds.again', {}))],
    () => Object.assign(clock, { at: clock.now() + 3_600_000 }), // its time is up, and nobody has woken it yet
  ]
  for (const way of ways) {
    const hosted = venue.begin('one', reedRegatta, begun)
    const ended = new Promise((resolve) => hosted.ends.add(resolve))
    sit(hosted)
    way(hosted)
    hosted.close()
    await ended
  }
  // A mode that goes on by itself: two of its bouts end while its process stands still.
  const goOn = defineRule({
    name: 'go-on',
    needs: [phases],
    on: { 'phases.changed': (match, { to }) => to === 'over' && match.use(phases).again('by itself') },
  })
  const rules = [scores, rounds({ length: 1000, count: 1 }), verdict({ when: [mostAtTime] }), goOn]
  const book = defineRulebook({ name: 'on-and-on', seats: { min: 2, max: 2 }, rules })
  const hosted = venue.begin('two', book, { settings: { phases: { countdown: 0, linger: 500 } } })
  sit(hosted)
  Object.assign(clock, { at: clock.now() + 2600 })
  hosted.run(() => undefined)
  while (heard.length < 5) await soon()
  expect(heard.map(({ bout }) => bout)).toEqual([1, 1, 1, 1, 2])
  expect(new Set(heard.map(({ id }) => id)).size).toBe(5)
  await venue.close()
})

test('a verdict that is taken while the venue closes is sent again by the next one, and nothing is left to wake', async () => {
  const records = folder()
  const heard: string[] = []
  let answer: () => void = () => {}
  const slow = (verdict: Verdict) => {
    heard.push(verdict.id)
    return new Promise<void>((taken) => {
      answer = taken
    })
  }
  const { venue, clock } = await opened({ records, deliver: slow })
  play(venue.begin('one', reedRegatta, begun))
  while (heard.length === 0) await soon()
  await venue.suspend()
  answer()
  await soon()
  expect(clock.wakes.size).toBe(0)
  const refuse = (verdict: Verdict) => {
    heard.push(verdict.id)
    throw new TypeError('not now')
  }
  const next = await opened({ records, deliver: refuse })
  while (heard.length === 1) await soon()
  await soon()
  await next.venue.suspend()
  expect(next.clock.wakes.size).toBe(0)
  const late = await opened({
    records,
    deliver: () => new Promise((_, refused) => (answer = () => refused(new TypeError('late')))),
  })
  await soon()
  await late.venue.suspend()
  answer()
  await soon()
  expect(late.clock.wakes.size).toBe(0)
  const third = await opened({ records, deliver: (verdict) => void heard.push(verdict.id) })
  while (heard.length === 2) await soon()
  expect(new Set(heard).size).toBe(1)
  await third.venue.suspend()
})

test('a verdict is posted as a signed token; whatever is no success is tried again', async () => {
  const bodies: string[] = []
  const server = createServer((request, response) => {
    let body = ''
    request.on('data', (bytes) => (body += bytes))
    request.on('end', () => {
      bodies.push(body)
      expect(request.headers['content-type']).toBe('application/jwt')
      response.writeHead(bodies.length === 1 ? 500 : 204).end()
    })
  })
  await new Promise<void>((open) => server.listen(0, '127.0.0.1', open))
  const { port } = server.address() as { port: number }
  const secret = Buffer.from('a secret of the fair, of 32 bytes')
  const key = { kty: 'oct', k: secret.toString('base64url'), kid: 'fair-1', alg: 'HS256' }
  const { venue, clock } = await opened({ deliver: { url: `http://127.0.0.1:${port}/verdicts`, key } })
  play(venue.begin('one', reedRegatta, begun))
  while (bodies.length === 0) await soon()
  await soon()
  while (bodies.length === 1) {
    clock.pass(1000)
    await soon()
  }
  const { payload } = await jwtVerify(bodies[1] ?? '', secret)
  expect(payload).toMatchObject({ match: 'one', end: { kind: 'draw' } })
  await venue.close()
  server.close()
})

test('records of matches that have ended are compressed, and removed when they are old enough', async () => {
  const records = folder()
  const keeping = { folder: records, compress: true, keepFor: 24 * 3_600_000 }
  const { venue, clock } = await opened({ records: keeping })
  play(venue.begin('one', reedRegatta, begun))
  const running = venue.begin('two', reedRegatta, begun)
  venue.matches[0]?.close()
  const packed = () => readdirSync(records).filter((name) => name.endsWith('.gz'))
  while (packed().length === 0) await soon()
  const [name = ''] = packed()
  expect(statSync(join(records, name)).mode & 0o077).toBe(0)
  const text = gunzipSync(readFileSync(join(records, name))).toString()
  expect(replayRecord(reedRegatta, text).differs).toBeUndefined()
  while (venue.matches.length > 1) await soon()
  expect(venue.begin('one', reedRegatta, begun).record).not.toBe(join(records, name.replace('.gz', '')))
  const old = new Date(Date.now() - 25 * 3_600_000)
  for (const each of readdirSync(records)) utimesSync(join(records, each), old, old)
  clock.pass(3_600_000)
  expect(packed()).toEqual([])
  expect(readdirSync(records)).toContain(running.record?.split('/').at(-1))
  await venue.close()
})
