import {
  appendFileSync,
  cpSync,
  existsSync,
  ftruncateSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
  writeSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setImmediate as turn } from 'node:timers/promises'
import { lanternMarket, reedRegatta } from '@zinc-referee/examples'
import { openVenue, type Venue, type VenueOptions } from '@zinc-referee/venue'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { everyone, int, replayRecord } from 'zinc-referee'
import { type Disk, openRecordFile } from '../src/records/record-file.ts'
import { drumOf } from './drum.ts'
import { regattaVenue } from './regatta-venue.ts'
import { SocketClient, twoClients } from './socket-client.ts'

let venue: Venue
let folder: string
beforeEach(async () => {
  ;({ venue, folder } = await regattaVenue())
})
afterEach(() => venue.close())

test('several matches run side by side, and a clean stop leaves whole records that replay', async () => {
  venue.begin('two', reedRegatta, { seed: 'fair-2' })
  expect(() => venue.begin('two', reedRegatta)).toThrow(
    expect.objectContaining({ code: 'ZR_VENUE_MATCH_TWICE', message: expect.stringContaining("'two'") }),
  )
  const bad = { settings: { rounds: { count: -1 } } }
  expect(() => venue.begin('bad', reedRegatta, bad)).toThrow(
    expect.objectContaining({ code: 'ZR_SETTING_INVALID' }),
  )
  const market = venue.begin('market', lanternMarket, { seed: 'fair-1', with: ['fog'] })
  const optional = market.match.describe().rules.map(({ name }) => name)
  expect([optional.includes('fog'), optional.includes('moths')]).toEqual([true, false])
  market.close()
  const { otter } = await twoClients(venue.port)
  const other = new SocketClient(venue.port)
  expect((await other.ask('join', { match: 'two', name: 'Vole' })).result.match).toBe('two')
  venue.matches[0]!.run((match) => match.report('raft.rammed', { target: 'heron', by: 'otter' }))
  expect(await (await fetch(`${venue.url}matches`)).json()).toMatchObject([{ id: 'one' }, { id: 'two' }])
  const missing = await fetch(`${venue.url}nothing`)
  expect([missing.status, missing.headers.get('content-type')]).toEqual([
    404,
    'application/problem+json; charset=utf-8',
  ])
  await venue.close()
  expect(await otter.closed).toBe('the venue closes')
  expect(otter.texts.at(-1)).toContain('"closed"')
  const files = readdirSync(folder).sort()
  expect(files).toEqual(
    ['lantern-market-market', 'reed-regatta-one', 'reed-regatta-two'].map((name) => `${name}.jsonl`),
  )
  for (const file of files.slice(1)) {
    const { differs, checks } = replayRecord(reedRegatta, readFileSync(join(folder, file), 'utf8'))
    expect([file, differs]).toEqual([file, undefined])
    expect(checks).toBeGreaterThan(0)
  }
  expect(() => venue.begin('three', reedRegatta)).toThrow(
    expect.objectContaining({ code: 'ZR_VENUE_CLOSED' }),
  )
})

test('on a full disk nothing is safe and nothing is lost: what was half written is cut off, and written once there is space', async () => {
  const path = join(folder, 'slow.jsonl')
  let [space, synced] = [12, 0]
  const told: unknown[] = []
  const disk: Disk = {
    async write(file, bytes) {
      const bytesWritten = writeSync(file, bytes.subarray(0, space))
      space -= bytesWritten
      if (bytesWritten < bytes.length) throw new Error('ENOSPC')
      return { bytesWritten }
    },
    sync: async () => void synced++,
    cut: async (file, bytes) => ftruncateSync(file, bytes),
  }
  const file = openRecordFile(path, { commit: 'each', disk, stuck: (error) => told.push(error) })
  const safe: string[] = []
  for (const line of ['first line', 'second line']) {
    file.write(line)
    file.whenSafe(() => safe.push(line))
    await turn()
  }
  await expect.poll(() => [told.length, readFileSync(path, 'utf8')]).toEqual([1, 'first line\n'])
  expect([safe, synced]).toEqual([['first line'], 1])
  space = 100
  await file.close()
  expect([readFileSync(path, 'utf8'), safe, told.at(-1)]).toEqual([
    'first line\nsecond line\n',
    ['first line', 'second line'],
    undefined,
  ])
})

test('an answer leaves when its line is in the record, with a snapshot to go on from, and no sooner', async () => {
  const { record: path = '' } = venue.begin('two', reedRegatta, { seed: 'fair-2' })
  const record = () =>
    existsSync(path.replace('.jsonl', '.snapshot.json')) ? readFileSync(path, 'utf8') : ''
  const answers: [method: string, isKept: boolean][] = []
  const client = venue.attach({
    send(text) {
      const { id } = JSON.parse(text)
      if (id !== undefined)
        answers.push([id, record().includes(id === 'join' ? 'roster.join' : 'roster.ready')])
    },
    close() {},
  })
  const call = (id: string, method: string, params: object) =>
    client.received(JSON.stringify({ jsonrpc: '2.0', id, method, params }))
  call('join', 'join', { match: 'two', name: 'Otter' })
  call('ready', 'act', { action: 'roster.ready' })
  await expect
    .poll(() => answers)
    .toEqual([
      ['join', true],
      ['ready', true],
    ])
})

test('while a match stands still, joining and acting are not for now', async () => {
  const { otter } = await twoClients(venue.port)
  venue.matches[0]?.pause()
  const problems = [
    await otter.ask('act', { action: 'raft.chase', input: { quarry: 'heron' } }),
    await new SocketClient(venue.port).ask('join', { name: 'Vole' }),
  ]
  expect(problems.map(({ error }) => error.data.problem)).toEqual(['not-now', 'not-now'])
  venue.matches[0]?.resume()
  expect(await otter.act('raft.chase', { quarry: 'heron' })).toEqual({ ok: true })
})

test('two venues never keep their records in one folder', async () => {
  await expect(again()).rejects.toMatchObject({ code: 'ZR_VENUE_RECORDS_IN_USE' })
  writeFileSync(join(folder, 'venue.lock'), '1') // a process that lives
  await expect(openVenue({ records: folder })).rejects.toMatchObject({ code: 'ZR_VENUE_RECORDS_IN_USE' })
  rmSync(join(folder, 'venue.lock')) // by somebody: the venue closes all the same
})

test('a snapshot is kept after so many lines, so that less is played again', async () => {
  const keeping = mkdtempSync(join(tmpdir(), 'snapshots-'))
  const often = await openVenue({ records: { folder: keeping, snapshotEvery: 5 } })
  const hosted = often.begin('one', reedRegatta)
  const covered = () =>
    JSON.parse(readFileSync(join(keeping, 'reed-regatta-one.snapshot.json'), 'utf8')).lines
  const soon = () => new Promise((next) => setImmediate(next))
  while (!readdirSync(keeping).some((name) => name.endsWith('.snapshot.json'))) await soon()
  const before = covered()
  for (let n = 0; n < 4; n++) hosted.run((match) => match.direct('roster.join', { seat: `s${n}`, name: 'S' }))
  for (let n = 0; n < 20; n++) await soon()
  expect(covered()).toBe(before)
  hosted.run((match) => match.direct('roster.join', { seat: 's4', name: 'S' }))
  while (covered() === before) await soon()
  expect(covered()).toBe(before + 5)
  await often.close()
})

test('what lies in the folder at any moment is enough to go on, time and again', async () => {
  const book = drumOf()
  let records = mkdtempSync(join(tmpdir(), 'copies-'))
  for (let beats = 0; beats < 28; ) {
    const open = await openVenue({ records: { folder: records, snapshotEvery: 4 }, rulebooks: [book] })
    const hosted = open.matches[0] ?? open.begin('one', book, { seed: 'fair-1' })
    expect(hosted.match.view('spectator')['drum']).toEqual({ drum: { beats } })
    const snapshot = join(records, 'drum-one.snapshot.json')
    const covered = () => existsSync(snapshot) && JSON.parse(readFileSync(snapshot, 'utf8')).lines
    const beat = () => hosted.run((match) => match.direct('drum.strike', {}))
    const before = covered()
    for (let n = 0; n < 4; n++) beat()
    while (covered() === before) await turn()
    for (let n = 0; n < 3; n++) beat() // they are behind what the snapshot has
    await new Promise<void>((safe) => hosted.whenSafe(safe))
    beats += 7
    const copy = mkdtempSync(join(tmpdir(), 'copies-'))
    cpSync(records, copy, { recursive: true, filter: (path) => !path.endsWith('.lock') })
    await open.suspend()
    records = copy
  }
})

const again = (more: Partial<VenueOptions> = {}) =>
  openVenue({ records: folder, rulebooks: [reedRegatta, lanternMarket], ...more })

test('a venue that is suspended and opened again goes on: same seats, same state, time stood still; records replay', async () => {
  const { otter, joined } = await twoClients(venue.port)
  const [hosted] = venue.matches
  hosted?.run((match) => match.report('raft.rammed', { target: 'heron', by: 'otter' }))
  hosted?.run((match) => match.direct('roster.join', { seat: 'reed', name: 'Reed', bot: true }))
  const before = hosted?.match.view('otter')
  await venue.suspend()
  expect(await otter.closed).toBe('the venue closes')
  const later = await again()
  const [resumed] = later.matches
  expect(resumed?.id).toBe('one')
  expect(resumed?.match.view('otter')['vitals']).toEqual(before?.['vitals'])
  const presence = (seat: string) => resumed?.match.state.roster.seats.of(seat).presence
  expect([presence('otter'), presence('reed')]).toEqual(['absent', 'here'])
  const back = new SocketClient(later.port)
  const { result } = await back.ask('join', { name: 'Otter', player: joined.player })
  expect(result.seat).toBe('otter')
  const newcomer = await new SocketClient(later.port).ask('join', { name: 'Heron' })
  expect(newcomer.result.seat).toBe('heron-2')
  await later.close()
  const record = readFileSync(join(folder, 'reed-regatta-one.jsonl'), 'utf8')
  expect(replayRecord(reedRegatta, record).differs).toBeUndefined()
  expect(readdirSync(folder)).toEqual(['reed-regatta-one.jsonl'])
  expect(statSync(join(folder, 'reed-regatta-one.jsonl')).mode & 0o077).toBe(0)
})

test('matches go on under a new version of their rulebook, by its migration; without one the files stay as they are', async () => {
  const [old, next] = [drumOf(), drumOf(1, { loud: int(7).seenBy(everyone) })]
  const records = mkdtempSync(join(tmpdir(), 'versions-'))
  const first = await openVenue({ records, rulebooks: [old] })
  const evening = first.begin('evening', old, { seed: 'fair-1' })
  for (let n = 0; n < 3; n++) evening.run((match) => match.direct('drum.strike', {}))
  await first.suspend()
  const broken: string[] = []
  const without = await openVenue({ records, rulebooks: [next], onBroken: ({ code }) => broken.push(code) })
  expect([without.matches.length, broken]).toEqual([0, ['ZR_VENUE_RECORD']])
  await without.suspend()
  for (let life = 0; life < 2; life++) {
    const faults: string[] = []
    const later = await openVenue({
      records,
      rulebooks: [next],
      migrate: { drum: (before) => before },
      onFault: ({ handler, error }, id) => faults.push(`${id}: ${handler}: ${error}`),
    })
    expect(later.matches[0]?.match.view('spectator')['drum']).toEqual({ drum: { beats: 3, loud: 7 } })
    later.matches[0]?.run((match) => match.direct('drum.burst', {}))
    expect(faults).toEqual([expect.stringContaining('evening: drum directive burst: Error: it has a hole')])
    await later.suspend()
  }
})

test('a torn last line is cut from the file; a broken line in the middle is refused, and the files stay as they are', async () => {
  await twoClients(venue.port)
  await venue.suspend()
  const [path, kept] = ['jsonl', 'snapshot.json'].map((end) => join(folder, `reed-regatta-one.${end}`)) as [
    string,
    string,
  ]
  const whole = readFileSync(path, 'utf8')
  appendFileSync(path, '{"t":99999,"direct":"roster.jo')
  await (await again()).suspend()
  expect(readFileSync(path, 'utf8').startsWith(whole)).toBe(true)
  expect(readFileSync(path, 'utf8')).not.toContain('99999')
  const first = { ...JSON.parse(readFileSync(kept, 'utf8')), lines: 1 }
  writeFileSync(kept, JSON.stringify(first))
  const broken = readFileSync(path, 'utf8').replace('"roster.join"', 'roster.join"')
  writeFileSync(path, broken)
  const errors: string[] = []
  const none = await again({ onBroken: ({ message }) => errors.push(message) })
  expect([none.matches, errors]).toEqual([
    [],
    [expect.stringMatching(/behind line 1.*Line \d+ of the record cannot be read.*[^.]\. Its files/)],
  ])
  await none.close()
  expect(readFileSync(path, 'utf8')).toBe(broken)
})

test('a port that is taken is an error with the fix', async () => {
  const taken = { code: 'ZR_VENUE_PORT', message: expect.stringContaining(String(venue.port)) }
  await expect(openVenue({ port: venue.port })).rejects.toMatchObject(taken)
})
