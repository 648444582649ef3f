import fc from 'fast-check'
import { expect } from 'vitest'
import { beginMatch, replayRecord, resumeMatch } from 'zinc-referee'
import { randomCrowd, ViewCopies } from 'zinc-referee/testing'
import { watchRecord } from '../../src/testing/watched.ts'
import { strayTimers } from '../fixtures/stray-timers.ts'
import { type Draw, draws, settingsOf } from './drawn-settings.ts'
import { type BookShape, bookOf, OPTIONAL, SEATS } from './fuzzed-book.ts'

const seat = fc.constantFrom(...SEATS)
const facts =
  'stir lay lay shift shift hit hit earn out charm take swim enter swap draw ask call ring show gift aim hand'.split(
    ' ',
  )
const moves =
  'fact fact fact all crowd crowd leave kick join absent pause resume start abandon rematch ready back set surrender'.split(
    ' ',
  )
const looks = 'nothing nothing flush all open shut view options hash snapshot'.split(' ')

export interface Move {
  readonly do: string
  readonly fact: string
  readonly seat: string
  readonly by: string
  readonly n: number
  readonly wait: number
  readonly look: string
}
const move: fc.Arbitrary<Move> = fc.record({
  do: fc.constantFrom(...moves),
  fact: fc.constantFrom(...facts),
  seat,
  by: seat,
  n: fc.integer({ min: -2, max: 12 }),
  wait: fc.constantFrom(0, 0, 0, 1, 250, 900, 2500),
  look: fc.constantFrom(...looks),
})
export const shape: fc.Arbitrary<BookShape> = fc.record({
  with: fc.noBias(fc.uniqueArray(fc.constantFrom(...OPTIONAL), { maxLength: 14, size: 'max' })),
  rounds: fc.record({
    length: fc.constantFrom(4000, 15_000),
    count: fc.constantFrom(1, 1, 2),
    breakTime: fc.constantFrom(0, 700),
    overtime: fc.constantFrom(null, 1500),
  }),
  ends: fc.nat(2),
  lateJoin: fc.constantFrom('seat', 'next-round', 'watch', 'refuse'),
})
export interface Fuzzed {
  readonly shape: BookShape
  /** Whether it begins in live play. */
  readonly isLive: boolean
  readonly moves: readonly Move[]
  readonly cut: number
  readonly settings: readonly Draw[]
}
export const fuzzed: fc.Arbitrary<Fuzzed> = fc.record({
  shape,
  isLive: fc.constantFrom(true, true, true, false),
  moves: fc.array(move, { minLength: 1, maxLength: 120, size: 'max' }),
  cut: fc.nat(120),
  settings: draws,
})

/** After these, timers may be left that run for nobody. */
const ends = new Set('leave kick absent abandon rematch surrender fact'.split(' '))
const VIEWERS = [...SEATS, 'spectator', 'server']
/** What was played, for whoever counts. */
export const played = { matches: 0, inputs: 0, faults: 0 }

/** Plays what was drawn, and holds every law against it. */
export function hold({ shape, isLive, moves: all, cut, settings: drawn }: Fuzzed): void {
  const book = bookOf(shape)
  const settings = settingsOf(book, drawn)
  const lines: string[] = []
  const match: any = beginMatch(book, {
    seed: 'fair-1',
    settings,
    record: (line: string) => lines.push(line),
  } as any)
  // Another match of the same rulebook, which nothing that happens here may touch.
  const calm: any = beginMatch(book, { seed: 'fair-2', settings } as any)
  for (const id of SEATS)
    for (const each of [match, calm]) each.direct('roster.join', { seat: id, name: id, player: id })
  if (isLive) {
    match.direct('phases.start', {})
    match.advanceTo(3000)
  }
  const calmly = calm.hash()
  const crowd = randomCrowd('fair-1')
  const copies = new ViewCopies(match)
  const isViewer = (viewer: string): boolean => !SEATS.includes(viewer) || match.seats.includes(viewer)
  let [snapshot, from] = ['', 0]
  for (const [nth, each] of all.entries()) {
    if (nth === cut) [snapshot, from] = [JSON.stringify(match.snapshot()), lines.length]
    look(match, each, copies, isViewer)
    match.advanceTo(match.now + each.wait)
    const before = each.do === 'crowd' ? '' : match.hash()
    const ruling = deedOf(match, each, crowd)
    // What was refused changes nothing, but that a fault of many in a row may end the bout.
    if (ruling !== undefined && !ruling.ok && match.view('spectator').verdict.end.reason !== 'void')
      expect([each, match.hash()]).toEqual([each, before])
    if (ends.has(each.do) || each.look === 'snapshot') expect([each, strayTimers(match)]).toEqual([each, []])
  }
  copies.flush()
  expect(copies.differences()).toEqual([])
  expect(calm.hash()).toBe(calmly)
  for (const { error } of match.faults)
    if (!/^(fell over|There is no|The table|Rule '|An amount)/.test(error.message)) throw error
  if (snapshot !== '') {
    const resumed: any = resumeMatch(book, JSON.parse(snapshot), { tail: lines.slice(from).join('\n') })
    resumed.advanceTo(match.now)
    expect(resumed.hash()).toBe(match.hash())
    for (const viewer of VIEWERS)
      if (isViewer(viewer)) expect(resumed.view(viewer)).toEqual(match.view(viewer))
  }
  played.matches += 1
  played.inputs += lines.length
  played.faults += Object.values<number>(match.faultCounts).reduce((sum, count) => sum + count, 0)
  const { played: watched, unwatched } = watchRecord(book, lines.join('\n'), match.now)
  expect([watched.match.hash(), unwatched]).toEqual([match.hash(), []])
  match.close()
  expect(replayRecord(book, lines.join('\n')).differs).toBeUndefined()
}

function look(
  match: any,
  { look: how, seat: viewer }: Move,
  copies: ViewCopies,
  isViewer: (viewer: string) => boolean,
): void {
  const who = VIEWERS[(viewer.length + match.now) % VIEWERS.length] ?? 'spectator'
  if (how === 'flush') copies.flush({ all: false })
  if (how === 'all') copies.flush()
  if (how === 'hash') match.hash()
  if (how === 'snapshot') match.snapshot()
  if (!isViewer(who)) return
  if (how === 'open') copies.addViewer(who)
  if (how === 'view') match.view(who)
  if (how === 'options' && SEATS.includes(who)) match.options(who, 'gremlin.pick')
  if (how === 'shut') copies.removeViewer(who)
}

function deedOf(
  match: any,
  { do: what, fact, seat: id, by, n }: Move,
  crowd: ReturnType<typeof randomCrowd>,
): any {
  const input: { readonly [cell: string]: unknown } = {
    seat: id,
    target: id,
    by,
    n,
    amount: n * 9,
    at: n,
    x: n * 10,
    in: Math.max(0, n) * 300,
    kind: n % 2 === 0 ? 'bell' : 'veil',
  }
  const cells: { readonly [fact: string]: readonly string[] } = {
    stir: ['seat', 'at'],
    lay: ['seat', 'n'],
    shift: ['n', 'by'],
    hit: ['target', 'by', 'amount'],
    earn: ['seat', 'amount'],
    charm: ['seat', 'kind'],
    swim: ['seat', 'x'],
    swap: ['seat', 'by'],
    hand: ['seat', 'by'],
    ring: ['seat', 'in'],
    show: ['seat', 'by', 'in'],
    gift: ['seat', 'in'],
    aim: ['in'],
    ask: [],
    call: [],
  }
  const given = Object.fromEntries(
    (cells[fact] ?? ['seat']).map((cell) => [cell, cell === 'by' && fact === 'shift' ? n : input[cell]]),
  )
  switch (what) {
    case 'fact':
      return match.report(`gremlin.${fact}`, given)
    case 'all':
      match.reportAll(`gremlin.${fact}`, [given, { nothing: 1 }, given])
      return undefined
    case 'crowd':
      crowd.beat(match, (each) => each === id)
      return undefined
    case 'leave':
    case 'ready':
      return match.submit(id, `roster.${what}`, {}, { id: n })
    case 'back':
      return match.submit(id, 'turns.take-back', {})
    case 'surrender':
      return match.submit(id, 'verdict.surrender', {})
    case 'rematch':
      return match.submit(id, 'rounds.rematch', {})
    case 'kick':
      return match.direct('roster.kick', { seat: id })
    case 'absent':
      return match.direct('roster.absent', { seat: id })
    case 'join':
      return match.direct('roster.join', { seat: id, name: id, player: n > 6 ? 'another' : id })
    case 'set':
      return match.direct('match.set', {
        rule: 'vitals',
        settings: { max: Math.max(1, n * 10), aftr: n > 9 ? 1 : undefined },
      })
    default:
      return match.direct(`phases.${what}`, {})
  }
}
