import fc from 'fast-check'
import { expect, test } from 'vitest'
import { choice, defineRule, defineRulebook, int, list, seatRef, single, text } from 'zinc-referee'
import { firstTo, roster, rounds, scores, step, turns, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const work = step('work')
const hang = step('hang', { budget: 0 })
const rest = step('rest', { budget: null })
const SEATS = ['otter', 'heron', 'vole', 'newt']

const game = defineRule({
  name: 'game',
  needs: [turns, scores, roster],
  state: { log: single({ lines: list(text(), []) }) },
  actions: {
    dig: { when: work, input: {}, decide() {} },
    look: { when: work, cost: 0, input: {}, decide() {} },
    haul: { when: work, cost: 2, input: {}, decide() {} },
    /** Two to hang, and an action more. */
    wish: {
      when: work,
      input: { owed: int(2), more: int(0) },
      decide(match, seat, { owed, more }) {
        match.use(turns).owe(seat, hang, owed)
        match.use(turns).budget({ seat, add: more, why: 'wish' })
      },
    },
    hang: { when: hang, input: {}, onTimeOut: () => ({}), decide() {} },
  },
  directives: {
    give: {
      input: {
        what: choice('extra', 'miss', 'reverse', 'hold', 'go-on', 'finish', 'use-up', 'out'),
        seat: seatRef(),
        n: int(1),
      },
      obey(match, { what, seat, n }) {
        if (what === 'extra') match.use(turns).extra(seat)
        if (what === 'miss') match.use(turns).miss(seat, n)
        if (what === 'reverse') match.use(turns).reverse()
        if (what === 'hold') match.use(turns).hold('tide')
        if (what === 'go-on') match.use(turns).goOn('tide')
        if (what === 'finish') match.use(turns).finish('closed')
        if (what === 'use-up') match.use(turns).useUp(seat)
        if (what === 'out') match.use(roster).putOut(seat, 'home')
      },
    },
    transfer: {
      input: { from: seatRef(), to: seatRef(), n: int(1) },
      obey: (match, { from, to, n }) => match.use(turns).transfer(from, to, n),
    },
    earn: {
      input: { seat: seatRef(), amount: int() },
      obey: (match, given) => match.use(scores).give({ ...given, reason: 'earned' }),
    },
  },
  on: {
    'turns.ended'(match, { seat, why }) {
      match.own.log.lines = [...match.own.log.lines, `${seat ?? 'all'} ${why}`]
    },
    'turns.skipped'(match, { seat, why }) {
      match.own.log.lines = [...match.own.log.lines, `${seat} skipped ${why}`]
    },
    'turns.extra-dropped'(match, { seat, why }) {
      match.own.log.lines = [...match.own.log.lines, `${seat} dropped ${why}`]
    },
    'turns.all-passed'(match) {
      match.own.log.lines = [...match.own.log.lines, 'all passed']
    },
  },
})
/** Two rules that each grant one more when somebody wishes. */
const granting = (name: string) =>
  defineRule({
    name,
    needs: [turns],
    amend: {
      'turns.budget'(_, draft) {
        draft.add.add(1)
      },
    },
  })
const bookOf = (steps: readonly ReturnType<typeof step>[], ...more: any[]) =>
  defineRulebook({
    name: 'game',
    seats: { min: 2, max: 6 },
    rules: [
      scores,
      turns({
        steps,
        inOrder: ({ seats }) => [...seats.slice(1), ...seats.slice(0, 1), ...seats.slice(0, 1)],
      }),
      verdict({ when: [firstTo(1000)] }),
      game,
      ...more,
    ],
  } as any) as any
const simple = bookOf([work])
const steps = bookOf([work, hang])

function playing(settings: object = {}, seats: readonly string[] = SEATS.slice(0, 3), book = simple) {
  const { match } = playMatch(book, seats, { settings: { turns: settings } }) as { match: any }
  const now = () => match.view('spectator').turns.now
  const give = (what: string, seat: string = seats[0] ?? '', n = 1) =>
    match.direct('game.give', { what, seat, n })
  return {
    match,
    now,
    give,
    turn: () => now().seat,
    at: (play: number) => match.advanceTo(3000 + play),
    dig: (seat = now().seat ?? '') => match.submit(seat, 'game.dig', {}),
    pass: (seat = now().seat ?? '') => match.submit(seat, 'turns.pass', {}),
    row: (seat: string) => match.view('spectator').turns.seats[seat],
    log: () => match.state.game.log.lines,
    /** Whose turns the next so many are, each with one action. */
    order(n: number): string[] {
      return Array.from({ length: n }, () => {
        const seat = now().seat
        match.submit(seat, 'game.dig', {})
        return seat
      })
    },
  }
}

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
  const { match, turn, row, give } = playing({}, SEATS, bookOf([step('work', { budget: 3 })]))
  for (let n = 0; n < 5; n++) expect(match.submit('otter', 'game.look', {}).ok).toBe(true)
  expect(row('otter').budget).toBe(3)
  match.submit('otter', 'game.haul', {})
  expect(match.submit('otter', 'game.haul', {})).toMatchObject({ code: 'none-left' })
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
      bankMost: 60_000,
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
  const newest = playing({ extraOrder: 'newest', extraMost: 2 }, SEATS)
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

test('TU23, TU24, TU25: together, it ends when all have acted, or on time; who is away is not awaited without a clock', () => {
  const { match, now, dig, log } = playing({ order: 'together' })
  expect([now().seat, now().seats]).toEqual([null, SEATS.slice(0, 3)])
  dig('heron')
  expect(dig('heron')).toMatchObject({ code: 'none-left' })
  dig('otter')
  match.submit('vole', 'roster.leave', {})
  expect([now().turn, log()]).toEqual([2, ['all done']])
  match.direct('roster.absent', { seat: 'heron' })
  dig('otter')
  expect(now().turn).toBe(2) // awaited: it was asked before it was away
  const timed = playing({ order: 'together', turnTime: 5000 })
  timed.dig('otter')
  timed.at(5000)
  expect([timed.now().turn, timed.log()]).toEqual([2, ['all time-out']])
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

test('laws b to f: turn numbers grow, budgets and banks are never below 0, each has its turns, and somebody always has one', () => {
  const deed = fc.record({
    what: fc.constantFrom(
      'dig',
      'dig',
      'dig',
      'pass',
      'wish',
      'extra',
      'miss',
      'reverse',
      'absent',
      'back',
      'leave',
      'wait',
    ),
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
        for (const each of seats) expect(match.state.roster.seats.of(each).presence).not.toBe('gone')
        const here = match.seats.filter(
          (each: string) => match.state.roster.seats.of(each).presence === 'here',
        )
        if (here.length > 0 && match.view('spectator').phases.now.phase === 'live')
          expect(seats.length).toBeGreaterThan(0)
      }
      expect(match.faults).toEqual([])
    }),
    { numRuns: 100 },
  )
})
