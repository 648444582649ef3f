import { readdirSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { jetstreamManager } from '@nats-io/jetstream'
import { connect as connectNats } from '@nats-io/transport-node'
import { type CircuitOptions, openCircuit } from '@zinc-referee/circuit'
import { expect, test } from 'vitest'
import { replayRecord } from 'zinc-referee'
// @ts-expect-error a script without types
import { startNats } from '../../../scripts/nats-servers.mjs'
import { newerTallyMode, tallyMode } from './simulation/tally-mode.ts'
import { counted, enter, newCircuit, oneServer, POLL, play, serverHost, venueOf } from './venues.ts'

oneServer()

test('a match goes on at another venue from its stream, although its snapshot is damaged; ended, it becomes a file', async () => {
  const circuit = newCircuit()
  const north = await venueOf(circuit, 'north', { pace: { beatEvery: 60, snapshotEvery: 10 } })
  const south = await venueOf(circuit, 'south')
  await expect.poll(() => south.link.state.venues.length, POLL).toBe(2)
  north.venue.begin('one', tallyMode, { settings: play })
  const otter = await enter(north.venue, { match: 'one', name: 'Otter' })
  north.venue.matches[0]?.run((match) => match.direct('phases.start', {}))
  for (let n = 0; n < 30; n++) expect(await otter.act('tally.add')).toEqual({ ok: true })
  const connection = await connectNats({ servers: serverHost() })
  const { Objm } = await import('@nats-io/obj')
  const { jetstream } = await import('@nats-io/jetstream')
  const shelf = await new Objm(jetstream(connection)).open(`${circuit}-snapshots`)
  const kept = async () => (await shelf.list()).map(({ name }) => name)
  await expect.poll(kept, POLL).toEqual(['match.one'])
  await shelf.putBlob({ name: 'match.one' }, new TextEncoder().encode('{"after":7,"ba'))
  await north.venue.suspend()
  await expect.poll(() => south.link.state.matches, POLL).toEqual(['one'])
  expect(await otter.act('tally.add')).toEqual({ ok: true })
  await expect.poll(() => counted(otter, 'otter'), POLL).toBe(31)
  south.venue.matches[0]?.close()
  await expect.poll(() => readdirSync(south.records), POLL).toEqual(['tally-one.jsonl'])
  const record = readFileSync(join(south.records, 'tally-one.jsonl'), 'utf8')
  expect(replayRecord(tallyMode, record).differs).toBeUndefined()
  const manager = await jetstreamManager(connection)
  await expect
    .poll(async () => (await manager.streams.info(`${circuit}-matches`)).state.messages, POLL)
    .toBe(0)
  await connection.close()
  otter.leave()
})

test('while nothing can be committed a match stands still, and what is asked is refused; nothing is accepted and lost', async () => {
  const circuit = newCircuit()
  const north = await venueOf(circuit, 'north', { pace: { beatEvery: 60, patience: 100 } })
  north.venue.begin('one', tallyMode, { settings: play })
  const otter = await enter(north.venue, { match: 'one', name: 'Otter' })
  north.venue.matches[0]?.run((match) => match.direct('phases.start', {}))
  expect(await otter.act('tally.add')).toEqual({ ok: true })
  const connection = await connectNats({ servers: serverHost() })
  const manager = await jetstreamManager(connection)
  await manager.streams.delete(`${circuit}-matches`)
  let answers = 0
  const answered = () => void answers++
  otter.act('tally.add').then(answered, answered)
  await north.said('circuit: match stands still: nothing can be committed')
  await expect(otter.act('tally.add')).rejects.toMatchObject({ cause: 'not-now' })
  await manager.streams.delete(`KV_${circuit}-searches`)
  for (const wanted of [{ match: 'one' }, { mode: 'tally' }])
    await expect(enter(north.venue, { ...wanted, name: 'Heron' })).rejects.toMatchObject({ cause: 'not-now' })
  expect((await fetch(`${north.venue.url}ready`)).status).toBe(503)
  expect([answers, counted(otter, 'otter')]).toEqual([0, 1])
  await connection.close()
  otter.leave()
})

test('before the servers are full no new matches begin, and then what runs stands still until there is room', async () => {
  const circuit = newCircuit()
  const fullAt = 20_000_000
  const north = await venueOf(circuit, 'north', { fullAt, pace: { beatEvery: 60, patience: 100 } })
  const south = await venueOf(circuit, 'south')
  north.venue.begin('one', tallyMode, { settings: play })
  const otter = await enter(north.venue, { match: 'one', name: 'Otter' })
  north.venue.matches[0]?.run((match) => match.direct('phases.start', {}))
  const connection = await connectNats({ servers: serverHost() })
  const manager = await jetstreamManager(connection)
  await manager.streams.add({ name: 'filler', subjects: ['filler'] })
  const fill = async (bytes: number) => {
    for (let filled = 0; filled < bytes; filled += 500_000)
      await connection.request('filler', new Uint8Array(500_000))
  }
  await fill(fullAt)
  await north.said('circuit: full, no new matches begin')
  expect(() => north.venue.begin('two', tallyMode)).toThrow(
    expect.objectContaining({ code: 'ZR_VENUE_FULL' }),
  )
  const heron = await enter(north.venue, { mode: tallyMode.name, name: 'Heron' })
  expect(south.venue.matches.map(({ id }) => id)).toContain(heron.id) // where there is room
  expect(await otter.act('tally.add')).toEqual({ ok: true })

  await fill(fullAt / 4)
  await north.said('circuit: brimful, all matches stand still')
  const { venues } = await (await fetch(`${north.venue.url}circuit`)).json()
  expect(venues).toMatchObject([{ room: 'brimful' }, { room: 'enough' }])
  const waiting = otter.act('tally.add')
  await north.said('circuit: match stands still: nothing can be committed')
  expect(counted(otter, 'otter')).toBe(1)
  await manager.streams.delete('filler')
  expect(await waiting).toEqual({ ok: true })
  expect(counted(otter, 'otter')).toBe(2)
  await north.said('circuit: there is room again')
  await connection.close()
  otter.leave()
  heron.leave()
})

test('servers that do not answer, that do not know the user, or that have no JetStream are named', async () => {
  const open = (given: Partial<CircuitOptions>) =>
    openCircuit({ venue: 'north', servers: [], modes: [], records: tmpdir(), patience: 500, ...given })
  await expect(open({ servers: ['nats://127.0.0.1:1'] })).rejects.toMatchObject({
    code: 'ZR_CIRCUIT_UNREACHABLE',
    message: expect.stringContaining('127.0.0.1:1'),
  })
  const guarded = await startNats(1, 'authorization { user: fair, password: tide }')
  const [url] = guarded.urls
  await expect(open({ servers: [url] })).rejects.toMatchObject({ code: 'ZR_CIRCUIT_NOT_ALLOWED' })
  await expect(open({ servers: [url.replace('//', '//fair:ebb@')] })).rejects.toMatchObject({
    code: 'ZR_CIRCUIT_NOT_ALLOWED',
  })
  // Alone, it cannot keep three copies.
  await expect(open({ servers: [url.replace('//', '//fair:tide@')] })).rejects.toMatchObject({
    code: 'ZR_CIRCUIT_NO_JETSTREAM',
  })
  await guarded.stop()
})

test('a match goes on with a newer rulebook at the venue that has it; where it cannot, it comes back', async () => {
  const circuit = newCircuit()
  const pace = { beatEvery: 60, handOver: 500 }
  const north = await venueOf(circuit, 'north', { pace })
  const west = await venueOf(circuit, 'west', { pace }, { rulebooks: [newerTallyMode] })
  await expect.poll(() => north.link.state.venues.length, POLL).toBe(2)
  north.venue.begin('one', tallyMode, { settings: play })
  const otter = await enter(north.venue, { match: 'one', name: 'Otter' })
  north.venue.matches[0]?.run((match) => match.direct('phases.start', {}))
  expect(await north.link.drain()).toBe(0)
  await west.said('circuit: match cannot be gone on with')
  expect(await otter.act('tally.add')).toEqual({ ok: true })
  expect(north.link.state.matches).toEqual(['one'])
  await west.venue.close()
  const migrate = { tally: (old: any) => old }
  await venueOf(circuit, 'south', { pace }, { rulebooks: [newerTallyMode], migrate })
  await expect.poll(() => north.link.drain(), POLL).toBe(1)
  expect(await otter.act('tally.add')).toEqual({ ok: true })
  await expect.poll(() => [counted(otter, 'otter'), otter.view.tally.bell.second], POLL).toEqual([2, 7])
  otter.leave()
})

test('a match whose place nobody knows, as after a restore, goes on when somebody asks for it', async () => {
  const circuit = newCircuit()
  const north = await venueOf(circuit, 'north')
  north.venue.begin('one', tallyMode, { settings: play })
  await north.said('circuit: match begun')
  await north.venue.suspend()
  const connection = await connectNats({ servers: serverHost() })
  const manager = await jetstreamManager(connection)
  await manager.streams.delete(`KV_${circuit}-places`)
  await connection.close()
  const south = await venueOf(circuit, 'south')
  await expect(enter(south.venue, { match: 'none', name: 'Otter' })).rejects.toMatchObject({
    cause: 'unknown-match',
  })
  const otter = await enter(south.venue, { match: 'one', name: 'Otter' })
  expect([otter.seat, south.link.state.matches]).toEqual(['otter', ['one']])
  otter.leave()
})

test('of two venues of one name the later one has it, and the first ends', async () => {
  const circuit = newCircuit()
  const ended: string[] = []
  const first = await venueOf(circuit, 'north', { onReplaced: ({ message }) => void ended.push(message) })
  first.venue.begin('one', tallyMode)
  await first.said('circuit: match begun')
  const second = await venueOf(circuit, 'north')
  await expect.poll(() => ended, POLL).toEqual([expect.stringContaining("the name 'north'")])
  await expect.poll(() => second.link.state.matches, POLL).toEqual(['one'])
  expect(first.link.state.matches).toEqual([])
})
