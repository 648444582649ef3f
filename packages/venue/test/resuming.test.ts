import { connect } from 'node:net'
import { createInterface } from 'node:readline'
import { reedRegatta, steppingStones } from '@zinc-referee/examples'
import { openVenue, type Venue } from '@zinc-referee/venue'
import { afterEach, beforeEach, expect, test } from 'vitest'
import {
  beginAnyMatch,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  perSeat,
  seatRef,
  text,
} from 'zinc-referee'
import { applyPatch, replacementsOf } from 'zinc-referee/replica'
import { inPhase } from 'zinc-referee/rules'
import { usualHosting } from '../src/matches/hosting.ts'
import { HostedMatch } from '../src/matches/index.ts'
import { type Pace, Trail } from '../src/wire/trail.ts'
import { HandClock } from './hand-clock.ts'
import { SocketClient } from './socket-client.ts'

let venue: Venue
let clock: HandClock
beforeEach(async () => {
  clock = new HandClock()
  venue = await openVenue({ clock, tcp: 0 })
  venue.begin('one', reedRegatta, { seed: 'fair-1', settings: { phases: { countdown: 30 } } })
})
afterEach(() => venue.close())
const hosted = () => venue.matches[0]!
const found = (crates: number) =>
  hosted().run((match) => match.report('raft.found', { seat: 'otter', crates }))

/** The view that a client has made of the messages it was sent. */
const shown = (view: any, messages: readonly any[]): any =>
  messages.reduce((now, { method, params }) => {
    if (method !== 'view') return now
    const { view = applyPatch(now, params.patch ?? []), latest = {} } = params
    return applyPatch(view, replacementsOf(latest))
  }, view)
const told = (client: SocketClient) =>
  client.texts.map((text) => JSON.parse(text)).filter(({ method }) => method)

async function seated() {
  const [otter, heron] = [new SocketClient(venue.port), new SocketClient(venue.port)]
  const { result } = await otter.ask('join', { name: 'Otter' })
  await heron.ask('join', { name: 'Heron' })
  for (const each of [otter, heron]) await each.act('roster.ready')
  clock.pass(1000)
  found(2)
  await otter.until(({ params }) => params?.name === 'raft.found')
  return { otter, heron, result }
}

test('a client that comes back with the last number it has seen gets what it missed, and no more', async () => {
  const { otter, heron, result } = await seated()
  const before = told(otter)
  otter.leave()
  await heron.until(({ params }) => params?.name === 'roster.absent')
  found(3)
  await new Promise((soon) => setImmediate(soon))
  clock.pass(5)
  const again = new SocketClient(venue.port)
  const { epoch, player } = result
  const back = (await again.ask('join', { player, from: { epoch, n: before.at(-1).params.n } })).result
  expect(back).toMatchObject({ seat: 'otter', epoch })
  expect(back.view).toBeUndefined()
  const numbers = [...before, ...back.missed].map(({ params }: any) => params.n)
  expect(numbers).toEqual(numbers.map((_, at) => at + 1)) // none is missing, none comes twice
  expect(back.missed.some(({ params }: any) => params.name === 'raft.found')).toBe(true)
  found(4)
  await again.until(({ params }) => params?.name === 'raft.found')
  const view = shown(result.view, [...before, ...back.missed, ...told(again)])
  expect(view).toEqual(hosted().match.view('otter'))
})

test.each([
  ['another series', { epoch: 'another', n: 1 }],
  ['a number that was never sent', { n: 100_000 }],
  ['one that is too long ago', { n: 0 }],
])('a client that comes back with %s gets a whole view', async (_what, from) => {
  const { otter, result } = await seated()
  for (let each = 0; each < 70; each++) {
    found(each)
    clock.pass(1)
    await new Promise((soon) => setImmediate(soon))
  }
  otter.leave()
  const again = new SocketClient(venue.port)
  const { epoch, player } = result
  const back = (await again.ask('join', { player, from: { epoch, ...from } })).result
  expect(back.missed).toBeUndefined()
  expect(back.view).toEqual(hosted().match.view('otter'))
})

test('after half a minute nothing is kept for a seat that is away', async () => {
  const { otter, heron, result } = await seated()
  const { n } = told(otter).at(-1).params
  otter.leave()
  await heron.until(({ params }) => params?.name === 'roster.absent')
  expect(hosted().isViewed('otter')).toBe(true)
  clock.pass(31_000)
  expect(hosted().isViewed('otter')).toBe(false)
  const again = new SocketClient(venue.port)
  const { epoch, player } = result
  const back = (await again.ask('join', { player, from: { epoch, n } })).result
  expect([back.seat, back.missed, back.epoch === epoch]).toEqual(['otter', undefined, false])
  again.leave()
  await heron.until(({ params }) => params?.name === 'roster.absent')
  while (hosted().people.includes('otter')) await new Promise((soon) => setImmediate(soon))
  await venue.close()
  expect(clock.wakes.size).toBe(0) // nothing keeps the process from its end
})

test('a client that reads too slowly gets a whole view in place of the patches, and goes on from there', async () => {
  const match = beginAnyMatch(steppingStones, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
  const game = new HostedMatch('stones', match, usualHosting, { clock })
  const messages: any[] = []
  let pace: 'prompt' | 'behind' = 'prompt'
  const trail = new Trail(game, 'spectator', (ms, then) => clock.wakeAfter(ms, then), false)
  const receiver = {
    send: (text: string) => void messages.push(JSON.parse(text)),
    get pace() {
      return pace
    },
    heard() {},
  }
  const { view } = trail.open(receiver)
  const join = async (seat: string) => {
    game.run(() => match.direct('roster.join', { seat, name: seat }))
    await new Promise((soon) => setImmediate(soon))
  }
  await join('otter')
  const [seen] = [trail.n]
  pace = 'behind'
  await join('heron')
  clock.pass(1000)
  expect(messages.length).toBe(seen)
  expect(trail.resume({ epoch: trail.epoch, n: seen }, receiver)).toBeUndefined()
  pace = 'prompt'
  clock.pass(200)
  expect(messages.at(-1).params.view.roster.seats).toHaveProperty('heron')
  game.run(() => match.submit('otter', 'roster.ready', {}))
  await new Promise((soon) => setImmediate(soon))
  expect(messages.at(-1).params.patch).toBeDefined()
  expect(shown(JSON.parse(view), messages)).toEqual(match.view('spectator'))
  const sent = messages.length
  pace = 'behind'
  game.run(() => match.submit('otter', 'roster.unready', {}))
  await new Promise((soon) => setImmediate(soon))
  trail.leave(() => {})
  clock.pass(1000) // nobody is there to be caught up with
  const other = new Trail(game, 'heron', (ms, then) => clock.wakeAfter(ms, then), false)
  other.open(receiver)
  game.run(() => match.submit('otter', 'roster.ready', {}))
  await new Promise((soon) => setImmediate(soon))
  game.close()
  pace = 'prompt'
  clock.pass(1000) // nor is there anything to catch up with
  expect(messages.length).toBe(sent)
})

test('for a slow client, what may wait is merged and comes before the next patch; who wants patches alone gets those', async () => {
  const drift = defineRule({
    name: 'drift',
    state: {
      rafts: perSeat({ x: int(0).latest(1).seenBy(everyone), y: int(0).latest(1).seenBy(everyone) }),
      flags: perSeat({ up: flag(false).seenBy(everyone), note: text('').seenBy(everyone) }),
    },
    events: { far: { seat: seatRef().seenBy(everyone) } },
    facts: {
      moved: {
        input: { seat: seatRef(), x: int(), y: int() },
        when: inPhase('lobby'),
        handle(match, { seat, ...to }) {
          Object.assign(match.own.rafts.of(seat), to)
          if (to.x === 6) match.emit('far', { seat })
        },
      },
      flagged: {
        input: { seat: seatRef(), note: text('') },
        when: inPhase('lobby'),
        handle: (match, { seat, note }) => void Object.assign(match.own.flags.of(seat), { up: true, note }),
      },
    },
  })
  const match = beginAnyMatch(defineRulebook({ name: 'drift', seats: { min: 1, max: 2 }, rules: [drift] }), {
    seed: 'fair-1',
  })
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  const game = new HostedMatch('drift', match, usualHosting, { clock })
  const listen = (isPlain: boolean) => {
    const trail = new Trail(game, 'spectator', (ms, then) => clock.wakeAfter(ms, then), isPlain)
    const got: any[] = []
    const receiver = {
      send: (text: string) => void got.push(JSON.parse(text)),
      pace: 'prompt' as Pace,
      heard() {},
    }
    return { trail, got, receiver, opening: JSON.parse(trail.open(receiver).view) }
  }
  const [quick, slow, plain] = [listen(false), listen(false), listen(true)]
  const drifts = async (fact: string, input: object) => {
    clock.pass(10)
    game.run(() => match.report(fact, input))
    await new Promise((soon) => setImmediate(soon))
  }
  slow.receiver.pace = 'slow'
  await drifts('drift.moved', { seat: 'otter', x: 1, y: 1 })
  await drifts('drift.moved', { seat: 'otter', x: 2, y: 1 })
  await drifts('drift.moved', { seat: 'heron', x: 0, y: 7 })
  expect([quick.got.length, slow.got.length, plain.got.length]).toEqual([3, 0, 3])
  await drifts('drift.flagged', { seat: 'otter' })
  expect(slow.got.map(({ params }) => [params.n, params.latest, params.patch?.length])).toEqual([
    [1, { drift: { rafts: { otter: { x: 2, y: 1 }, heron: { y: 7 } } } }, undefined],
    [2, undefined, 1],
  ])
  await drifts('drift.moved', { seat: 'otter', x: 3, y: 1 })
  slow.receiver.pace = 'prompt'
  clock.pass(200)
  expect(slow.got).toHaveLength(3)
  slow.receiver.pace = 'slow'
  await drifts('drift.moved', { seat: 'otter', x: 5, y: 1 })
  slow.receiver.pace = 'prompt'
  clock.pass(200)
  expect(slow.got).toHaveLength(4)
  // What comes with a notice or a patch does not wait.
  slow.receiver.pace = 'slow'
  await drifts('drift.moved', { seat: 'otter', x: 6, y: 1 })
  expect(slow.got.at(-1)).toMatchObject({ method: 'notice', params: { name: 'drift.far' } })
  clock.pass(10)
  game.run(() => {
    match.report('drift.moved', { seat: 'otter', x: 7, y: 1 })
    match.report('drift.flagged', { seat: 'heron' })
  })
  await new Promise((soon) => setImmediate(soon))
  slow.receiver.pace = 'prompt'
  const views = plain.got.filter(({ method }) => method === 'view')
  expect(views.every(({ params }) => params.latest === undefined && params.patch.length > 0)).toBe(true)
  for (const { opening, got } of [quick, slow, plain])
    expect(shown(opening, got)).toEqual(match.view('spectator'))
  // Sixty-four messages are kept, or 32 KiB of them.
  for (let n = 0; n < 40; n++) await drifts('drift.moved', { seat: 'otter', x: n % 2, y: 1 })
  const last = (of: typeof quick, back: number) => ({ epoch: of.trail.epoch, n: of.trail.n - back })
  for (let n = 40; n < 90; n++) await drifts('drift.moved', { seat: 'otter', x: n % 2, y: 1 })
  expect(quick.trail.resume(last(quick, 64), quick.receiver)).toHaveLength(64)
  expect(quick.trail.resume(last(quick, 65), quick.receiver)).toBeUndefined()
  for (const note of ['a', 'b']) await drifts('drift.flagged', { seat: 'otter', note: note.repeat(20_000) })
  expect(quick.trail.resume(last(quick, 1), quick.receiver)).toHaveLength(1)
  expect(quick.trail.resume(last(quick, 2), quick.receiver)).toBeUndefined()
  slow.receiver.pace = 'slow'
  await drifts('drift.moved', { seat: 'otter', x: 4, y: 1 })
  slow.trail.leave(() => {})
  expect(slow.trail.resume({ epoch: slow.trail.epoch, n: slow.trail.n - 1 }, slow.receiver)).toEqual([
    expect.stringContaining('"latest":{"drift":{"rafts":{"otter":{"x":4}}}}'),
  ])
})

test('the same messages go over TCP, a line each; a line that is too long ends it, with the reason', async () => {
  const socket = connect(venue.tcpPort ?? 0, '127.0.0.1')
  const lines: any[] = []
  createInterface({ input: socket }).on('line', (line) => lines.push(JSON.parse(line)))
  const until = async (wanted: (line: any) => boolean) => {
    while (!lines.some(wanted)) await new Promise((soon) => setTimeout(soon, 5))
    return lines.find(wanted)
  }
  const ask = (method: string, params: object, id: number) =>
    socket.write(`${JSON.stringify({ jsonrpc: '2.0', id, method, params })}\r\n`)
  ask('join', { name: 'Otter' }, 1)
  ask('act', { action: 'roster.ready' }, 2)
  expect((await until(({ id }) => id === 1)).result.seat).toBe('otter')
  expect((await until(({ id }) => id === 2)).result).toEqual({ ok: true })
  expect((await until(({ method }) => method === 'view')).params.n).toBe(1)
  socket.write('{"jsonrpc":')
  socket.write('"2.0","id":3,"method":"ping"}\n\nnonsense\n')
  expect((await until(({ id }) => id === 3)).result.at).toBe(0)
  expect((await until(({ error }) => error)).error.data.problem).toBe('parse-error')
  socket.write(`${'x'.repeat(65_536)}\n`) // as long as may be
  socket.write('x'.repeat(100_000))
  expect((await until(({ method }) => method === 'closed')).params).toEqual({
    code: 1009,
    why: 'this line is too long',
  })
  expect(lines.filter(({ error }) => error)).toHaveLength(2) // an empty line is nothing
})

test('lines of HTTP, as a page can make a browser send them, end a TCP connection before anything is done', async () => {
  const socket = connect(venue.tcpPort ?? 0, '127.0.0.1')
  const join = JSON.stringify({ jsonrpc: '2.0', id: 1, method: 'join', params: { name: 'Otter' } })
  let heard = ''
  socket.on('data', (bytes) => (heard += bytes))
  socket.write(`POST / HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n${join}\n`)
  await new Promise((closed) => socket.once('close', closed))
  expect(JSON.parse(heard).params.why).toBe('this port takes JSON-RPC alone')
  expect(hosted().match.allSeats).toEqual([])
})
