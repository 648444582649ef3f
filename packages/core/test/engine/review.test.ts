import { expect, test } from 'vitest'
import {
  type AnyMatch,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  maybe,
  owner,
  perSeat,
  rowOf,
  seatRef,
  table,
} from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import { inPhase, scores } from 'zinc-referee/rules'
import { randomCrowd, type Track, timelineOf, tracksOf } from 'zinc-referee/testing'
import { readRecord } from '../../src/record/index.ts'
import { openRecorded, replayLine } from '../../src/rulebook/index.ts'
import { InnerIds } from '../../src/testing/review/inner-ids.ts'
import { playedPositions } from '../../src/testing/review/positions.ts'
import { code } from '../fixtures/error-code.ts'
import { recorded } from '../fixtures/recorded.ts'

/** A stall whose jars are hidden under lids, and named by whoever holds one. */
const stall = defineRule({
  name: 'stall',
  needs: [scores],
  state: {
    jars: table({ lid: flag(true), n: int().seenBy(everyone) }).seenWhen({
      n: ({ lid }) => (lid ? { all: false, seats: new Set() } : everyone),
    }),
    hands: perSeat({ jar: maybe(rowOf('jars')).seenBy(everyone), coins: int(0).seenBy(owner) }),
  },
  events: { lifted: { seat: seatRef().seenBy(everyone) } },
  timers: {
    shut: { keyedBy: 'seat', fire: (match, seat) => void close(match, seat) },
    bell: { keyedBy: 'seat', fire: (match, seat) => pay(match, seat) },
  },
  actions: {
    lift: {
      when: inPhase('live'),
      input: { n: int().between(1, 4) },
      decide(match, seat, { n }) {
        const jar = match.own.jars.add({ n })
        jar.lid = n % 2 === 0
        match.own.hands.of(seat).jar = jar.id
        match.emit('lifted', { seat })
        match.timers.start('shut', { in: 900, key: seat })
        if (!match.timers.runs('bell', seat)) match.timers.start('bell', { every: 1000, key: seat })
        return match.use(scores).give({ seat, amount: n, reason: 'lifted' })
      },
    },
    drop: {
      when: inPhase('live'),
      input: {},
      decide: (match, seat) => match.timers.cancel('shut', seat),
    },
  },
})
function pay(match: any, seat: string): void {
  match.own.hands.of(seat).coins += 1
}
function close(match: any, seat: string): void {
  const { jar } = match.own.hands.of(seat)
  if (jar === undefined) return
  match.own.hands.of(seat).jar = undefined
  match.own.jars.remove(jar)
}
const book = defineRulebook({ name: 'jars', seats: { min: 2, max: 3 }, rules: [scores, stall] })

const record = (play: (match: AnyMatch) => void): string => recorded(book, play)

/** The view of a track at each position. */
function* viewsOf({ from, view, changes }: Track, count: number) {
  const at = new Map(changes)
  let now: object | undefined
  for (let position = 0; position < count; position++) {
    if (position === from) now = view
    else if (now !== undefined) now = applyPatch(now, at.get(position) ?? [])
    yield now
  }
}

test('at every position, a track shows what the viewer saw there, with rows by ids that all viewers share', () => {
  const text = record((match) => {
    const crowd = randomCrowd('fair-7')
    while (match.now < 20_000) {
      crowd.beat(match, () => true)
      match.advanceTo(match.now + crowd.every)
      if (match.now > 9000 && !match.allSeats.includes('vole'))
        match.direct('roster.join', { seat: 'vole', name: 'vole' })
    }
  })
  const viewers = ['server', 'otter', 'heron', 'vole', 'spectator']
  const tracks = tracksOf(book, text, viewers).map((track) => viewsOf(track, Number.POSITIVE_INFINITY))
  const { match, engine } = openRecorded(book, text)
  const ids = viewers.map((viewer) => new InnerIds(engine, viewer))
  const shared = new Set<string>()
  for (const _ of playedPositions(match, readRecord(text), (line) => replayLine(match, line))) {
    for (const [at, viewer] of viewers.entries()) {
      const isThere = ['server', 'spectator'].includes(viewer) || match.allSeats.includes(viewer)
      const seen: any = tracks[at]?.next().value
      expect(seen).toEqual(isThere ? ids[at]?.view(match.view(viewer)) : undefined)
      for (const id of viewer === 'server' ? [] : Object.keys(seen?.stall?.jars ?? {})) {
        shared.add(id)
        expect(engine.store.tables.get('stall.jars')?.get(id)).toBeDefined()
      }
    }
  }
  expect(shared.size).toBeGreaterThan(3)
})

test('a timeline has each input with its ruling, what was raised, bars of timers and lines of scores', () => {
  const text = record((match) => {
    match.submit('otter', 'stall.lift', { n: 2 })
    match.submit('otter', 'stall.lift', { n: 9 })
    match.advanceTo(1500)
    match.submit('otter', 'stall.lift', { n: 3 })
    match.submit('otter', 'stall.drop', {})
    match.advanceTo(2200)
    match.submit('heron', 'stall.lift', { n: 4 })
  })
  const { entries, timers, scores: lines, seats } = timelineOf(book, text)
  const from = entries.findIndex(({ what }) => what.includes('lift'))
  expect(seats).toEqual(['otter', 'heron'])
  expect(entries.slice(from).map(({ at, what, refused, seat }) => [at, what, refused, seat])).toEqual([
    [1, `otter's stall.lift {"n":2}`, undefined, 'otter'],
    [1, `otter's stall.lift {"n":9}`, 'bad-input', 'otter'],
    [901, 'stall.shut of otter', undefined, undefined],
    [1001, 'stall.bell of otter', undefined, undefined],
    [1500, `otter's stall.lift {"n":3}`, undefined, 'otter'],
    [1500, "otter's stall.drop {}", undefined, 'otter'],
    [2001, 'stall.bell of otter', undefined, undefined],
    [2200, `heron's stall.lift {"n":4}`, undefined, 'heron'],
  ])
  expect(entries[from]?.raised).toEqual([
    ['stall.lifted', 'otter'],
    ['scores.given', 'otter'],
  ])
  expect(
    timers
      .filter(({ name }) => name.startsWith('stall'))
      .map((bar) => ({ ...bar, from: bar.from - from, until: bar.until - from })),
  ).toEqual([
    { name: 'stall.shut', key: 'otter', from: 0, until: 2, end: 'due' },
    { name: 'stall.bell', key: 'otter', from: 0, until: 3, end: 'due' },
    { name: 'stall.bell', key: 'otter', from: 3, until: 6, end: 'due' },
    { name: 'stall.shut', key: 'otter', from: 4, until: 5, end: 'stopped' },
    { name: 'stall.bell', key: 'otter', from: 6, until: 7, end: 'running' },
    { name: 'stall.shut', key: 'heron', from: 7, until: 7, end: 'running' },
    { name: 'stall.bell', key: 'heron', from: 7, until: 7, end: 'running' },
  ])
  expect(lines).toEqual({
    otter: [
      [from, 2],
      [from + 4, 5],
    ],
    heron: [[from + 7, 4]],
  })
  expect(
    code(() => timelineOf(defineRulebook({ name: 'none', seats: { min: 1, max: 1 }, rules: [] }), text)),
  ).toBe('ZR_RECORD_OTHER_RULEBOOK')
})
