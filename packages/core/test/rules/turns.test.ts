import { expect, test } from 'vitest'
import { defineRule, defineRulebook, flag, refuse, single } from 'zinc-referee'
import { scores, turnStep, turns, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { bookOf, game, granting, hang, playing, rest, SEATS, steps, work } from '../fixtures/turns-mode.ts'

test.each([
  ['seats', 'otter heron vole otter heron vole otter'],
  ['reversed', 'otter vole heron otter vole heron otter'],
  ['snake', 'otter heron vole vole heron otter otter'], // TU16: check value of three
  ['custom', 'heron vole otter otter heron vole otter'], // TU19: repeats are allowed
])('the order %s', (order, expected) => {
  expect(playing({ order }).order(7).join(' ')).toBe(expected)
})

test('TU16: snake of two: A B B A A B B A', () => {
  expect(playing({ order: 'snake' }, ['otter', 'heron']).order(8).join(' ')).toBe(
    'otter heron heron otter otter heron heron otter',
  )
})

test('TU18: by score, sorted when a cycle begins; level seats keep their order, later changes wait', () => {
  const { match, order } = playing({ order: 'by-score', byScore: 'high-first' })
  expect(order(1)).toEqual(['otter'])
  match.direct('game.earn', { seat: 'vole', amount: 5 })
  expect(order(2)).toEqual(['heron', 'vole'])
  expect(order(3)).toEqual(['vole', 'otter', 'heron'])
})

test('TU1, TU2: two rules that each grant one more action grant two, even with the last one gone', () => {
  const { match, turn, row, dig } = playing(
    {},
    ['otter', 'heron'],
    bookOf([work, hang], granting('one'), granting('two')),
  )
  match.submit('otter', 'game.wish', { owed: 0 })
  expect([turn(), row('otter').budget]).toEqual(['otter', 2])
  dig()
  dig()
  expect(turn()).toBe('heron')
})

test('costs: a free action takes nothing, one of two needs two; used up, transferred, and without limit', () => {
  const { match, turn, row, give } = playing({}, SEATS, bookOf([turnStep('work', { budget: 3 })]))
  for (let n = 0; n < 5; n++) expect(match.submit('otter', 'game.look', {}).ok).toBe(true)
  expect(row('otter').budget).toBe(3)
  match.submit('otter', 'game.haul', {})
  expect(match.submit('otter', 'game.haul', {})).toMatchObject({ code: 'none-left' })
  // Less than nothing, or more than there is, would make a budget that is not there, or one without limit.
  for (const n of [-1, -2, 2]) {
    const ruling = match.direct('game.transfer', { from: 'otter', to: 'heron', n })
    expect([n, ruling.ok, row('otter').budget]).toEqual([n, false, 1])
  }
  match.direct('game.transfer', { from: 'otter', to: 'heron' })
  expect([turn(), row('heron').budget]).toEqual(['heron', 4])
  give('use-up', 'heron')
  expect(turn()).toBe('vole')
  const free = playing({}, SEATS, bookOf([work, rest]))
  free.dig()
  expect([free.now().step, free.row('otter').budget]).toEqual(['rest', -1])
  expect(free.match.submit('otter', 'turns.close-step', {})).toEqual({ ok: true })
  expect(free.turn()).toBe('heron')
})

test('duties: a step with nothing to do is skipped; what is owed holds the turn, and cannot be passed', () => {
  const { match, now, turn, dig, pass } = playing({}, ['otter', 'heron'], steps)
  dig()
  expect(turn()).toBe('heron') // nothing was owed: hang is skipped
  match.submit('heron', 'game.wish', {})
  expect([turn(), now().step]).toEqual(['heron', 'hang'])
  expect(pass()).toMatchObject({ code: 'owes', details: { step: 'hang' } })
  expect(match.submit('heron', 'turns.close-step', {})).toMatchObject({ code: 'owes' })
  expect(dig()).toMatchObject({ code: 'wrong-step' })
  match.submit('heron', 'game.hang', {})
  expect(turn()).toBe('heron')
  match.submit('heron', 'game.hang', {})
  expect(turn()).toBe('otter')
})

test('TU3: who has budget left and no option passes by itself where passing is not allowed', () => {
  const { log, order } = playing({ passing: 'never' }, ['otter', 'heron'], bookOf([work, rest]))
  expect(order(2)).toEqual(['otter', 'heron'])
  expect(log()).toEqual(['otter stuck', 'heron stuck', 'all passed'])
})

test('TU4: at the time-out the default is done for each duty that is left, and what was done stands', () => {
  const { match, at, turn, log } = playing({ turnTime: 10_000 }, ['otter', 'heron'], steps)
  match.submit('otter', 'game.wish', { owed: 3 })
  match.submit('otter', 'game.hang', {})
  at(10_000)
  expect([turn(), log()]).toEqual(['heron', ['otter time-out']])
  const plain = playing({ turnTime: 10_000, timeOut: 'end-turn' }, ['otter', 'heron'], steps)
  plain.match.submit('otter', 'game.wish', { owed: 3 })
  plain.at(10_000)
  expect([plain.turn(), plain.row('otter').owes]).toEqual(['heron', {}])
})

test('TU6: at the ms of the time-out it is too late: tagged it is stale, untagged another’s turn', () => {
  const { match, at, now } = playing({ turnTime: 10_000 })
  expect(now().turn).toBe(1)
  at(10_000)
  expect(match.submit('otter', 'game.dig', {}, { turn: 1 })).toMatchObject({
    code: 'stale-turn',
    details: { turn: 2 },
  })
  expect(match.submit('otter', 'game.dig', {})).toMatchObject({ code: 'not-your-turn' })
  expect(match.submit('heron', 'game.dig', {}, { turn: 2 })).toEqual({ ok: true })
})

test('TU7: check values of the bank: turn 20 s, bank 60 s, add 5 s, most 60 s', () => {
  const bankAfter = (used: number) => {
    const { at, dig, row, now } = playing({
      turnTime: 20_000,
      bank: 60_000,
      addPerTurn: 5000,
      maxBank: 60_000,
    })
    expect(now().ends).toBe(80_000)
    at(used)
    if (used < 80_000) dig()
    return row('otter').bank
  }
  expect([12_000, 50_000, 80_000].map(bankAfter)).toEqual([60_000, 35_000, 5000])
})

test('TU8, TU9: extra turns come right after the present one, the oldest first; the order goes on as if they had not been', () => {
  const { give, order } = playing({}, SEATS)
  give('extra', 'vole')
  give('extra', 'otter')
  give('extra', 'otter')
  expect(order(6).join(' ')).toBe('otter vole otter otter heron vole')
  const newest = playing({ extraOrder: 'newest', maxExtra: 2 }, SEATS)
  for (const seat of ['vole', 'newt', 'heron']) newest.give('extra', seat)
  expect(newest.order(4).join(' ')).toBe('otter newt vole heron')
  expect(newest.log()).toContain('heron dropped too-many')
})

test('TU10: an extra turn of who has left is dropped, and told so', () => {
  const { match, give, order, log } = playing({}, SEATS)
  give('extra', 'vole')
  match.submit('vole', 'roster.leave', {})
  expect(order(3).join(' ')).toBe('otter heron newt')
  expect(log()).toContain('vole dropped left')
})

test('TU12: turns to miss are counted down when a regular turn comes; an extra one is not missed', () => {
  const { give, order, log } = playing({}, SEATS.slice(0, 3))
  give('miss', 'heron', 2)
  give('extra', 'heron')
  expect(order(7).join(' ')).toBe('otter heron vole otter vole otter heron')
  expect(log().filter((line: string) => line.includes('skipped'))).toEqual([
    'heron skipped missed',
    'heron skipped missed',
  ])
})

test('TU13, TU14, TU15: the other way round; with two it changes nothing; twice in one turn, too', () => {
  const { give, order } = playing({}, SEATS)
  expect(order(1)).toEqual(['otter'])
  give('reverse')
  expect(order(6).join(' ')).toBe('heron otter newt vole heron otter')
  const two = playing({}, ['otter', 'heron'])
  two.give('reverse')
  expect(two.order(3).join(' ')).toBe('otter heron otter')
  const twice = playing({}, SEATS)
  twice.order(1)
  twice.give('reverse')
  twice.give('reverse')
  expect(twice.order(4).join(' ')).toBe('heron vole newt otter')
})

test('TU17: who leaves in a snake goes from the rest of both legs', () => {
  const { match, order } = playing({ order: 'snake' })
  expect(order(2)).toEqual(['otter', 'heron'])
  match.submit('heron', 'roster.leave', {})
  expect(order(5).join(' ')).toBe('vole vole otter otter vole')
})

test('TU19: an own order that names a stranger is a fault, and the former order stays', () => {
  const odd = defineRulebook({
    name: 'game',
    seats: { min: 2, max: 6 },
    rules: [
      scores,
      turns({
        steps: [work],
        order: 'custom',
        inOrder: ({ cycle, seats }) => (cycle > 1 ? ['pike'] : seats),
      }),
      game,
    ],
  } as any) as any
  const { match, order, turn } = playing({}, ['otter', 'heron'], odd)
  order(1)
  expect(match.submit('heron', 'game.dig', {})).toMatchObject({ code: 'fault' })
  expect([turn(), String(match.faults[0].error)]).toEqual([
    'heron',
    expect.stringContaining("'pike', who is not in play"),
  ])
})

test('TU40: when nobody can do anything, each passes by itself once, and the turn waits until somebody can', () => {
  const step = turnStep('act')
  const gate = defineRule({
    name: 'gate',
    needs: [turns],
    state: { lock: single({ open: flag(false) }) },
    actions: {
      pass: {
        when: step,
        offered: true,
        input: {},
        decide: (match) => (match.own.lock.open ? undefined : refuse('shut')),
      },
    },
    refusals: { shut: 'The gate is shut. Wait until it opens.' },
    facts: {
      unlock: {
        input: {},
        handle(match) {
          match.own.lock.open = true
        },
      },
    },
  })
  const book = defineRulebook({
    name: 'gate',
    seats: { min: 2, max: 4 },
    rules: [turns({ steps: [step], passing: 'never', turnTime: 5000 }), verdict, gate],
  })
  const { match } = playMatch(book, ['otter', 'heron'])
  const turn = () => match.view('spectator').turns.now
  expect([match.faults, turn().seat, turn().turn]).toEqual([[], 'otter', 3])
  match.advanceTo(match.now + 5000)
  expect([turn().seat, turn().turn]).toEqual(['heron', 4])
  expect(match.submit('heron', 'turns.pass', {})).toEqual({ ok: true })
  expect([turn().seat, turn().turn]).toEqual(['otter', 7])
  match.report('gate.unlock', {})
  expect(match.submit('otter', 'gate.pass', {})).toEqual({ ok: true })
  expect([match.faults, turn().seat]).toEqual([[], 'heron'])
})
