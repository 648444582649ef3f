import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, seatRef, text } from 'zinc-referee'
import { holds, longestHold, respawn, rounds, scores, verdict, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const yard = defineRule({
  name: 'yard',
  needs: [holds],
  facts: {
    take: {
      input: { seat: seatRef(), thing: text('bell') },
      handle: (match, { seat, thing }) => match.use(holds).take(seat, thing),
    },
    pass: {
      input: { from: seatRef(), to: seatRef(), thing: text('bell') },
      handle: (match, given) => match.use(holds).pass(given),
    },
    drop: { input: { thing: text('bell') }, handle: (match, { thing }) => match.use(holds).drop(thing) },
    shown: {
      input: { sum: int() },
      handle(match, { sum }) {
        const all = [...match.use(holds).shown('bell').values()].reduce((a, b) => a + b, 0)
        if (all !== sum) throw new Error(`shown are ${all}`)
      },
    },
  },
})
const book = defineRulebook({
  name: 'yard',
  seats: { min: 2, max: 4 },
  rules: [
    rounds({ length: 60_000 }),
    vitals,
    scores,
    holds({ things: ['bell', 'rope'], passLock: 1000, takeLock: 200 }),
    respawn({ after: 5000 }),
    verdict({ when: [longestHold('loses')] }),
    moves,
    yard,
  ],
})
const START = 3000
type Settings = { readonly [rule: string]: object }
function yardMatch(settings: Settings = {}, seats = ['otter', 'heron', 'vole']) {
  const { match } = playMatch(book, seats, { settings })
  return {
    match,
    at: (play: number) => match.advanceTo(START + play),
    take: (seat: string, thing = 'bell') => match.report('yard.take', { seat, thing }),
    pass: (from: string, to: string) => match.report('yard.pass', { from, to }),
    held: (seat: string, thing = 'bell') => match.state.holds.totals.of(seat).held.get(thing) ?? 0,
    holder: (thing = 'bell') => match.view('spectator').holds.now.holder[thing],
  }
}

test('HO1: passed twice at one ms, the one in between has held it for 0 ms; both are told', () => {
  const { match, at, take, pass, held } = yardMatch()
  match.addViewer('spectator')
  take('otter')
  at(700)
  match.flush()
  pass('otter', 'heron')
  pass('heron', 'vole')
  const told = match.flush().flatMap(({ viewer, notices }) => (viewer === 'spectator' ? notices : []))
  expect(told.map(({ cells }) => [cells['from'], cells['to']])).toEqual([
    ['otter', 'heron'],
    ['heron', 'vole'],
  ])
  expect([held('otter'), held('heron')]).toEqual([700, 0])
})

test('HO2: back to the giver is too soon within the lock, and allowed at exactly its end; to others at any time', () => {
  const { at, take, pass } = yardMatch()
  take('otter')
  pass('otter', 'heron')
  at(999)
  expect(pass('heron', 'otter')).toMatchObject({ code: 'too-soon' })
  at(1000)
  expect(pass('heron', 'otter')).toEqual({ ok: true })
  expect(pass('otter', 'vole')).toEqual({ ok: true })
})

test('HO3, HO4: only the holder passes, to somebody else who is up and in play; the first who takes a free thing has it', () => {
  const { match, take, pass, holder } = yardMatch({}, ['otter', 'heron', 'vole', 'newt'])
  expect(take('otter')).toEqual({ ok: true })
  expect(take('heron')).toMatchObject({ code: 'held' })
  expect(pass('heron', 'vole')).toMatchObject({ code: 'not-holding' })
  expect(pass('otter', 'otter')).toMatchObject({ code: 'bad-input' })
  match.report('moves.fell', { seat: 'heron' })
  match.submit('newt', 'roster.leave', {})
  expect(pass('otter', 'heron')).toMatchObject({ code: 'target-down' })
  expect(pass('otter', 'newt')).toMatchObject({ code: 'not-in-play' })
  expect(holder()).toBe('otter')
})

test('HO5, HO8: a pause adds no time; a pass at the ms the round ends is too late, and the last holder has all of it', () => {
  const { match, at, take, pass, held } = yardMatch()
  take('otter')
  at(10_000)
  match.direct('phases.pause', {})
  match.advanceTo(START + 15_000)
  match.direct('phases.resume', {})
  match.advanceTo(START + 65_000)
  expect(pass('otter', 'heron')).toMatchObject({ code: 'over' })
  expect(held('otter')).toBe(60_000)
  expect(match.view('spectator').verdict.end).toMatchObject({ kind: 'win', winners: ['heron', 'vole'] })
})

test.each([
  ['nobody', undefined],
  ['previous', 'heron'],
  ['fewest', 'vole'],
] as const)('HO6: when the holder goes down, %s gets the thing', (onDown, next) => {
  const { match, at, take, pass, holder } = yardMatch({ holds: { onDown } })
  take('heron')
  at(500)
  pass('heron', 'otter')
  at(900)
  match.report('moves.fell', { seat: 'otter' })
  expect(holder()).toBe(next)
})

test('HO6: who leaves passes it on at random among those who are up, as the seed has it', () => {
  const heirs = ['a', 'b', 'c', 'd', 'e', 'f'].map((seed) => {
    const { match } = playMatch(book, ['otter', 'heron', 'vole'], {
      seed,
      settings: { holds: { onLeave: 'random' } },
    })
    match.report('yard.take', { seat: 'otter' })
    match.submit('otter', 'roster.leave', {})
    return match.view('spectator').holds.now.holder['bell']
  })
  expect(new Set(heirs)).toEqual(new Set(['heron', 'vole']))
})

test('a thing that came free may be taken at exactly the end of its lock; an absent seat may lose what it holds', () => {
  const { match, at, take, holder } = yardMatch({ holds: { absentHold: 'drops' } })
  take('otter')
  match.direct('roster.absent', { seat: 'otter' })
  expect(holder()).toBeUndefined()
  at(199)
  expect(take('heron')).toMatchObject({ code: 'too-soon' })
  at(200)
  expect(take('heron')).toEqual({ ok: true })
})

test('VE14: level to the ms both lose; where nobody has held anything it is a draw', () => {
  const { match, at, take, pass } = yardMatch()
  take('otter')
  at(30_000)
  pass('otter', 'heron')
  at(60_000)
  expect(match.view('spectator').verdict.end).toMatchObject({ kind: 'win', winners: ['vole'] })
  const idle = yardMatch()
  idle.at(60_000)
  expect(idle.match.view('spectator').verdict.end).toMatchObject({
    kind: 'draw',
    winners: ['otter', 'heron', 'vole'],
  })
})

const TICK = 50
const deed = fc.record({
  what: fc.constantFrom('take', 'pass', 'drop', 'fell', 'leave'),
  seat: fc.constantFrom('otter', 'heron', 'vole'),
  other: fc.constantFrom('otter', 'heron', 'vole'),
  ticks: fc.nat(80),
})
const heirs = fc.constantFrom('nobody', 'random', 'previous', 'fewest')

test('HO7, laws a to f: totals are those of a simulation in ticks, add up to the time played with nobody, and are shown in whole seconds that add up', () => {
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 20 }), heirs, (deeds, heir) => {
      const { match, at, take, pass, held } = yardMatch({ holds: { onDown: heir, onLeave: heir } })
      const ticked = new Map<string | undefined, number>()
      const isLive = (): boolean => match.state.phases.now.phase === 'live'
      let play = 0
      const tickTo = (to: number): void => {
        for (; play < to && isLive(); play += TICK) {
          at(play)
          const now = match.state.holds.now.holder.get('bell')
          ticked.set(now, (ticked.get(now) ?? 0) + TICK)
        }
        at(to)
      }
      for (const { what, seat, other, ticks } of deeds) {
        tickTo(Math.min(play + ticks * TICK, 59_000))
        if (!isLive()) break
        if (what === 'take') take(seat)
        if (what === 'pass') pass(seat, other)
        if (what === 'drop') match.report('yard.drop', {})
        if (what === 'fell') match.report('moves.fell', { seat })
        if (what === 'leave') match.submit(seat, 'roster.leave', {})
      }
      if (isLive()) {
        expect(match.report('yard.shown', { sum: Math.floor(play / 1000) })).toEqual({ ok: true })
        tickTo(60_000)
      }
      const seats = ['otter', 'heron', 'vole']
      expect(seats.map((seat) => held(seat))).toEqual(seats.map((seat) => ticked.get(seat) ?? 0))
      expect(match.state.holds.now.free.get('bell') ?? 0).toBe(ticked.get(undefined) ?? 0)
    }),
  )
})
