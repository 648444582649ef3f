import {
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { reedRegatta, steppingStones } from '@zinc-referee/examples'
import { type Log, openVenue, type Venue, type VenueOptions } from '@zinc-referee/venue'
import { afterEach, expect, test, vi } from 'vitest'
import { WebSocket } from 'ws'
import { beginMatch } from 'zinc-referee'
import { placeOf } from '../src/log.ts'
import { HostedMatch } from '../src/matches/hosted-match.ts'
import { usualHosting } from '../src/matches/hosting.ts'
import { KeptMatch } from '../src/records/kept-match.ts'
import { HandClock } from './hand-clock.ts'
import { SocketClient } from './socket-client.ts'

let venue: Venue
afterEach(() => venue.close())

async function logged(options: VenueOptions = {}) {
  const lines: unknown[][] = []
  const note = (fields: unknown, text?: unknown) => void lines.push([text, fields])
  const clock = new HandClock()
  venue = await openVenue({ clock, log: { info() {}, warn: note, error: note } as Log, ...options })
  const ask = async (path: string, method = 'GET') => {
    const answer = await fetch(new URL(path, venue.url), { method })
    return { status: answer.status, text: await answer.text() }
  }
  return { lines, clock, ask, hosted: venue.begin('one', reedRegatta, { seed: 'fair-1' }) }
}

test('a call that takes too long is logged with its match; one within its budget is not', async () => {
  const { lines, clock, hosted, ask } = await logged()
  expect(venue.tcpPort).toBeUndefined()
  const asked = (await ask('openapi.json')).text.match(/"security":\[.*?\]/g)
  expect(new Set(asked)).toEqual(new Set(['"security":[]']))
  hosted.run(() => clock.pass(1))
  expect(lines).toEqual([])
  hosted.run(() => clock.pass(5_000.4))
  expect(lines).toEqual([['slow call', { match: 'one', ms: 5000 }]])
})

test('verdicts that are taken, records that are removed and connections that are refused are lines, with what they are about', async () => {
  const records = mkdtempSync(join(tmpdir(), 'lines-'))
  const lines: [string, any][] = []
  const note = (fields: unknown, text?: unknown) => void lines.push([String(text), fields])
  const clock = new HandClock()
  const log = { info: note, warn: note, error: note } as Log
  const keeping = { folder: records, keepFor: 60_000 }
  venue = await openVenue({
    clock,
    log,
    records: keeping,
    deliver() {},
    limits: { connectionsPerAddress: 1 },
    joined: ({ id }) => note(id, 'joined'),
  })
  const hosted = venue.begin('one', steppingStones, {
    seed: 'fair-1',
    settings: { phases: { countdown: 0 } },
  })
  hosted.run((match) => {
    for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
    for (const seat of ['otter', 'heron']) match.submit(seat, 'roster.ready', {})
    match.submit('heron', 'roster.leave', {})
  })
  const said = async (what: string) => {
    for (;;) {
      const line = lines.find(([text]) => text === what)
      if (line !== undefined) return line[1]
      await new Promise((soon) => setTimeout(soon, 5))
    }
  }
  expect(await said('verdict taken')).toEqual({ match: 'one', verdict: expect.any(String) })
  const first = new SocketClient(venue.port)
  await first.ask('ping', {})
  new WebSocket(`ws://127.0.0.1:${venue.port}/socket`).on('error', () => undefined)
  expect(await said('connection refused')).toEqual({ address: '127.0.0.1', why: 'too-many' })
  hosted.close()
  const about = { match: 'one', mode: 'stepping-stones' }
  expect(await said('match begun')).toEqual(about)
  expect(await said('match closed')).toEqual({ ...about, why: 'match-ended' })
  while (venue.matches.length > 0) await new Promise((soon) => setTimeout(soon, 5))
  const old = new Date(Date.now() - 120_000)
  const { record = '' } = hosted
  const { record: inUse = '' } = venue.begin('two', steppingStones, { seed: 'fair-1' })
  await first.ask('join', { match: 'two', name: 'Otter' })
  expect([await said('joined'), await said('seat taken')]).toEqual(['two', { match: 'two', seat: 'otter' }])
  // Not before it is closed, which takes a while.
  const look = () => {
    for (const path of [record, inUse]) if (existsSync(path)) utimesSync(path, old, old)
    clock.pass(3_600_000)
    return lines.filter(([text]) => text === 'record removed').map(([, fields]) => fields)
  }
  await expect.poll(look).toEqual([{ record }])
  expect(existsSync(inUse)).toBe(true)
  expect(placeOf('a text')).toEqual({ error: 'string', at: [] })
})

test('a full disk lets a kept match stand still', async () => {
  // Whatever is written to this device meets a full disk.
  const path = join(mkdtempSync(join(tmpdir(), 'full-')), 'one.jsonl')
  symlinkSync('/dev/full', path)
  const kept = new KeptMatch(path, { folder: tmpdir() }, { lines: 1, bytes: 0 })
  const clock = new HandClock()
  const match = beginMatch(steppingStones, { seed: 'fair-1', record: kept.write })
  const hosted = new HostedMatch('one', match, usualHosting, { clock, whenSafe: kept.whenSafe })
  kept.keep(hosted)
  expect(hosted.seatLimits).toEqual(steppingStones.plan.seatLimits)
  hosted.run(() => match.direct('roster.join', { seat: 'otter', name: 'Otter' }))
  let isSent = false
  hosted.whenSafe(() => {
    isSent = true
  })
  while (!hosted.isPaused) await new Promise((soon) => setTimeout(soon, 5))
  expect(isSent).toBe(false)
})

test('while the last lines of a match that closes become safe, its bots and its empty seats are no longer looked at', async () => {
  const { clock } = await logged({ records: mkdtempSync(join(tmpdir(), 'closing-')), bots: { after: 0 } })
  const hosted = venue.begin('two', reedRegatta, { seed: 'fair-1', filled: true, emptyFor: 60_000 })
  const ended = new Promise((resolve) => hosted.ends.add(resolve))
  const beats: number[] = []
  hosted.every(1000, () => beats.push(hosted.summary.time))
  clock.pass(2500)
  hosted.close()
  expect(() => clock.pass(120_000)).not.toThrow() // a timer that throws ends the process, with all its matches
  expect([await ended, beats, venue.matches.length]).toEqual(['match-ended', [1000, 2000], 1])
})

test('what fails inside is logged by its place and told without its words; what the asker can fix is not logged', async () => {
  const { lines, ask, hosted } = await logged()
  expect((await ask('matches/none')).status).toBe(404)
  expect((await ask('matches?free=perhaps')).status).toBe(400)
  expect(lines).toEqual([])
  vi.spyOn(hosted, 'summary', 'get').mockImplementation(() => {
    throw new RangeError('the heron hides the lamp')
  })
  const { status, text } = await ask('matches/one')
  expect([status, JSON.parse(text).code]).toEqual([500, 'internal-error'])
  expect(lines).toEqual([['HTTP failed', { error: 'RangeError', at: expect.any(Array) }]])
  expect(text + JSON.stringify(lines)).not.toContain('lamp')
})

test('the page is served for every path that is none of a file; nothing but reading is', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'page-'))
  writeFileSync(join(folder, 'index.html'), 'the fair')
  writeFileSync(join(folder, 'page.js'), 'go()')
  const { ask } = await logged({ page: pathToFileURL(`${folder}/`) })
  const got = await Promise.all(['', 'some/where', 'page.js', 'none.js'].map((path) => ask(path)))
  expect(got).toEqual([
    { status: 200, text: 'the fair' },
    { status: 200, text: 'the fair' },
    { status: 200, text: 'go()' },
    { status: 404, text: '' },
  ])
  const posted = await ask('some/where', 'POST')
  expect([posted.status, JSON.parse(posted.text).code]).toEqual([404, 'nothing-here'])
  expect(JSON.parse((await ask('health')).text)).toEqual({ ok: true })
})

test('each match of one name has a record of its own, and an id of a seat stays taken after a crash', async () => {
  const records = mkdtempSync(join(tmpdir(), 'names-'))
  await logged({ records })
  for (const _ of [2, 3]) {
    venue.matches[0]?.close()
    while (venue.matches.length > 0) await new Promise((soon) => setImmediate(soon))
    venue.begin('one', reedRegatta, { seed: 'fair-1' })
  }
  const snapshot = join(records, 'reed-regatta-one.3.snapshot.json')
  while (!existsSync(snapshot)) await new Promise((soon) => setImmediate(soon))
  const early = readFileSync(snapshot)
  const sit = async () => {
    const client = new SocketClient(venue.port)
    const { result } = await client.ask('join', { name: 'Otter' })
    return { client, seat: result.seat }
  }
  const first = await sit()
  await first.client.act('roster.leave')
  await venue.suspend()
  writeFileSync(snapshot, early) // as a crash leaves it: all that came later is in the lines alone
  expect(readdirSync(records).filter((name) => name.endsWith('.jsonl'))).toEqual(
    ['.2', '.3', ''].map((n) => `reed-regatta-one${n}.jsonl`),
  )
  const lines: unknown[][] = []
  const info = (fields: unknown, text?: unknown) => void lines.push([text, fields])
  venue = await openVenue({ records, rulebooks: [reedRegatta], log: { info, warn() {}, error() {} } as Log })
  expect(lines).toContainEqual(['match restored', { match: 'one', mode: 'reed-regatta', time: 0 }])
  expect([first.seat, (await sit()).seat]).toEqual(['otter', 'otter-2'])
})
