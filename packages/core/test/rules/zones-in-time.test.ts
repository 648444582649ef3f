import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, flag, int, list, maybe, seatRef, single, text } from 'zinc-referee'
import {
  areas,
  firstToHold,
  mostHeld,
  mostRounds,
  rounds,
  scores,
  teams,
  verdict,
  vitals,
  zones,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const SEATS = ['otter', 'heron', 'vole', 'newt']
/** Measures times, moves seats, and doubles the rate of crew 1 while it is keen. */
const pier = defineRule({
  name: 'pier',
  needs: [zones, teams, areas],
  state: { told: single({ lines: list(text(), []) }), keen: single({ on: flag(false) }) },
  facts: {
    measure: {
      input: { crew0: seatRef(), crew1: seatRef() },
      handle(match, { crew0, crew1 }) {
        const times = [crew0, crew1].map((seat) => match.use(zones).heldBy(seat))
        match.own.told.lines = [...match.own.told.lines, times.join(' ')]
      },
    },
    stand: {
      input: { seat: seatRef(), x: int() },
      handle: (match, { seat, x }) => match.use(areas).put(seat, { x, y: 0 }),
    },
    give: {
      input: { seat: seatRef(), zone: text(), ms: int() },
      handle: (match, { seat, zone, ms }) => match.use(zones).giveTime(seat, zone, ms),
    },
    aim: {
      input: { ms: maybe(int()) },
      handle: (match, { ms }) => match.use(zones).setGoal(ms),
    },
    keen: {
      input: { on: flag() },
      handle(match, { on }) {
        match.own.keen.on = on
        match.use(zones).weighAgain()
      },
    },
  },
  amend: {
    'zones.rate'(match, { side, amount }) {
      if (side === '1' && match.own.keen.on) amount.times(2)
    },
  },
  on: {
    'zones.reached'(match, { side }) {
      match.own.told.lines = [...match.own.told.lines, `${side} at ${match.time.play}`]
    },
  },
})
const bookOf = (places: object) =>
  defineRulebook({
    name: 'pier',
    seats: { min: 2, max: 4 },
    rules: [
      rounds({ length: 60_000, count: 2, breakTime: 1000, overtime: 5000 }),
      scores,
      vitals,
      areas,
      moves,
      teams({ count: 2 }),
      zones({ names: ['bell', 'horn'], counts: 'time', goal: 10_000, ...places }),
      verdict({
        when: [firstToHold.decides('round'), mostHeld({ levelWithin: 100 }).decides('round'), mostRounds],
      }),
      pier,
    ],
  })
const open = bookOf({})
const placed = bookOf({ places: { bell: { x: 100, y: 0, reach: 6 } } })

function onPier(book = open, settings: object = {}) {
  const { match, replay } = playMatch(book, SEATS, { settings })
  const start = match.now
  const { side } = match.view('server').teams
  const crew = (team: number) => SEATS.filter((seat) => side[seat]?.team === team)
  const [a, b] = [crew(0), crew(1)] as [[string, string], [string, string]]
  return {
    match,
    replay,
    a,
    b,
    at: (play: number) => match.advanceTo(start + play),
    enter: (seat: string, zone = 'bell') => match.report('zones.enter', { seat, zone }),
    leave: (seat: string, zone = 'bell') => match.report('zones.leave', { seat, zone }),
    times: () => {
      match.report('pier.measure', { crew0: a[0], crew1: b[0] })
      return match.state.pier.told.lines.at(-1)
    },
    told: () => match.state.pier.told.lines.filter((line) => line.includes('at')),
    wins: () => Object.keys(match.view('server').verdict.rounds.wins),
    now: () => match.view('server').rounds.now,
  }
}

test('ZO1, ZO2, ZO8: time runs for a side alone there, and not while it is contested, left, paused or frozen', () => {
  const { a, b, at, enter, leave, times, match, replay } = onPier()
  enter(b[0])
  leave(b[0])
  enter(a[0])
  at(3000)
  enter(b[0])
  at(4000)
  expect(times()).toBe('3000 0')
  leave(a[0])
  at(4500)
  match.direct('phases.pause', {})
  match.advanceTo(match.now + 5000)
  match.direct('phases.resume', {})
  at(14_500)
  expect(times()).toBe('3000 5500')
  leave(b[0])
  at(16_000)
  expect(times()).toBe('3000 5500')
  const many = onPier(open, { zones: { contested: 'more-heads', perHead: 'each' } })
  for (const seat of [...many.a, many.b[0]]) many.enter(seat)
  many.at(2000)
  many.leave(many.b[0])
  many.at(3000)
  expect(many.times()).toBe('4000 0')
  expect(replay().differs).toBeUndefined()
})

test('ZO3, ZO5, ZO9: the goal is reached at its millisecond, sooner in two zones; the next round begins at nothing', () => {
  const { a, b, at, enter, told, times, wins, now } = onPier()
  enter(a[0])
  at(9999)
  enter(b[0])
  at(20_000)
  expect([told(), now().round]).toEqual([[], 1])
  enter(a[1], 'horn')
  at(20_001)
  expect(told()).toEqual(['0 at 20001'])
  expect(wins()).toHaveLength(1)
  at(21_001)
  expect([now().round, times()]).toEqual([2, '0 0'])
  for (const zone of ['bell', 'horn']) enter(b[0], zone)
  at(26_001)
  expect(told().at(-1)).toBe('1 at 25001')
  const close = onPier()
  close.enter(close.a[0])
  close.at(10_000)
  close.enter(close.b[0])
  expect(close.told()).toEqual(['0 at 10000'])
})

test('ZO4, ZO10: a doubled rate, and another goal, count from then on', () => {
  const { a, b, at, enter, leave, times, told, match } = onPier()
  enter(b[0])
  enter(a[0], 'horn')
  at(1000)
  leave(a[0], 'horn')
  at(2000)
  match.report('pier.keen', { on: true })
  at(3000)
  // What is weighed again to the same effect shows nobody that it was.
  const shown = match.view('spectator')
  match.report('pier.keen', { on: true })
  enter(b[1])
  expect([match.view('spectator'), times()]).toEqual([shown, '1000 4000'])
  match.report('pier.keen', { on: false })
  expect(match.direct('match.set', { rule: 'zones', settings: { goal: 6000 } })).toEqual({ ok: true })
  at(4999)
  expect(told()).toEqual([])
  at(5000)
  expect(told()).toEqual(['1 at 5000'])
})

test('ZO6, ZO7: two at the goal in one step are tied; when time is up so are those nearly level, else the longest wins', () => {
  const both = onPier()
  both.enter(both.a[0])
  both.enter(both.b[0], 'horn')
  both.at(10_000)
  expect(both.told()).toHaveLength(1) // that ends the round
  expect(both.wins()).toEqual([])
  for (const [more, overtimes] of [
    [100, 1],
    [101, 0],
  ] as const) {
    const { a, b, at, enter, leave, now, wins } = onPier()
    enter(a[0])
    at(2000 + more)
    leave(a[0])
    enter(b[0])
    at(4000 + more)
    leave(b[0])
    at(60_000)
    expect([more, now().overtime, wins().length]).toEqual([more, overtimes, 1 - overtimes])
  }
})

test('ZO11, ZO12, ZO13: positions decide who is in a zone with a place, down or up', () => {
  const { a, at, match, times, enter } = onPier(placed)
  const stand = (seat: string, x: number) => match.report('pier.stand', { seat, x })
  expect(enter(a[0])).toMatchObject({ code: 'zone-has-place' })
  expect(enter(a[0], 'horn')).toEqual({ ok: true })
  match.report('zones.leave', { seat: a[0], zone: 'horn' })
  stand(a[0], 107)
  at(1000)
  stand(a[0], 106)
  at(3000)
  expect(times()).toBe('2000 0')
  match.report('moves.faint', { seat: a[0] })
  at(4000)
  match.report('moves.raise', { seat: a[0], health: 10 })
  at(5000)
  stand(a[0], 93)
  at(6000)
  expect(times()).toBe('3000 0')
  expect(() => bookOf({ counts: 'hours' })).toThrow(/'counts' must be capture or time, not 'hours'/)
  expect(() => bookOf({ places: { gong: { x: 0, y: 0, reach: -1 } } })).toThrow(
    /'gong', which is not in 'names'.*'reach'/,
  )
})

test('law e: times are those of a simulation in ticks of 1 ms', () => {
  const deed = fc.record({ seat: fc.nat(3), zone: fc.nat(1), wait: fc.nat(900), isIn: fc.boolean() })
  fc.assert(
    fc.property(
      fc.array(deed, { maxLength: 25 }),
      fc.constantFrom('stops', 'more-heads'),
      (deeds, contested) => {
        const { a, b, at, enter, leave, times } = onPier(open, { zones: { contested, goal: null } })
        const inside = [new Set<string>(), new Set<string>()]
        const sums = [0, 0]
        let now = 0
        for (const { seat: nth, zone, wait, isIn } of deeds) {
          const seat = [...a, ...b][nth] ?? ''
          for (const there of inside) {
            const heads = [a, b].map((crew) => crew.filter((each) => there.has(each)).length) as [
              number,
              number,
            ]
            for (const [crew, own] of heads.entries()) {
              const foes = heads[1 - crew] ?? 0
              if (own > 0 && (foes === 0 || (contested === 'more-heads' && own > foes)))
                sums[crew] = (sums[crew] ?? 0) + wait
            }
          }
          now += wait
          at(now)
          if (isIn) enter(seat, ['bell', 'horn'][zone])
          else leave(seat, ['bell', 'horn'][zone])
          inside[zone]?.[isIn ? 'add' : 'delete'](seat)
          expect(times()).toBe(sums.join(' '))
        }
      },
    ),
    { numRuns: 30 },
  )
})

test('ZO14: time that is given counts at once, and may reach the goal with nobody there', () => {
  const { match, a, b, at, enter, times, told, wins } = onPier()
  const give = (seat: string, zone: string, ms: number) => match.report('pier.give', { seat, zone, ms })
  enter(a[0])
  at(2000)
  give(a[1], 'bell', 1500)
  give(b[0], 'horn', 9000)
  expect(times()).toBe('3500 9000')
  at(3000)
  expect(times()).toBe('4500 9000')
  expect(give(b[0], 'gong', 1)).toMatchObject({ code: 'bad-input' })
  give(b[1], 'bell', 1000)
  expect([told(), wins()]).toEqual([['1 at 3000'], ['1']])
})

test('ZO15: another goal for the rest of the round, for sides that run towards it and for those beyond it', () => {
  const { match, a, at, enter, told, wins, now } = onPier()
  const aimAt = (ms?: number) => match.report('pier.aim', ms === undefined ? {} : { ms })
  enter(a[0])
  at(4000)
  aimAt(6000)
  at(5999)
  expect(told()).toEqual([])
  aimAt(5000)
  expect([told(), wins(), now().round]).toEqual([['0 at 5999'], ['0'], 1])
  at(7000)
  enter(a[0])
  at(16_999)
  expect(told()).toEqual(['0 at 5999'])
  at(17_000)
  expect(told()).toHaveLength(2)
})
