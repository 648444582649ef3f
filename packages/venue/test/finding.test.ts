import { kettleWatch, reedRegatta, steppingStones } from '@zinc-referee/examples'
import { openVenue, type Venue } from '@zinc-referee/venue'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { HandClock } from './hand-clock.ts'
import { SocketClient } from './socket-client.ts'

let venue: Venue
let clock: HandClock
beforeEach(async () => {
  clock = new HandClock()
  venue = await openVenue({
    clock,
    rulebooks: [reedRegatta, steppingStones, kettleWatch],
    bots: { after: 4000 },
  })
})
afterEach(() => venue.close())

const client = () => new SocketClient(venue.port)
const join = async (params: object) => {
  const each = client()
  const { result, error } = await each.ask('join', params)
  return { client: each, result, problem: error?.data.problem }
}
const http = async (path: string, method = 'GET', body?: object) => {
  const answer = await fetch(new URL(path, venue.url), {
    method,
    ...(body && { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
  })
  const text = await answer.text()
  return { status: answer.status, type: answer.headers.get('content-type'), body: text && JSON.parse(text) }
}

test('two who look for a mode at the same time meet; a third begins another match; its code is short', async () => {
  const [otter, heron] = await Promise.all(
    ['Otter', 'Heron'].map((name) => join({ mode: 'stepping-stones', name })),
  )
  expect(otter?.result.match).toBe(heron?.result.match)
  expect(otter?.result).toMatchObject({
    mode: 'stepping-stones',
    match: expect.stringMatching(/^[a-z2-9]{6}$/),
  })
  const vole = await join({ mode: 'stepping-stones', name: 'Vole' })
  expect(vole.result.match).not.toBe(otter?.result.match)
  expect((await join({ match: otter?.result.match, name: 'Newt' })).problem).toBe('join-refused')
  expect((await join({ name: 'Newt' })).result.match).toBe(vole.result.match) // wherever there is room
  const full = venue.begin('late', kettleWatch, { settings: { roster: { lateJoin: 'refuse' } } })
  for (const name of ['moth', 'toad', 'coot'])
    full.run((match) => match.direct('roster.join', { seat: name, name }))
  full.run((match) => match.direct('phases.start', {}))
  clock.pass(10_000)
  expect(full.summary).toMatchObject({ phase: 'live', seats: { taken: 3 } })
  expect((await join({ mode: 'kettle-watch', name: 'Newt' })).result.match).not.toBe('late')
  expect((await join({ mode: 'no-such' })).problem).toBe('unknown-mode')
  await heron?.client.ask('leave', {})
  const watching = await join({ mode: 'stepping-stones', watch: 'spectator' }) // where most people sit
  expect(watching.result).toMatchObject({ seat: null, match: vole.result.match })
})

test('the first seat leads a match: it starts, sets and kicks; when it leaves, the next one does', async () => {
  const otter = await join({ mode: 'kettle-watch', name: 'Otter' })
  const heron = await join({ mode: 'kettle-watch', name: 'Heron' })
  const vole = await join({ mode: 'kettle-watch', name: 'Vole' })
  const direct = async (
    { client: each }: { client: SocketClient },
    directive: string,
    input: object = {},
  ) => {
    const { result, error } = await each.ask('direct', { directive, input })
    return error?.data.problem ?? result
  }
  const length = { rule: 'rounds', settings: { length: 60_000 } }
  expect(await direct(heron, 'match.set', length)).toBe('not-your-role')
  expect(await direct(otter, 'match.set', length)).toEqual({ ok: true })
  expect(await direct(otter, 'verdict.judge', {})).toBe('not-your-role') // that is for a referee
  expect((await http(`/matches/${otter.result.match}`)).body.organiser).toBe('otter')
  await otter.client.ask('leave', {})
  expect(await direct(otter, 'phases.start')).toBe('not-joined')
  expect(await direct(heron, 'roster.kick', { seat: 'vole', why: 'rude' })).toEqual({ ok: true })
  expect(await vole.client.closed).toBe('sent off: rude')
  expect((await http(`/matches/${otter.result.match}`)).body).toMatchObject({
    organiser: 'heron',
    seats: { taken: 1 },
  })
})

test('bots come when nobody else has for a while, and play; a match that everybody has left is closed', async () => {
  const idle = clock.wakes.size
  const otter = await join({ mode: 'kettle-watch', name: 'Otter' })
  const { match } = otter.result
  clock.pass(3500)
  expect((await http('/matches')).body).toMatchObject([{ id: match, seats: { taken: 1, bots: 0 } }])
  clock.pass(500)
  const hosted = venue.matches[0]
  const { bots, free } = hosted?.summary.seats ?? {}
  expect(bots).toBe((hosted?.match.describe().seats.min ?? 0) - 1)
  const { players } = (await http(`/matches/${match}`)).body
  expect(players.flatMap(({ bot, seat, name }: any) => (bot ? `${seat} ${name}` : []))).toEqual(
    ['bot-reed Reed', 'bot-sedge Sedge', 'bot-alder Alder'].slice(0, bots),
  )
  expect(free).toBe((hosted?.seatLimits.max ?? 0) - 1) // a player takes a bot's seat
  await otter.client.act('roster.ready')
  clock.pass(30_000)
  expect(hosted?.summary.phase).toBe('live')
  expect(hosted?.match.faults).toEqual([])
  otter.client.leave()
  while (hosted?.people.length !== 0) await new Promise((soon) => setImmediate(soon))
  clock.pass(55_000)
  expect(venue.matches.length).toBe(1)
  clock.pass(5000) // to the ms
  expect(venue.matches.length).toBe(0)
  expect(clock.wakes.size).toBe(idle) // nothing of it goes on
  // They say nothing of the world: what only facts bring about does not happen.
  const wren = await join({ mode: 'reed-regatta', name: 'Wren' })
  clock.pass(5000)
  await wren.client.act('roster.ready')
  clock.pass(20_000)
  const rafts: object = venue.matches[0]?.match.view('spectator')['vitals']?.['body'] ?? {}
  expect(Object.values(rafts).map(({ health }) => health)).toEqual([100, 100])
  wren.client.leave()
})

test('matches are begun, looked at, listed and ended over HTTP; what is wrong is a problem document', async () => {
  const begun = await http('/matches', 'POST', {
    mode: 'reed-regatta',
    id: 'noon',
    seed: 'fair-1',
    listed: false,
  })
  expect(begun).toMatchObject({ status: 201, body: { id: 'noon', mode: 'reed-regatta', phase: 'lobby' } })
  clock.pass(5000) // bots come to players, not to nobody
  await join({ match: 'noon', name: 'Otter' })
  expect((await http('/matches/noon')).body).toMatchObject({
    seats: { taken: 1, bots: 0 },
    players: [{ seat: 'otter', name: 'Otter', presence: 'here', bot: false }],
    faults: 0,
  })
  const problems = [
    await http('/matches', 'POST', { mode: 'no-such' }),
    await http('/matches', 'POST', { mode: 'reed-regatta', id: 'noon' }),
    await http('/matches', 'POST', { mode: 'reed-regatta', colour: 'red' }),
    await http('/matches', 'POST', { mode: 'reed-regatta', settings: { rounds: { count: -1 } } }),
    await http('/matches/../../etc/passwd'),
    await http('/matches/none', 'DELETE'),
  ]
  expect(problems.map(({ status, body }) => [status, body.code])).toEqual([
    [404, 'ZR_VENUE_UNKNOWN_MODE'],
    [409, 'ZR_VENUE_MATCH_TWICE'],
    [400, 'bad-request'],
    [400, 'ZR_SETTING_INVALID'],
    [404, 'nothing-here'],
    [404, 'unknown-match'],
  ])
  for (const { type } of problems) expect(type).toContain('application/problem+json')
  expect((await http('/matches?free=true&mode=stepping-stones')).body).toEqual([])
  // What is not listed is entered by its id alone.
  expect((await join({ name: 'Heron' })).problem).toBe('unknown-match')
  expect((await join({ watch: 'spectator' })).problem).toBe('unknown-match')
  expect((await http('/matches/noon', 'DELETE')).status).toBe(204)
  expect((await http('/matches')).body).toEqual([])
})

test('an open venue answers nobody who reached it by another name, since any page can have one', async () => {
  const { request } = await import('node:http')
  const status = await new Promise((answered) =>
    request({ port: venue.port, path: '/matches', headers: { host: 'fair.example' } }, ({ statusCode }) =>
      answered(statusCode),
    ).end(),
  )
  expect(status).toBe(403)
})

test('those who watch one match, and the joins of one address, are limited', async () => {
  const reopened = async (limits: object) => {
    await venue.close()
    venue = await openVenue({ limits })
    venue.begin('one', reedRegatta, { seed: 'fair-1' })
  }
  const watch = async () => join({ watch: 'spectator' })
  await reopened({ watchers: 1 })
  const first = await watch()
  expect([first.problem, (await watch()).problem]).toEqual([undefined, 'too-many-watchers'])
  first.client.leave()
  await expect.poll(async () => (await watch()).problem, { timeout: 60_000 }).toBeUndefined()
  await reopened({ joins: { burst: 2, perSecond: 0.001 } })
  const problems = [await watch(), await watch(), await watch()].map(({ problem }) => problem)
  expect(problems).toEqual([undefined, undefined, 'too-fast'])
})
