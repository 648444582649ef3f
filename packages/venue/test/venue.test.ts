import { reedRegatta, steppingStones } from '@zinc-referee/examples'
import { openVenue, type Venue } from '@zinc-referee/venue'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { defineRule, defineRulebook, everyone, int } from 'zinc-referee'
import { inPhase } from 'zinc-referee/rules'
import { HandClock } from './hand-clock.ts'
import { regattaVenue } from './regatta-venue.ts'
import { SocketClient, twoClients } from './socket-client.ts'

let venue: Venue
beforeEach(async () => {
  ;({ venue } = await regattaVenue())
})
afterEach(() => venue.close())

class Client extends SocketClient {
  constructor(port = venue.port) {
    super(port)
  }
}
const hosted = () => venue.matches[0]!
const report = (fact: string, input: object) => hosted().run((match) => match.report(fact, input))

const two = () => twoClients(venue.port)

test('two clients join, get ready, and live play begins by itself: the venue wakes when a timer is due', async () => {
  const { otter, heron, joined } = await two()
  expect(joined).toMatchObject({
    seat: 'otter',
    match: 'one',
    view: { roster: { seats: { otter: { name: 'Otter' } } } },
  })
  expect(await otter.act('raft.chase', { quarry: 'heron' })).toEqual({ ok: true })
  expect(await heron.act('raft.chase', { quarry: 'heron' })).toMatchObject({ ok: false, code: 'own-raft' })
  report('raft.rammed', { target: 'heron', by: 'otter' })
  await heron.until(({ method, params }) => method === 'notice' && params.name === 'raft.rammed')
  const at = heron.texts.findIndex((text) => text.includes('"/vitals/body/heron/health","value":75'))
  expect(at).toBeGreaterThan(-1)
  expect(
    heron.texts.findIndex((text) => text.includes('"notice"') && text.includes('raft.rammed')),
  ).toBeGreaterThan(at) // first the patch, then its notices
})

test('what one seat carries is in no byte that another’s socket received', async () => {
  const { otter, heron } = await two()
  const spectator = new Client()
  await spectator.ask('join', { watch: 'spectator' })
  report('raft.found', { seat: 'otter', crates: 7_919_041 })
  report('raft.rammed', { target: 'heron', by: 'otter' })
  for (const each of [heron, spectator]) await each.until(({ params }) => params?.name === 'raft.rammed')
  await otter.until(({ params }) => params?.name === 'raft.found')
  expect(otter.texts.join()).toContain('7919041')
  for (const other of [heron, spectator]) expect(other.texts.join()).not.toContain('7919041')
})

test.each([
  ['broken JSON', '{"jsonrpc":', -32700, 'parse-error'],
  ['no request', '[1,2]', -32600, 'invalid-request'],
  ['an unknown method', '{"jsonrpc":"2.0","id":1,"method":"fly"}', -32601, 'unknown-method'],
  [
    'params that do not fit',
    '{"jsonrpc":"2.0","id":1,"method":"act","params":{"action":3}}',
    -32602,
    'invalid-params',
  ],
  [
    'an act before the join',
    '{"jsonrpc":"2.0","id":1,"method":"act","params":{"action":"roster.ready"}}',
    -32001,
    'not-joined',
  ],
  [
    'a match that is not there',
    '{"jsonrpc":"2.0","id":1,"method":"join","params":{"match":"two"}}',
    -32000,
    'unknown-match',
  ],
  [
    'a view of another seat',
    '{"jsonrpc":"2.0","id":1,"method":"join","params":{"watch":"otter"}}',
    -32004,
    'no-such-view',
  ],
  [
    'a name that cannot be',
    '{"jsonrpc":"2.0","id":1,"method":"join","params":{"name":"  "}}',
    -32003,
    'join-refused',
  ],
])('%s gets its error with a fix, and changes nothing', async (_what, text, code, problem) => {
  const before = hosted().match.hash()
  const client = new Client()
  const { id, error } = await client.raw(text)
  expect(id).toBe(text.includes('"id":1') ? 1 : null)
  if (problem === 'unknown-match') expect(error.data.match).toBe('two')
  expect(error).toMatchObject({ code, data: { problem } })
  expect(error.data.issues).toEqual(
    problem === 'invalid-params' ? [expect.stringMatching(/^action: \w/)] : undefined,
  )
  expect(error.message.length).toBeGreaterThan(10)
  expect(hosted().match.hash()).toBe(before)
  expect((await client.ask('join', { name: 'Otter' })).result.seat).toBe('otter') // the connection goes on
})

test('a spectator may not act, nobody looks through a seat’s eyes, and a second join is refused', async () => {
  const [otter, watcher, peeper] = [new Client(), new Client(), new Client()]
  await otter.ask('join', { name: 'Otter' })
  await watcher.ask('join', { watch: 'spectator' })
  expect((await watcher.ask('act', { action: 'roster.ready' })).error.data.problem).toBe('only-watching')
  expect((await watcher.ask('join', {})).error.data.problem).toBe('already-joined')
  expect((await peeper.ask('join', { watch: 'otter' })).error.data.problem).toBe('no-such-view')
  expect(hosted().isViewed('otter')).toBe(true)
})

test('a fault is told to the host, and nothing of its inside to any client', async () => {
  const [faults, seated]: unknown[][] = [[], []]
  const trap = defineRule({
    name: 'trap',
    events: { creaked: { n: int().seenBy(everyone) } },
    actions: {
      creak: { input: {}, when: inPhase('lobby'), decide: (match) => match.emit('creaked', { n: 1 }) },
      spring: {
        input: {},
        when: inPhase('lobby'),
        decide() {
          throw new Error('the heron hides the lamp')
        },
      },
    },
  })
  const own = await openVenue({
    onFault: (fault, match) => faults?.push([match, fault.handler, fault.error]),
    joined: ({ id }) => seated?.push(id),
  })
  own.begin('traps', defineRulebook({ name: 'traps', seats: { min: 1, max: 2 }, rules: [trap] }))
  const otter = new Client(own.port)
  await otter.ask('join', { name: 'Otter' })
  const ruling = await otter.act('trap.spring')
  expect(ruling).toMatchObject({ ok: false, code: 'fault' })
  await otter.act('trap.creak')
  await otter.until(({ params }) => params?.name === 'trap.creaked')
  expect(otter.texts.join()).not.toContain('"patch":[]')
  expect(faults).toEqual([['traps', 'trap action spring', new Error('the heron hides the lamp')]])
  expect(otter.texts.join()).not.toContain('heron')
  expect(seated).toEqual(['traps'])
  expect(await (await fetch(`${own.url}matches/traps`)).json()).toMatchObject({ faults: 1 })
  await own.close()
})

test('who is sent off is told why, in the lobby too, and its connection ends', async () => {
  const [otter, again] = [new Client(), new Client()]
  const { player } = (await otter.ask('join', { name: 'Otter' })).result
  // A reason for closing has 123 bytes at most.
  hosted().run((match) => match.direct('roster.kick', { seat: 'otter', why: '獭'.repeat(60) }))
  expect(await otter.closed).toBe(`sent off: ${'獭'.repeat(30)}`)
  expect(otter.texts.join()).toContain('roster.kicked')
  expect((await again.ask('join', { name: 'Heron', player })).error.data.code).toBe('barred')
})

test('a match that its host ends is told to its clients, once and after all that happened; its id is free', async () => {
  const [otter, watcher] = [new Client(), new Client()]
  await otter.ask('join', { name: 'Otter' })
  await watcher.ask('join', { watch: 'spectator' })
  const ended = hosted()
  ended.run((match) => match.direct('roster.join', { seat: 'vole', name: 'Vole' }))
  for (let times = 0; times < 2; times++) ended.close()
  expect(await Promise.all([otter.closed, watcher.closed])).toEqual([
    'the match has ended',
    'the match has ended',
  ])
  expect(otter.texts.map((text) => text.includes('match-ended')).indexOf(true)).toBe(otter.texts.length - 1)
  expect(otter.texts.join()).toContain('/roster/seats/vole')
  expect(venue.matches).toEqual([])
  venue.begin('one', reedRegatta, { seed: 'fair-2' })
  const heron = new Client()
  expect((await heron.ask('join', { name: 'Heron' })).result).toMatchObject({ match: 'one', seat: 'heron' })
})

test('who comes when somebody of the same name has left gets an id that nobody had', async () => {
  const [first, second] = [new Client(), new Client()]
  expect((await first.ask('join', { name: 'Otter' })).result.seat).toBe('otter')
  await first.act('roster.leave')
  expect((await second.ask('join', { name: 'Otter' })).result.seat).toBe('otter-2')
})

test('with whenFull: watch, who finds no free seat watches, and is known to the match', async () => {
  const settings = { phases: { countdown: 0 }, roster: { whenFull: 'watch' } }
  const stones = venue.begin('full', steppingStones, { seed: 'fair-1', settings })
  for (const name of ['Otter', 'Heron', 'Toad']) {
    const { result } = await new Client().ask('join', { match: 'full', name })
    expect(result.seat).toBe(name === 'Toad' ? null : name.toLowerCase())
  }
  expect(Object.values<any>(stones.match.view('spectator')['roster']?.['watchers'] ?? {})).toEqual([
    { name: 'Toad' },
  ])
})

test('options are asked for over the socket; what was meant for an earlier turn is stale', async () => {
  const stones = venue.begin('stones', steppingStones, {
    seed: 'fair-1',
    settings: { phases: { countdown: 0 } },
  })
  const [otter, heron] = [new Client(), new Client()]
  for (const [client, name] of [
    [otter, 'Otter'],
    [heron, 'Heron'],
  ] as const)
    await client.ask('join', { match: 'stones', name })
  for (const client of [otter, heron]) await client.act('roster.ready')
  const options = async (client: Client) => (await client.ask('options', { action: 'stones.lay' })).result
  const { turn } = Object(stones.match.view('spectator')['turns']).now
  const [first, second] = await options(otter)
  expect(await options(heron)).toEqual([])
  expect(await otter.act('stones.lay', first, { turn })).toEqual({ ok: true })
  expect(await otter.act('stones.lay', second, { turn })).toMatchObject({ code: 'stale-turn' })
  expect(await options(otter)).toEqual([])
  const watcher = new Client()
  expect((await watcher.ask('options', { action: 'stones.lay' })).error.data.problem).toBe('not-joined')
  await watcher.ask('join', { match: 'stones', watch: 'spectator' })
  expect((await watcher.ask('options', { action: 'stones.lay' })).error.data.problem).toBe('only-watching')
  expect((await otter.ask('options', { action: 7 })).error.data.problem).toBe('invalid-params')
})

test('spectators see it late, whenever they come; seats do not; the rest comes when the match is closed', async () => {
  const options = { seed: 'fair-1', settings: { phases: { countdown: 0 } }, spectatorDelay: 300 }
  await venue.close()
  const clock = new HandClock()
  venue = await openVenue({ clock })
  const late = venue.begin('late', steppingStones, options)
  const [otter, heron, early] = [new Client(), new Client(), new Client()]
  await early.ask('join', { match: 'late', watch: 'spectator' })
  for (const [client, name] of [
    [otter, 'Otter'],
    [heron, 'Heron'],
  ] as const)
    await client.ask('join', { match: 'late', name })
  clock.pass(100)
  for (const client of [otter, heron]) await client.act('roster.ready')
  clock.pass(1)
  expect(await otter.act('stones.lay', { x: 1, y: 0 })).toEqual({ ok: true })
  await heron.until(({ params }) => JSON.stringify(params)?.includes('/holder'))
  expect(early.texts.join()).not.toContain('otter')
  clock.pass(298)
  await early.until(({ params }) => JSON.stringify(params)?.includes('otter'))
  expect(early.texts.join()).not.toContain('/holder')
  clock.pass(2)
  await early.until(({ params }) => JSON.stringify(params)?.includes('/holder'))
  await heron.act('stones.lay', { x: 3, y: 0 })
  const other = new Client()
  const { result } = await other.ask('join', { match: 'late', watch: 'spectator' })
  const held = Object.values<any>(result.view.pond.cells).map(({ holder }) => holder)
  expect([held.includes('otter'), held.includes('heron')]).toEqual([true, false])
  expect(result.at).toBeLessThanOrEqual(late.now() - 300)
  await venue.close()
  await other.until(({ params }) => JSON.stringify(params)?.includes('"heron"'))
})

test('an action sent twice with one id is done once', async () => {
  const { otter } = await two()
  const first = await otter.act('raft.search', {}, { id: 'a1' })
  expect(await otter.act('raft.search', {}, { id: 'a1' })).toEqual(first)
  expect(await otter.act('raft.dock', {}, { id: 'a1' })).toMatchObject({ code: 'id-reused' })
  expect(await otter.act('raft.dock', {}, { life: 9 })).toMatchObject({ code: 'stale-life' })
})

test('a lost connection leaves the seat away; its player comes back to it, and takes it from an older window', async () => {
  const { otter, heron, joined } = await two()
  otter.leave()
  await heron.until(({ params }) => params?.name === 'roster.absent')
  const again = new Client()
  expect((await again.ask('join', { name: 'Other', player: joined.player })).result).toMatchObject({
    seat: 'otter',
    view: { roster: { seats: { otter: { presence: 'here', name: 'Otter' } } } },
  })
  const newer = new Client()
  await newer.ask('join', { player: joined.player })
  expect(await again.closed).toContain('another window')
  expect(await newer.act('raft.search')).toEqual({ ok: true })
  expect(hosted().match.state['roster']).toBeDefined()
  expect(JSON.stringify(hosted().match.view('heron'))).not.toContain(joined.player)
})

test('players may have names of several words, in any script, or none but signs', async () => {
  const names = ['Анна Петровна', '小 獭', 'عصفور النهر', 'Ñandú d’Or', '🦦🦦', '<b>"Otter"</b>']
  const sat = []
  for (const name of names) sat.push((await new Client().ask('join', { name })).result)
  expect(new Set(sat.map(({ seat }) => seat)).size).toBe(names.length)
  const last = sat.at(-1)
  expect(Object.values<any>(last.view.roster.seats).map(({ name }) => name)).toEqual(names)
  expect(sat.every(({ seat }) => /^[a-z0-9-]+$/.test(seat))).toBe(true)
})
