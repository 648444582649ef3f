import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { reedRegatta } from '@zinc-referee/examples'
import { type Log, openVenue, type Venue, type VenueOptions } from '@zinc-referee/venue'
import { afterEach, expect, test, vi } from 'vitest'
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
  const { lines, clock, hosted } = await logged()
  hosted.run(() => clock.pass(1))
  expect(lines).toEqual([])
  hosted.run(() => clock.pass(5_000.4))
  expect(lines).toEqual([['slow call', { match: 'one', ms: 5000 }]])
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
  venue = await openVenue({ records, rulebooks: [reedRegatta] })
  expect([first.seat, (await sit()).seat]).toEqual(['otter', 'otter-2'])
})
