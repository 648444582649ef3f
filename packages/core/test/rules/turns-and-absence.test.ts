import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRulebook } from 'zinc-referee'
import { firstTo, rounds, scores, turns, verdict } from 'zinc-referee/rules'
import { game, playing, SEATS, simple, steps, work } from '../fixtures/turns-mode.ts'

test('TU20, TU21: passing; when all have passed since the last action, that is told and the cycle is over', () => {
  const { pass, dig, turn, log } = playing()
  pass()
  dig()
  pass()
  pass()
  expect(log()).not.toContain('all passed')
  pass()
  expect([log().at(-1), turn()]).toEqual(['all passed', 'otter'])
  expect(playing({ passing: 'never' }).pass()).toMatchObject({ code: 'cannot-pass' })
})

test('TU22: out for the cycle, the one who is left goes on alone until it passes', () => {
  const { pass, order, turn, log } = playing({ passing: 'out-for-cycle' })
  pass()
  pass()
  expect(turn()).toBe('vole')
  expect(order(3)).toEqual(['vole', 'vole', 'vole'])
  pass()
  expect([log().at(-1), turn()]).toEqual(['all passed', 'otter'])
})

test('TU21, TU22: who is skipped counts as having passed: the cycle ends, and a new one begins with who is here', () => {
  const { match, pass, turn, now, log } = playing({ passing: 'out-for-cycle', absentTurn: 'skip' })
  match.direct('roster.absent', { seat: 'heron' })
  match.direct('roster.absent', { seat: 'vole' })
  pass()
  expect(log()).toEqual(['otter passed', 'heron skipped absent', 'vole skipped absent', 'all passed'])
  expect([turn(), now().cycle]).toEqual(['otter', 2])
  expect(match.faults).toEqual([])
})

test('TU23, TU24, TU25: together, it ends when all have acted, or on time; who is away is not awaited without a clock', () => {
  const { match, now, dig, log } = playing({ order: 'together' })
  expect([now().seat, now().seats]).toEqual([null, SEATS.slice(0, 3)])
  dig('heron')
  expect(dig('heron')).toMatchObject({ code: 'none-left' })
  dig('otter')
  match.submit('vole', 'roster.leave', {})
  expect([now().turn, log()]).toEqual([2, ['all done']])
  match.direct('roster.absent', { seat: 'heron' }) // in the turn, which does not wait for it either
  dig('otter')
  expect([now().turn, now().seats]).toEqual([3, ['otter']])
  const timed = playing({ order: 'together', turnTime: 5000 })
  timed.dig('otter')
  timed.match.direct('roster.absent', { seat: 'heron' })
  timed.at(5000)
  expect(timed.now().seats).toEqual(SEATS.slice(0, 3)) // who is away may be back in time
  expect([timed.now().turn, timed.log()]).toEqual([2, ['all time-out']])
  timed.at(10_000)
  expect(timed.log()).toEqual(['all time-out', 'all time-out', 'all passed'])
})

test('TU31, TU32, TU33: who joins comes last, from the next cycle; who goes out ends its turn; one left keeps getting turns', () => {
  const { match, order, give, log, turn } = playing({}, ['otter', 'heron'])
  order(1)
  match.direct('roster.join', { seat: 'vole', name: 'Vole' })
  expect(order(4).join(' ')).toBe('heron otter heron vole')
  give('out', 'otter')
  expect([turn(), log().at(-1)]).toEqual(['heron', 'otter out'])
  give('out', 'vole')
  expect(order(3)).toEqual(['heron', 'heron', 'heron'])
})

test('TU34: neighbours are those in play, in turn order, either way round', () => {
  const { match, give, log, order } = playing({}, SEATS)
  order(1)
  const beside = (seat: string) => {
    give('neighbours', seat)
    return log().at(-1)
  }
  expect([beside('otter'), beside('heron')]).toEqual(['newt heron', 'otter vole'])
  match.submit('vole', 'roster.leave', {})
  give('out', 'newt')
  expect([beside('otter'), beside('heron')]).toEqual(['heron heron', 'otter otter'])
  match.submit('heron', 'roster.leave', {})
  expect(beside('otter')).toBe(' ')
  const reversed = playing({}, SEATS)
  reversed.order(1)
  reversed.give('reverse')
  reversed.give('neighbours', 'otter')
  expect(reversed.log().at(-1)).toBe('heron newt')
})

test('a seat that leaves in its turn: what it did stands, the next has its turn', () => {
  const { match, turn, log } = playing({}, SEATS, steps)
  match.submit('otter', 'game.wish', {})
  match.submit('otter', 'roster.leave', {})
  expect([turn(), log()]).toEqual(['heron', ['otter left']])
})

test.each([
  ['clock', 'its clock runs', 'otter'],
  ['skip', 'it is skipped', 'heron'],
  ['wait', 'it is waited for', 'otter'],
])('absent with a clock, %s: %s', (absentTurn, _what, next) => {
  const { match, order, turn, at } = playing({ absentTurn, turnTime: 10_000 })
  match.direct('roster.absent', { seat: 'otter' })
  order(0)
  match.submit('otter', 'turns.pass', {})
  if (absentTurn === 'skip') {
    match.direct('roster.join', { seat: 'otter', name: 'Otter' })
    order(1)
    match.direct('roster.absent', { seat: 'otter' })
    order(2)
  }
  expect(turn()).toBe(absentTurn === 'skip' ? 'heron' : next)
  at(50_000)
  expect(turn()).not.toBe(absentTurn === 'wait' ? '' : 'otter')
})

test('absent without a clock: its turn passes at once; after two in a row it is skipped, until it acts again', () => {
  const { match, order, log } = playing()
  match.direct('roster.absent', { seat: 'heron' })
  order(3)
  expect(log()).toEqual(['otter done', 'heron time-out', 'vole done', 'otter done', 'heron time-out'])
  order(2)
  expect(log().slice(5)).toEqual(['vole done', 'otter done', 'heron skipped absent'])
  match.direct('roster.join', { seat: 'heron', name: 'Heron' })
  expect(order(3).join(' ')).toBe('vole otter heron')
})

test('absent with a bot that covers: it has its turns as ever; back, they are its own; after the grace it has left', () => {
  const { match, turn, dig, row } = playing({ absentTurn: 'skip' }, SEATS.slice(0, 3), simple, {
    botsCover: true,
  })
  const seat = (id: string) => match.view('spectator').roster.seats[id]
  match.direct('roster.absent', { seat: 'heron' })
  match.direct('roster.absent', { seat: 'heron' })
  expect(seat('heron')).toMatchObject({ presence: 'here', bot: true, covered: true })
  dig()
  expect([turn(), dig('heron').ok, turn()]).toEqual(['heron', true, 'vole'])
  match.direct('roster.join', { seat: 'newt', name: 'Newt' }) // no covered seat is given away
  match.direct('roster.join', { seat: 'heron', name: 'Heron' })
  expect([seat('heron'), seat('newt')]).toMatchObject([{ bot: false, covered: false }, { presence: 'here' }])
  match.direct('roster.absent', { seat: 'heron' })
  match.advanceTo(match.now + 60_000)
  expect(seat('heron')).toMatchObject({ presence: 'left', bot: false, covered: false })
  expect(row('heron').budget).toBe(0)
  expect(match.faults).toEqual([])
})

test('with everybody away turns stand still, and go on when one is back', () => {
  const { match, now, at } = playing({ turnTime: 5000 })
  at(1000)
  for (const seat of SEATS.slice(0, 3)) match.direct('roster.absent', { seat })
  at(30_000)
  expect([now().turn, now().seat]).toEqual([1, 'otter'])
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  at(33_999)
  expect(now().turn).toBe(1)
  at(34_000)
  expect(now().turn).toBe(2)
})

test('held up, nobody acts and the clock stands still, through a pause too', () => {
  const { match, give, at, dig, turn } = playing({ turnTime: 5000 })
  give('hold')
  expect(dig()).toMatchObject({ code: 'not-now' })
  match.direct('phases.pause', {})
  match.direct('phases.resume', {})
  at(20_000)
  expect(turn()).toBe('otter')
  give('go-on')
  at(24_999)
  expect(turn()).toBe('otter')
  at(25_000)
  expect(turn()).toBe('heron')
})

test('finished, no turn begins any more', () => {
  const { give, dig, now } = playing()
  give('finish')
  dig('otter')
  expect(now().turn).toBe(1)
})

test.each([
  ['rotate', 'heron'],
  ['same', 'otter'],
  ['winner', 'vole'],
  ['loser', 'heron'], // two have lost: as rotate
])('RD16, RD17: the next round is begun by %s', (starter, expected) => {
  const book = defineRulebook({
    name: 'game',
    seats: { min: 2, max: 6 },
    rules: [
      rounds({ count: 3 }),
      scores,
      turns({ steps: [work] }),
      verdict({ when: [firstTo(5).decides('round'), firstTo(1000)] }),
      game,
    ],
  } as any) as any
  const { match, turn } = playing({ starter }, SEATS.slice(0, 3), book)
  expect(turn()).toBe('otter')
  match.direct('game.earn', { seat: 'vole', amount: 5 })
  match.advanceTo(match.now + 1)
  expect(turn()).toBe(expected)
})

test('RD18: rotation goes on from the number of a starter that has left', () => {
  const { match, turn } = playing({}, SEATS.slice(0, 3), rematches)
  match.direct('game.earn', { seat: 'vole', amount: 1000 })
  match.submit('otter', 'roster.leave', {})
  for (const seat of ['heron', 'vole']) match.submit(seat, 'rounds.rematch', {})
  match.advanceTo(match.now + 3000)
  expect(turn()).toBe('heron')
})
const rematches = defineRulebook({
  name: 'game',
  seats: { min: 2, max: 6 },
  rules: [rounds, scores, turns({ steps: [work] }), verdict({ when: [firstTo(1000)] }), game],
} as any) as any

test('TU37: when all others are absent, the turn of a seat that leaves is over, and the next begins when somebody is back', () => {
  const { match, now } = playing({ turnTime: null }, SEATS, steps)
  const [first = '', second = '', ...others] = SEATS
  for (const seat of others) match.direct('roster.absent', { seat })
  for (const seat of [first, second]) match.submit(seat, 'roster.leave', {})
  expect(now()).toMatchObject({ seat: null, seats: [] })
  match.direct('roster.join', { seat: others[0], name: others[0] })
  expect(now().seat).toBe(others[0])
})

test('laws b to f: turn numbers grow, budgets and banks are never below 0, each has its turns, and somebody always has one', () => {
  const deed = fc.record({
    what: fc.constantFrom(...'dig dig dig pass wish extra miss reverse absent back leave wait'.split(' ')),
    seat: fc.constantFrom(...SEATS),
    wait: fc.integer({ min: 0, max: 7000 }),
  })
  const settings = fc.record({
    order: fc.constantFrom('seats', 'reversed', 'snake', 'by-score', 'together'),
    turnTime: fc.constantFrom(null, 5000),
    bank: fc.constantFrom(0, 3000),
    passing: fc.constantFrom('this-turn', 'out-for-cycle'),
    absentTurn: fc.constantFrom('clock', 'skip', 'wait'),
  })
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 40 }), settings, (deeds, given) => {
      const { match, now, give, row } = playing(given, SEATS, steps)
      let last = 0
      for (const { what, seat, wait } of deeds) {
        if (what === 'wait') match.advanceTo(match.now + wait)
        else if (what === 'dig') match.submit(seat, 'game.dig', {})
        else if (what === 'pass') match.submit(seat, 'turns.pass', {})
        else if (what === 'wish') match.submit(seat, 'game.wish', { owed: 1, more: 1 })
        else if (what === 'absent') match.direct('roster.absent', { seat })
        else if (what === 'back') match.direct('roster.join', { seat, name: seat })
        else if (what === 'leave' && match.seats.length > 2) match.submit(seat, 'roster.leave', {})
        else if (what === 'extra' || what === 'miss' || what === 'reverse') give(what, seat)
        const { turn, seats } = now()
        expect(turn).toBeGreaterThanOrEqual(last)
        last = turn
        for (const each of match.seats) {
          expect(row(each).budget).toBeGreaterThanOrEqual(-1)
          expect(row(each).bank).toBeGreaterThanOrEqual(0)
        }
        if (match.view('spectator').phases.now.phase !== 'live') continue
        for (const each of seats) expect(match.state.roster.seats.of(each).presence).not.toBe('left')
        const here = match.seats.filter(
          (each: string) => match.state.roster.seats.of(each).presence === 'here',
        )
        if (here.length > 0) expect(seats.length).toBeGreaterThan(0)
      }
      expect(match.faults).toEqual([])
    }),
    { numRuns: 100 },
  )
})
