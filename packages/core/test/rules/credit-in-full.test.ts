import fc from 'fast-check'
import { expect, test } from 'vitest'
import { creditMatch } from '../fixtures/credit-mode.ts'

test.each([
  ['last-blow', 'vole'],
  ['most-damage', 'heron'],
] as const)('CR1: by %s', (who, killer) => {
  const { hit, given } = creditMatch({ who })
  hit('heron', 60)
  hit('vole', 40)
  expect(given()).toMatchObject({ killer, kind: 'kill' })
})

test('CR1: level in damage, who struck last is the killer if it is among them, else whose mark is the latest', () => {
  const among = creditMatch({ who: 'most-damage' })
  among.hit('heron', 50)
  among.hit('vole', 50)
  expect(among.given()).toMatchObject({ killer: 'vole' })
  const beside = creditMatch({ who: 'most-damage' })
  beside.hit('vole', 45)
  beside.hit('heron', 45)
  beside.hit('newt', 10)
  expect(beside.given()).toMatchObject({ killer: 'heron' })
})

test('CR2, CR8: a push counts when the surroundings finish a seat, and not for shares or assists; nor at all where nobody shall have it', () => {
  const { at, hit, push, given } = creditMatch()
  hit('heron', 30)
  push('vole')
  at(4999)
  hit(undefined, 70)
  expect(given()).toMatchObject({ killer: 'vole', kind: 'pushed', assists: ['heron'] })
  const late = creditMatch()
  late.push('vole')
  late.at(5000)
  late.hit(undefined, 100)
  expect(late.given()).toMatchObject({ killer: null, kind: 'surroundings' })
  const none = creditMatch({ surroundings: 'nobody' })
  none.push('vole')
  none.hit(undefined, 100)
  expect(none.given()).toMatchObject({ killer: null, kind: 'surroundings' })
})

test('CR3: who brings itself down has no killer and gives no assists, unless the last foe shall have it', () => {
  const self = creditMatch({ points: { self: -1 } })
  self.hit('heron', 50)
  self.hit('otter', 50)
  expect(self.given()).toMatchObject({ killer: null, kind: 'self', assists: [] })
  expect(self.points('otter')).toBe(-1)
  const foe = creditMatch({ selfDown: 'last-foe' })
  foe.hit('heron', 50)
  foe.hit('otter', 50)
  expect(foe.given()).toMatchObject({ killer: 'heron', kind: 'pushed' })
})

test('CR7: assists by share, then by the earlier mark; cut at the most; flat points or by share', () => {
  const { hit, given, points } = creditMatch({ maxAssists: 2, assistBy: 'share', points: { assist: 10 } })
  hit('heron', 20)
  hit('vole', 35)
  hit('newt', 20)
  hit('coot', 25)
  expect(given()).toMatchObject({ killer: 'coot', assists: ['vole', 'heron'] })
  expect(['vole', 'heron', 'newt'].map(points)).toEqual([3, 2, 0])
})

test.each([
  ['oldest', 0],
  ['nothing', 1],
  ['in-proportion', 0],
] as const)('CR9: 40 by one, a heal of 40, 100 by another, marks taken away: %s', (healErases, assists) => {
  const { match, hit, heal, tally } = creditMatch({ healErases })
  hit('heron', 40)
  heal(40)
  hit('vole', 100)
  expect(tally('heron').assists).toBe(assists)
  match.advanceTo(match.now) // it comes back at the same ms
  expect(match.state.credit.marks.all().length).toBe(0) // no mark outlives a life
})

test('CR9: the oldest marks go first, whoever’s they are; in proportion all become smaller alike', () => {
  const marks = (healErases: string) => {
    const { match, hit, heal } = creditMatch({ healErases })
    hit('heron', 30)
    hit('vole', 30)
    heal(40)
    return match.state.credit.marks.all().map(({ by, health }) => [by, health])
  }
  expect(marks('oldest')).toEqual([
    ['heron', 0],
    ['vole', 20],
  ])
  expect(marks('in-proportion')).toEqual([
    ['heron', 10],
    ['vole', 10],
  ])
})

test('CR10: what a shield took counts, or not; when it recharges its oldest marks go first', () => {
  const shield = { shield: 50, shieldDelay: 1000, shieldRate: 50 }
  const regrown = creditMatch({}, shield)
  regrown.hit('heron', 50)
  regrown.at(1000)
  regrown.hit('vole', 150)
  expect(regrown.given()).toMatchObject({ killer: 'vole', assists: [] })
  const counted = creditMatch({}, { shield: 50 })
  counted.hit('heron', 50)
  counted.hit('vole', 100)
  expect(counted.given()).toMatchObject({ assists: ['heron'] })
  const not = creditMatch({ shieldCounts: false }, { shield: 50 })
  not.hit('heron', 50)
  not.hit('vole', 100)
  expect(not.given()).toMatchObject({ assists: [] })
})

test.each([
  ['keep', 'heron', 'kill', 1],
  ['next', 'vole', 'kill', 0],
  ['nobody', null, 'kill', 0],
] as const)('CR11, CR12: a killer that has left, %s', (leaverCredit, killer, kind, kills) => {
  const { match, hit, given, tally } = creditMatch({ leaverCredit })
  hit('vole', 30)
  match.submit('heron', 'roster.leave', {})
  hit('heron', 70)
  expect(given()).toMatchObject({ killer, kind })
  expect(tally('heron').kills).toBe(kills)
})

test('CR13, CR15: a streak counts kills since the own last down, and is told when it is over at three or more', () => {
  const { match, hit, tally, told } = creditMatch()
  for (const target of ['heron', 'vole', 'newt']) {
    hit('otter', 100, target)
    match.advanceTo(match.now + 1)
  }
  expect(tally('otter').streak).toBe(3)
  match.flush()
  hit('heron', 100)
  expect([tally('otter').streak, told('credit.streak-ended')]).toEqual([0, [{ seat: 'otter', streak: 3 }]])
})

test('CR15: a streak is told as it grows, from the number on that the mode says', () => {
  const { match, hit, told } = creditMatch({ streakFrom: 2 })
  for (const target of ['heron', 'vole', 'newt']) {
    hit('otter', 100, target)
    match.advanceTo(match.now + 1)
  }
  expect(told('credit.streak')).toEqual([2, 3].map((streak) => ({ seat: 'otter', streak })))
})

test('CR16, CR17: kills in one step, and less than the window after one another, are one series', () => {
  const { match, at, hit, tally } = creditMatch()
  match.reportAll(
    'moves.hit',
    ['heron', 'vole'].map((target) => ({ target, by: 'otter', amount: 100 })),
  )
  expect(tally('otter')).toMatchObject({ multi: 2, streak: 2 })
  at(3999)
  hit('otter', 100, 'newt')
  expect(tally('otter').multi).toBe(3)
  at(7999)
  hit('otter', 100, 'newt')
  expect(tally('otter').multi).toBe(1)
  at(11_998)
  hit('otter', 100, 'newt')
  expect(tally('otter').multi).toBe(2)
})

test('revenge: who brings down who brought it down last is told so, once for each time, and never by a push of nobody', () => {
  const { match, hit, given } = creditMatch()
  hit('heron', 100)
  expect(given()).toMatchObject({ revenge: false })
  match.advanceTo(match.now + 1)
  hit('otter', 100, 'heron')
  expect(given()).toMatchObject({ killer: 'otter', revenge: true })
  match.advanceTo(match.now + 1)
  hit('otter', 100, 'heron')
  expect(given()).toMatchObject({ killer: 'otter', revenge: false })
})

test('a late fact counts for windows of memory from when it happened, and takes its place among the marks by that', () => {
  const { match, at, hit, given } = creditMatch({ assistWindow: 1000, assistAt: 1 })
  const late = (by: string, happened: number) =>
    match.report('moves.hit', { target: 'otter', by, amount: 10 }, { at: 3000 + happened })
  at(1000)
  expect(late('vole', 500)).toEqual({ ok: true })
  expect(late('newt', 700)).toEqual({ ok: true })
  at(1500)
  hit('heron', 80)
  // 500 is a window ago, 700 is not.
  expect(given()).toMatchObject({ killer: 'heron', assists: ['newt'] })
})

test('a fact older than the mode allows is stale, and one of the future is no fact; a volley of them too', () => {
  const { match, at, tally } = creditMatch()
  at(1000)
  const push = (when: number) =>
    match.report('moves.push', { target: 'otter', by: 'heron' }, { at: 3000 + when })
  const hash = match.hash()
  expect(push(499)).toMatchObject({ ok: false, code: 'stale', details: { oldest: 3500 } })
  expect(push(1001)).toMatchObject({ code: 'bad-input' })
  expect(push(0.5)).toMatchObject({ code: 'bad-input' })
  const volley = [{ target: 'otter', by: 'heron', amount: 100 }]
  expect(match.reportAll('moves.hit', volley, { at: 3000 })).toMatchObject([{ code: 'stale' }])
  expect(match.hash()).toBe(hash)
  expect(match.reportAll('moves.hit', volley, { at: 3500 })).toEqual([{ ok: true }])
  expect(tally('heron').kills).toBe(1)
})

test('CR18: credit that is refused: the down stands, and nobody is its killer', () => {
  const { match, hit, given, tally } = creditMatch()
  match.report('brawl.vow', { seat: 'heron' })
  hit('heron', 100)
  expect(given()).toMatchObject({ killer: null })
  expect([tally('heron').kills, tally('otter').deaths]).toEqual([0, 1])
})

test('laws a to e: one credit a down at most, shares add up to 100, the killer assists in nothing, no mark outlives a life', () => {
  const seats = ['otter', 'heron', 'vole', 'newt', 'coot']
  const deed = fc.record({
    what: fc.constantFrom('hit', 'hit', 'heal', 'push', 'leave'),
    by: fc.constantFrom(...seats, undefined),
    target: fc.constantFrom(...seats),
    amount: fc.integer({ min: 0, max: 120 }),
    wait: fc.nat(6000),
  })
  const settings = fc.record({
    who: fc.constantFrom('last-blow', 'most-damage'),
    healErases: fc.constantFrom('oldest', 'nothing', 'in-proportion'),
    leaverCredit: fc.constantFrom('keep', 'next', 'nobody'),
    selfDown: fc.constantFrom('nobody', 'last-foe'),
    shieldCounts: fc.boolean(),
  })
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 40 }), settings, (deeds, given) => {
      const { match, hit, told } = creditMatch(given, {
        shield: 20,
        shieldRate: 5,
        regenRate: 4,
        regenDelay: 1000,
      })
      let credits = 0
      for (const { what, by, target, amount, wait } of deeds) {
        match.advanceTo(match.now + wait)
        if (what === 'hit') hit(by, amount, target)
        if (what === 'heal') match.report('moves.heal', { target, amount })
        if (what === 'push' && by !== undefined) match.report('moves.push', { target, by })
        if (what === 'leave' && match.seats.length > 3) match.submit(target, 'roster.leave', {})
        for (const cells of told('credit.given')) {
          credits++
          const { seat, killer, assists } = cells as {
            seat: string
            killer: string | null
            assists: string[]
          }
          expect(assists).not.toContain(killer)
          expect(assists).not.toContain(seat)
        }
        match.advanceTo(match.now)
        for (const { target: marked } of match.state.credit.marks.all())
          expect(match.state.vitals.body.of(marked).down).toBe(false)
        for (const seat of match.seats) {
          const { vitals, credit } = match.state
          const lives = vitals.lives.of(seat).life - (vitals.body.of(seat).down ? 0 : 1)
          expect(credit.tally.of(seat).deaths).toBe(lives)
        }
      }
      const sum = (cell: 'deaths' | 'kills') =>
        seats.reduce((all, seat) => all + match.state.credit.tally.of(seat)[cell], 0)
      expect(sum('deaths')).toBe(credits)
      expect(sum('kills')).toBeLessThanOrEqual(credits)
      expect(match.faults).toEqual([])
    }),
  )
})
