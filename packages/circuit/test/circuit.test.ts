import { readFileSync } from 'node:fs'
import { connect as connectNats } from '@nats-io/transport-node'
import type { Venue } from '@zinc-referee/venue'
import { SignJWT } from 'jose'
import { expect, test } from 'vitest'
// @ts-expect-error a script without types
import { startNats } from '../../../scripts/nats-servers.mjs'
import { SocketClient } from '../../venue/test/socket-client.ts'
import { tallyMode } from './simulation/tally-mode.ts'
import { counted, enter, newCircuit, oneServer, POLL, play, serverHost, venueOf } from './venues.ts'

oneServer()

test('who searches a mode in the same instant at different venues meets; all venues list and know the match', async () => {
  const circuit = newCircuit()
  const all = await Promise.all(['north', 'south', 'west'].map((name) => venueOf(circuit, name)))
  await expect.poll(() => all.map(({ link }) => link.state.venues.length), POLL).toEqual([3, 3, 3])
  const players = await Promise.all(
    ['Otter', 'Heron', 'Vole'].map((name, at) => enter(all[at]?.venue as Venue, { mode: 'tally', name })),
  )
  expect(new Set(players.map(({ id }) => id)).size).toBe(1)
  const [{ id } = { id: '' }] = players
  for (const { venue } of all) {
    const listed = await (await fetch(`${venue.url}matches`)).json()
    expect(listed.map((match: { id: string }) => match.id)).toEqual([id])
    const watcher = await enter(venue, { match: id, watch: 'spectator' })
    expect([watcher.id, watcher.seat]).toEqual([id, null])
    watcher.leave()
  }
  const again = (at: number) =>
    fetch(`${all[at]?.venue.url}matches`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ mode: 'tally', id }),
    })
  expect([(await again(0)).status, (await again(1)).status]).toEqual([409, 409])
  for (const player of players) player.leave()
})

test.each([
  ['clients go to where their match is', false],
  ['clients stay, and what they say is passed on', true],
])('a drained venue gives its matches away; %s', async (_, passesOn) => {
  const circuit = newCircuit()
  const north = await venueOf(circuit, 'north', { passesOn })
  const south = await venueOf(circuit, 'south', { passesOn })
  await expect.poll(() => north.link.state.venues.length, POLL).toBe(2)
  north.venue.begin('one', tallyMode, { settings: play })
  const otter = await enter(north.venue, { match: 'one', name: 'Otter' })
  const heron = await enter(south.venue, { match: 'one', name: 'Heron' })
  const vole = new SocketClient(south.venue.port)
  const joined = await vole.ask('join', { match: 'one', name: 'Vole' })
  expect(joined.error?.data.problem ?? joined.result.seat).toBe(passesOn ? 'vole' : 'elsewhere')
  expect(vole.texts.join('\n')).not.toContain('parse-error') // it said its join, and nothing before
  vole.leave()
  north.venue.matches[0]?.run((match) => match.direct('phases.start', {}))
  const acts: Promise<unknown>[] = []
  const act = () => acts.push(otter.act('tally.add'), heron.act('tally.add'))
  for (let n = 0; n < 20; n++) act()
  const draining = north.link.drain()
  for (let n = 0; n < 20; n++) act()
  expect(await draining).toBe(1)
  for (let n = 0; n < 20; n++) act()
  expect(await Promise.all(acts)).toEqual(acts.map(() => ({ ok: true })))
  await expect.poll(() => [counted(otter, 'otter'), counted(heron, 'heron')], POLL).toEqual([60, 60])
  expect(south.link.state.matches).toEqual(['one'])
  for (const client of [otter, heron]) client.leave()
})

test('game servers and tools report and direct by subjects; the venue that has the match answers once it is safe', async () => {
  const circuit = newCircuit()
  const [north] = await Promise.all(['north', 'south'].map((name) => venueOf(circuit, name)))
  north?.venue.begin('one two', tallyMode, { settings: play })
  await north?.said('circuit: match begun')
  const connection = await connectNats({ servers: serverHost() })
  const ask = async (kind: string, order: unknown) => {
    const text = typeof order === 'string' ? order : JSON.stringify(order)
    return (await connection.request(`${circuit}.do.one=20=two.${kind}`, text, { timeout: 60_000 })).json()
  }
  const join = { directive: 'roster.join', input: { seat: 'otter', name: 'Otter' }, by: 'lamp' }
  expect(await ask('direct', join)).toEqual({ rulings: [{ ok: true }] })
  expect(await ask('direct', { directive: 'phases.start' })).toEqual({ rulings: [{ ok: true }] })
  expect(await ask('report', { fact: 'tally.ring', inputs: [{}, {}] })).toEqual({
    rulings: [{ ok: true }, { ok: true }],
  })
  expect(await ask('report', { fact: 'tally.none' })).toMatchObject({ rulings: [{ ok: false }] })
  for (const order of ['{', '[]', { directive: 'phases.start' }, { fact: 7 }])
    expect(await ask('report', order)).toEqual({ problem: 'bad-request' })
  expect(north?.venue.matches[0]?.match.state).toMatchObject({ tally: { bell: { rung: 2 } } })
  const { venues } = await (await fetch(`${north?.venue.url}circuit`)).json()
  expect(venues.map(({ venue, matches }: any) => [venue, matches.map(({ match }: any) => match)])).toEqual([
    ['north', ['one two']],
    ['south', []],
  ])
  expect(venues[0].lately[0]).toMatchObject({ what: 'begun', match: 'one two', epoch: 1 })
  const page = await fetch(`${north?.venue.url}circuit`, { headers: { accept: 'text/html' } })
  expect([page.headers.get('content-type'), await page.text()]).toEqual([
    'text/html; charset=utf-8',
    expect.stringContaining('<h1>Circuit</h1>'),
  ])
  await connection.close()
})

test('with the accounts of the guide a game server reports, and may neither direct nor read', async () => {
  const example = readFileSync(
    new URL('../../../examples/operating/nats-server.conf', import.meta.url),
    'utf8',
  )
  const accounts = example
    .slice(example.indexOf('accounts {'))
    .replaceAll(/\$(\w+)_PASSWORD/g, (_, who) => who)
  const guarded = await startNats(1, accounts)
  const [url] = guarded.urls
  const servers = [url.replace('//', '//venue:VENUE@')]
  const { venue, said } = await venueOf('zinc', 'north', { servers })
  venue.begin('one', tallyMode, { settings: play })
  await said('circuit: match begun')
  venue.matches[0]?.run((match) => {
    match.direct('roster.join', { seat: 'otter', name: 'Otter' })
    match.direct('phases.start', {})
  })
  const host = new URL(url).host
  const connection = await connectNats({ servers: host, user: 'game-server', pass: 'GAME_SERVER' })
  const report = JSON.stringify({ fact: 'tally.ring' })
  const answer = await connection.request('zinc.do.one.report', report, { timeout: 60_000 })
  expect(answer.json()).toEqual({ rulings: [{ ok: true }] })
  const direct = JSON.stringify({ directive: 'phases.pause' })
  await expect(connection.request('zinc.do.one.direct', direct, { timeout: 60_000 })).rejects.toThrow(
    /[Pp]ermissions [Vv]iolation/,
  )
  for (const subject of ['zinc.match.>', 'zinc.feed.>', '$JS.API.>']) {
    const refused = new Promise((done) => {
      connection.subscribe(subject, { callback: (error) => done(error?.message) })
    })
    expect(await refused).toMatch(/[Pp]ermissions [Vv]iolation/)
  }
  expect(venue.matches[0]?.match.state).toMatchObject({
    tally: { bell: { rung: 1 } },
    phases: { now: { paused: false } },
  })
  await connection.close()
  await venue.close()
  await guarded.stop()
})

test('watchers of one match stay at their venues, which follow it by one feed; when it moves they go on', async () => {
  const circuit = newCircuit()
  const [north, south, west] = await Promise.all(
    ['north', 'south', 'west'].map((name) => venueOf(circuit, name, {}, { limits: { watchers: 4 } })),
  )
  if (north === undefined || south === undefined || west === undefined) throw new TypeError('no venues')
  await expect.poll(() => north.link.state.venues.length, POLL).toBe(3)
  north.venue.begin('one', tallyMode, { settings: play })
  const otter = await enter(north.venue, { match: 'one', name: 'Otter' })
  north.venue.matches[0]?.run((match) => match.direct('phases.start', {}))
  await otter.act('tally.add')
  const watchers = await Promise.all(
    [south, south, south, west].map(({ venue }) => enter(venue, { match: 'one', watch: 'spectator' })),
  )
  const connections = async ({ venue }: { readonly venue: Venue }) =>
    /^zinc_referee_connections (\d+)$/m.exec(await (await fetch(`${venue.url}metrics`)).text())?.[1]
  expect(await Promise.all([north, south, west].map(connections))).toEqual(['1', '3', '1'])
  const shown = (client: { readonly view: any }) => JSON.stringify(client.view)
  const same = () => new Set([otter, ...watchers].map(({ view }) => view.tally.counts.otter.all))
  for (let n = 2; n <= 10; n++) await otter.act('tally.add')
  await expect.poll(() => [...same()], POLL).toEqual([10])
  // Its own luck is hidden from all who watch.
  expect(watchers.map(({ view }) => view.tally.counts.otter.luck)).toEqual(watchers.map(() => undefined))
  await expect(watchers[0]?.act('tally.add')).rejects.toMatchObject({ cause: 'only-watching' })
  const plain = new SocketClient(south.venue.port)
  const join = { match: 'one', watch: 'spectator', latest: false }
  const joined = await plain.ask('join', join)
  expect(joined.result).toMatchObject({ seat: null, role: 'watcher', others: expect.any(Array) })
  expect(Object.keys((await plain.ask('ping', {})).result)).toContain('at')
  for (const [method, params, problem] of [
    ['join', join, 'already-joined'],
    ['report', { fact: 'tally.add' }, 'not-your-role'],
    ['direct', { directive: 'phases.pause' }, 'not-your-role'],
    ['options', { action: 'tally.add' }, 'only-watching'],
  ] as const)
    expect((await plain.ask(method, params)).error.data.problem).toBe(problem)
  await expect(enter(south.venue, { match: 'one', watch: 'spectator' })).rejects.toMatchObject({
    cause: 'too-many-watchers',
  })
  plain.leave()
  await expect.poll(() => connections(south), POLL).toBe('3')
  const late = await enter(south.venue, { match: 'one', watch: 'spectator' })
  expect(shown(late)).toBe(shown(watchers[0] as never))
  expect((await late.describe()).name).toBe('tally')
  expect(await north.link.drain()).toBe(1)
  await otter.act('tally.add')
  await expect.poll(() => [...same(), late.view.tally.counts.otter.all], POLL).toEqual([11, 11])
  ;[south, west].find(({ link }) => link.state.matches.includes('one'))?.venue.matches[0]?.close()
  await expect
    .poll(() => [otter, late, ...watchers].map(({ state }) => state), POLL)
    .toEqual(Array(6).fill('ended'))
})

test('the page of a circuit is for everybody, what it shows for operators, and the description says so', async () => {
  const secret = Buffer.from('a secret of the fair, of 32 bytes')
  const keys = [{ kty: 'oct', k: secret.toString('base64url'), kid: 'fair', alg: 'HS256' }]
  const { venue } = await venueOf(newCircuit(), 'north', {}, { admissions: { keys } })
  const token = await new SignJWT({ sub: 'Ms Sedge', role: 'operator' })
    .setProtectedHeader({ alg: 'HS256', kid: 'fair' })
    .setExpirationTime('1h')
    .sign(secret)
  const ask = async (headers: HeadersInit, path = 'circuit') => {
    const answer = await fetch(`${venue.url}${path}`, { headers })
    return [answer.status, `${answer.headers.get('content-type')} ${await answer.text()}`] as const
  }
  const dataOf = ([, text]: readonly [number, string]) => JSON.parse(text.slice(text.indexOf('{')))
  const none = await ask({ accept: 'application/json' })
  const shown = await ask({ authorization: `Bearer ${token}` })
  const page = await ask({ accept: 'text/html' })
  expect(page).toEqual([200, expect.stringMatching(/^text\/html; charset=utf-8 <!doctype html>/i)])
  expect(none).toEqual([401, expect.stringMatching(/^application\/problem\+json.*not-admitted/)])
  expect([shown[0], dataOf(shown).venues]).toMatchObject([200, [{ venue: 'north' }]])
  const { paths } = dataOf(await ask({}, 'openapi.json'))
  expect(paths['/circuit'].get).toMatchObject({
    summary: 'Look at all venues of the circuit',
    security: [{ admission: [] }],
    responses: { 200: { description: 'The venues' }, 401: { description: 'No admission of an operator' } },
  })
})
