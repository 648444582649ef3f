import { reedRegatta } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import {
  type AnyRulebook,
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  isRefereeError,
  owner,
  perSeat,
  replayRecord,
  resumeMatch,
  type Snapshot,
  seatRef,
  single,
} from 'zinc-referee'
import { vitals } from 'zinc-referee/rules'
import { playMatch, playToEnd, randomCrowd } from 'zinc-referee/testing'
import * as z from 'zod'

const SEATS = ['otter', 'heron', 'vole', 'a/b~"c" ñ']

test('a tail that gives another ruling or another hash is refused, and says at which line', () => {
  const { match, record } = playMatch(reedRegatta, SEATS)
  const snapshot = JSON.parse(JSON.stringify(match.snapshot()))
  const before = record().split('\n').length
  match.report('raft.rammed', { target: 'otter', by: 'heron' })
  match.submit('otter', 'raft.search', {})
  match.close()
  const lines = record().split('\n').slice(before)
  const resumed = (changed: (line: string) => string) => () =>
    resumeMatch(reedRegatta, snapshot, { tail: lines.map(changed).join('\n') })
  expect(resumed((line) => line)).not.toThrow()
  expect(resumed((line) => line.replace('"by":"heron"', '"by":"vole"'))).toThrow(/of the tail was recorded/)
  const otherwise = (line: string) => line.replace('"input":{}', '"input":{},"no":"nope"')
  expect(resumed(otherwise)).toThrow(/Line 2 .*nope/)

  // The policy: go on with what the rules make of it, and say so in the record, which replays from there.
  const told: unknown[] = []
  const more: string[] = []
  const going = resumeMatch(reedRegatta, snapshot, {
    tail: lines.map(otherwise).join('\n'),
    ifTailDiffers: 'go-on',
    onTailDiffers: (differences) => told.push(...differences),
    record: (line) => more.push(line),
  })
  expect(told).toEqual([{ line: 2, recorded: "ruling 'nope'", replayed: "ruling 'ok'" }])
  expect(going.hash()).toBe(match.hash())
  going.submit('otter', 'raft.search', {})
  going.advanceTo(going.now + 5000)
  going.close()
  const whole = [record(), ...more].join('\n')
  expect(JSON.parse(more[0] ?? '').because).toMatch(/line 2 was recorded with the ruling 'nope'/)
  const replayed = replayRecord(reedRegatta, whole)
  expect(replayed.differs).toBeUndefined()
  expect(replayed.match.hash()).toBe(going.hash())
  // A crash after that: the tail of the older snapshot begins with the newer one.
  const after = resumeMatch(reedRegatta, snapshot, { tail: [...lines, ...more].join('\n') })
  expect(after.hash()).toBe(going.hash())
})

test('a resumed match may begin a record of its own, which replays; not both at once', () => {
  const { match } = playMatch(reedRegatta, SEATS)
  match.report('raft.rammed', { target: 'otter', by: 'heron' })
  const lines: string[] = []
  const snapshot = JSON.parse(JSON.stringify(match.snapshot()))
  const again = resumeMatch(reedRegatta, snapshot, { newRecord: (line) => lines.push(line) })
  playToEnd(again, randomCrowd('more'), again.now + 30_000)
  again.close()
  const replayed = replayRecord(reedRegatta, lines.join('\n'))
  expect(replayed).toMatchObject({ at: again.now })
  expect(replayed.differs).toBeUndefined()
  expect(replayed.inputs).toBeGreaterThan(10)
  expect(SEATS.map((seat) => replayed.match.view(seat))).toEqual(SEATS.map((seat) => again.view(seat)))
  const [record, newRecord] = [() => 0, () => 0]
  expect(() => resumeMatch(reedRegatta, snapshot, { record, newRecord })).toThrow(/both/)
})

test('what a timer did is shown only when a line has said that time ran so far', () => {
  const lines: string[] = []
  let full = false
  const match = beginMatch(reedRegatta, {
    seed: 'fair-1',
    record(line) {
      if (full) throw new Error('no room')
      lines.push(line)
    },
  })
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  for (const seat of ['otter', 'heron']) match.submit(seat, 'roster.ready', {})
  match.addViewer('otter')
  const before = lines.length
  match.flush()
  expect(lines).toHaveLength(before) // no timer has fired
  match.advanceTo(3500)
  full = true
  expect(() => match.flush()).toThrow('no room')
  expect(() => match.addViewer('heron')).toThrow('no room')
  full = false
  expect(match.flush()[0]?.patch).toContain('"live"')
  expect(lines.slice(before)).toEqual(['{"t":3500}'])
  match.flush()
  expect(lines).toHaveLength(before + 1)
  const soFar = lines.join('\n')
  const { match: restored } = replayRecord(reedRegatta, soFar)
  expect(restored.now).toBe(3500)
  expect(restored.view('otter')).toEqual(match.view('otter'))
  match.advanceTo(match.nextDue ?? 0)
  match.close()
  match.flush()
  expect(lines.at(-1)).toContain('"end":true')
})

test('a record names its settings and what its rules were: a replay uses those, or says which differ', () => {
  const lamp = (oil: number, seen: typeof everyone | typeof owner, also = {}) => {
    const rule = defineRule({
      name: 'lamp',
      settings: z.object({ oil: z.int().default(oil), ...also }),
      state: {
        flame: perSeat({ lit: int(0).seenBy(seen) }),
        ...(seen === owner && { box: single({ full: flag(true) }) }),
      },
      directives: {
        light: {
          input: { seat: seatRef() },
          handle(match, { seat }) {
            match.own.flame.of(seat).lit += match.settings.oil
          },
        },
      },
    })
    return defineRulebook({ name: 'quay', seats: { min: 1, max: 2 }, rules: [rule, vitals({ max: oil })] })
  }
  const lines: string[] = []
  const match = beginMatch(lamp(3, everyone), { seed: 'fair-1', record: (line) => lines.push(line) })
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  match.direct('lamp.light', { seat: 'otter' })
  match.close()
  const record = lines.join('\n')
  const { match: again, differs } = replayRecord(lamp(5, everyone), record) // the default is another one now
  expect([differs, again.view('otter')['lamp']]).toEqual([undefined, { flame: { otter: { lit: 3 } } }])
  const why = (book: AnyRulebook) => {
    try {
      replayRecord(book, record)
      return 'it replays'
    } catch (error) {
      return isRefereeError(error) ? [error.code, error.message] : error
    }
  }
  expect(why(lamp(3, owner))).toEqual([
    'ZR_RECORD_OTHER_PLAN',
    expect.stringContaining('changed: part lamp.flame; new: part lamp.box'),
  ])
  expect(why(lamp(3, everyone, { wick: z.int().default(2) }))).toEqual([
    'ZR_RECORD_OTHER_SETTINGS',
    expect.stringContaining('lamp.wick was null and is 2'),
  ])
})

test('snapshot and the tail of a record restore a match after a crash, even if the last line was cut off; the new record goes on', () => {
  const { match, record } = playMatch(reedRegatta, SEATS)
  match.report('raft.rammed', { target: 'otter', by: 'heron' })
  match.submit('otter', 'raft.search', {}, { id: 'a1' })
  const snapshot = JSON.parse(JSON.stringify(match.snapshot()))
  const before = record()
  match.report('raft.rammed', { target: 'otter', by: 'heron' })
  const tail = `${record().slice(before.length + 1)}\n{"t":30`
  const more: string[] = []
  const again = resumeMatch(reedRegatta, snapshot, { tail, record: (line) => more.push(line) })
  expect(again.hash()).toBe(match.hash())
  expect(again.submit('otter', 'raft.dock', {}, { id: 'a1' })).toMatchObject({ code: 'id-reused' })
  again.advanceTo(400_000)
  again.close()
  const whole = [record(), ...more].join('\n')
  expect(replayRecord(reedRegatta, whole).differs).toBeUndefined()
})

test('a live setting takes hold at once, is recorded, clamps what is beyond it, and can be refused', () => {
  const { match, replay } = playMatch(reedRegatta, SEATS)
  const before = match.hash()
  expect(match.direct('match.set', { rule: 'vitals', settings: { max: 0 } })).toMatchObject({
    code: 'bad-input',
  })
  expect(match.direct('match.set', { rule: 'vitals', settings: { healthSeen: 'owner' } })).toMatchObject({
    code: 'bad-input',
  })
  expect(match.hash()).toBe(before)
  expect(match.direct('match.set', { rule: 'vitals', settings: { max: 60 } }, { referee: 'Heron' })).toEqual({
    ok: true,
  })
  expect(match.view('otter').vitals.body['otter']).toMatchObject({ health: 60, max: 60 })
  match.direct('match.set', { rule: 'raft', settings: { ram: 60 } })
  match.report('raft.rammed', { target: 'otter', by: 'heron' })
  expect(match.state.vitals.body.of('otter').down).toBe(true)
  match.direct('match.set', { rule: 'respawn', settings: { after: 60_000 } }) // what runs keeps its due
  match.advanceTo(match.now + 3000)
  expect(match.state.vitals.body.of('otter').health).toBe(60)
  const resumed = resumeMatch(reedRegatta, JSON.parse(JSON.stringify(match.snapshot())))
  expect(resumed.settings.raft.ram).toBe(60)
  expect(replay().differs).toBeUndefined()
})

test.each<[string, string | RegExp, (snapshot: Snapshot) => unknown]>([
  ['of another library', /not of this format/, (s) => ({ ...s, snapshot: 'other' })],
  ['of a newer format', /not of this format/, (s) => ({ ...s, version: s.version + 1 })],
  ['of another rulebook', 'ZR_SNAPSHOT_FOREIGN', (s) => ({ ...s, rulebook: 'skirmish' })],
  ['of another version of the rulebook', 'ZR_SNAPSHOT_FOREIGN', (s) => ({ ...s, plan: 'zz' })],
  ['that is none', 'ZR_SNAPSHOT_FOREIGN', () => 'hello'],
  [
    'with a changed value',
    'ZR_SNAPSHOT_DAMAGED',
    (s) => JSON.parse(JSON.stringify(s).replace('"here"', '"gone"')),
  ],
  [
    'with a value that does not fit',
    'ZR_SNAPSHOT_DAMAGED',
    (s) => JSON.parse(JSON.stringify(s).replace('"here"', '"there"')),
  ],
  [
    'with a timer that is not there',
    'ZR_SNAPSHOT_DAMAGED',
    (s) => ({ ...s, time: { ...s.time, timers: [{ ...s.time.timers[0], timer: 'rounds.chime' }] } }),
  ],
  ['with a part missing', 'ZR_SNAPSHOT_DAMAGED', (s) => ({ ...s, seats: undefined })],
])('a snapshot %s: %s', (_what, code, change) => {
  const snapshot = JSON.parse(JSON.stringify(playMatch(reedRegatta, SEATS).match.snapshot()))
  try {
    resumeMatch(reedRegatta, change(snapshot) as never)
    expect.fail('it was taken')
  } catch (error) {
    expect(isRefereeError(error) && String(error)).toMatch(code)
  }
})

test('a snapshot of an older version goes on when it is migrated', () => {
  const old = {
    ...JSON.parse(JSON.stringify(playMatch(reedRegatta, SEATS).match.snapshot())),
    plan: 'an older one',
  }
  const match = resumeMatch(reedRegatta, old, {
    migrate: (snapshot) => ({ ...snapshot, settings: { ...snapshot.settings, raft: { ram: 50 } } }),
  })
  match.report('raft.rammed', { target: 'otter', by: 'heron' })
  expect(match.state.vitals.body.of('otter').health).toBe(50)
})

test('timers go on under their names, also where another version of the rulebook counts them otherwise', () => {
  const lamp = defineRule({
    name: 'lamp',
    state: { wick: single({ lit: int(0) }) },
    timers: {
      out: {
        clock: 'match',
        fire(match) {
          match.own.wick.lit += 1
        },
      },
    },
    directives: { light: { input: {}, handle: (match) => match.timers.start('out', { in: 5000 }) } },
  })
  const bell = defineRule({
    name: 'bell',
    timers: {
      ring: {
        clock: 'match',
        fire() {
          throw new Error('nobody rang')
        },
      },
    },
  })
  const seats = { min: 1, max: 2 }
  const match = beginMatch(defineRulebook({ name: 'quay', seats, rules: [lamp] }), { seed: 'fair-1' })
  match.direct('lamp.light', {})
  const newer = defineRulebook({ name: 'quay', seats, rules: [bell, lamp] })
  const resumed = resumeMatch(newer, match.snapshot(), { migrate: (old) => old })
  resumed.advanceTo(5000)
  expect(resumed.state.lamp.wick.lit).toBe(1)
  expect(resumed.faults).toEqual([])
})
