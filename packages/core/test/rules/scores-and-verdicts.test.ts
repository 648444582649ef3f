import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, seatRef } from 'zinc-referee'
import { largestRemainder, rankGroups, scores } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { at, fight, four } from '../fixtures/fight-mode.ts'

test('shares always sum to the whole and never miss their quota by one or more', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(10 ** 9), { minLength: 1, maxLength: 9 }), (amounts) => {
      const sum = amounts.reduce((a, b) => a + b, 0)
      fc.pre(sum > 0)
      const shares = largestRemainder(amounts, 100)
      expect(shares.reduce((a, b) => a + b, 0)).toBe(100)
      for (const [index, share] of shares.entries())
        expect(Math.abs(share - (100 * (amounts[index] ?? 0)) / sum)).toBeLessThan(1)
    }),
  )
})

test.each([
  ['100 90 90 80', '1 2 2 4', '1 2 2 3', '1 3 3 4', '1 2.5 2.5 4'],
  ['7 7 5 5 3', '1 1 3 3 5', '1 1 2 2 3', '2 2 4 4 5', '1.5 1.5 3.5 3.5 5'],
  ['9 8 8 8 1', '1 2 2 2 5', '1 2 2 2 3', '1 4 4 4 5', '1 3 3 3 5'],
  ['10 10 10', '1 1 1', '1 1 1', '3 3 3', '2 2 2'],
])('SC5: the ranks of %s', (line, ...expected) => {
  const values = line.split(' ')
  const level = values.map((value, index) => index > 0 && values[index - 1] === value)
  const ranks = (style: Parameters<typeof rankGroups>[1]) => rankGroups(level, style).join(' ')
  expect((['competition', 'dense', 'modified', 'fractional'] as const).map(ranks)).toEqual(expected)
  expect(ranks('ordinal')).toBe(values.map((_, index) => index + 1).join(' '))
})

test('SC1: an amount of 0 writes no row; SC7, SC8: level seats share a rank, and those who left stand last', () => {
  const match = four()
  match.report('moves.earn', { seat: 'vole', amount: 0 })
  expect(match.state.scores.ledger.all()).toEqual([])
  for (const [seat, amount] of [
    ['otter', 3],
    ['heron', 9],
    ['vole', 3],
    ['newt', 9],
  ] as const)
    match.report('moves.earn', { seat, amount })
  match.submit('heron', 'roster.leave', {})
  const ranks = Object.fromEntries(
    Object.entries(match.view('spectator').scores.places).map(([seat, { rank }]) => [seat, rank]),
  )
  expect(ranks).toEqual({ newt: 1, otter: 2, vole: 2, heron: 4 })
  expect(match.state.scores.sums.of('heron').score).toBe(9)
})

test('SC6: measures tell seats apart one after another; the ledger sums to the scores', () => {
  const match = four()
  for (const [seat, amount] of [
    ['otter', 5],
    ['heron', -2],
    ['heron', 7],
    ['vole', 1],
  ] as const)
    match.report('moves.earn', { seat, amount })
  const sums = new Map<string, number>()
  for (const { to, amount } of match.state.scores.ledger.all()) sums.set(to, (sums.get(to) ?? 0) + amount)
  for (const [seat, sum] of sums) expect(match.state.scores.sums.of(seat).score).toBe(sum)
  expect(match.view('otter').scores.places['heron']?.rank).toBe(1)
})

test('VE1, VE13: when time is up the most wins, and level seats draw', () => {
  const won = four()
  won.report('moves.earn', { seat: 'vole', amount: 2 })
  at(won, 300_000)
  expect(won.state.verdict.end).toMatchObject({
    kind: 'win',
    winners: ['vole'],
    reason: 'most-at-time',
    at: 300_000,
  })
  const drawn = four()
  for (const seat of ['vole', 'newt']) drawn.report('moves.earn', { seat, amount: 2 })
  at(drawn, 300_000)
  expect(drawn.state.verdict.end).toMatchObject({ kind: 'draw', winners: ['vole', 'newt'] })
})

test('VE5, VE16: at the ms time is up every input is too late, and nothing is scored after the verdict', () => {
  const match = four()
  at(match, 299_999)
  expect(match.report('moves.earn', { seat: 'otter', amount: 1 })).toEqual({ ok: true })
  at(match, 300_000)
  expect(match.report('moves.earn', { seat: 'heron', amount: 9 })).toMatchObject({ code: 'over' })
  expect(match.submit('heron', 'moves.wave', {})).toMatchObject({ code: 'over' })
  expect(match.state.verdict.end).toMatchObject({ winners: ['otter'] })
})

test('VE9: the last seat in play wins by forfeit; an absent one is still in play', () => {
  const match = four()
  for (const seat of ['otter', 'heron'] as const) match.submit(seat, 'roster.leave', {})
  match.direct('roster.absent', { seat: 'vole' })
  expect(match.state.verdict.end.kind).toBeUndefined()
  match.submit('newt', 'roster.leave', {})
  expect(match.state.verdict.end).toMatchObject({ kind: 'win', winners: ['vole'], reason: 'forfeit' })
})

test('SC1, SC2: with a least score the ledger holds what has really changed, and nothing at all where nothing has', () => {
  const { match } = fight({ scores: { minScore: 0 } })
  const earn = (amount: number) => match.report('moves.earn', { seat: 'otter', amount })
  const rows = () => match.state.scores.ledger.all().map(({ amount }) => amount)
  earn(0)
  earn(1)
  earn(-3)
  earn(-3)
  expect([rows(), match.state.scores.sums.of('otter').score]).toEqual([[1, -1], 0])
})

test('SC3, SC20: a referee takes an entry back once, by a counter-entry of what it had really changed; and corrects', () => {
  const { match } = fight({ scores: { minScore: 0 } })
  for (const amount of [5, -9]) match.report('moves.earn', { seat: 'otter', amount })
  const [, clipped] = match.state.scores.ledger.all()
  // A referee at a venue knows the entry as spectators do.
  const shown = Object.entries(match.view('spectator').scores.ledger).find(([, { amount = 0 }]) => amount < 0)
  expect(shown?.[0]).not.toBe(clipped?.id)
  const take = () => match.direct('scores.void', { row: shown?.[0] ?? '' }, { referee: 'Heron' })
  expect(take()).toEqual({ ok: true })
  expect(match.state.scores.sums.of('otter').score).toBe(5)
  expect(match.state.scores.ledger.all().map(({ amount, reason }) => [amount, reason])).toEqual([
    [5, 'earned'],
    [-5, 'earned'],
    [5, 'void'],
  ])
  expect(take()).toMatchObject({ code: 'already-void' })
  expect(match.direct('scores.void', { row: 'nothing' })).toMatchObject({ code: 'no-such-target' })
  // What the score cannot lose is not taken back: 1, 0 (by -3), and the 1 taken back would be less than the least.
  for (const amount of [1, -3]) match.report('moves.earn', { seat: 'heron', amount })
  const [one] = match.state.scores.ledger.all().filter(({ to }) => to === 'heron')
  expect(match.direct('scores.void', { row: one?.id ?? '' })).toEqual({ ok: true })
  expect(match.state.scores.sums.of('heron').score).toBe(0)
  for (const correction of [{ amount: 4 }, { amount: -9, reason: 'cut the buoy' }])
    expect(match.direct('scores.correct', { seat: 'heron', ...correction })).toEqual({ ok: true })
  const rows = match.state.scores.ledger.all().slice(-2)
  expect(rows.map(({ amount, reason }) => [amount, reason])).toEqual([
    [4, 'corrected'],
    [-4, 'cut the buoy'],
  ])
  expect(match.direct('scores.void', { row: rows[0]?.id ?? '' })).toEqual({ ok: true })
})

test('the board holds so many of the best, the first first; entries are hidden where the mode says so', () => {
  const earning = defineRule({
    name: 'earning',
    needs: [scores],
    facts: {
      earn: {
        input: { seat: seatRef(), amount: int() },
        handle: (match, given) => match.use(scores).give({ ...given, reason: 'earned' }),
      },
    },
  })
  const rules = [scores({ board: 2, ledgerSeen: 'nobody' }), earning] as const
  const book = defineRulebook({ name: 'earning', seats: { min: 1, max: 3 }, rules })
  const { match } = playMatch(book, ['otter', 'heron', 'vole'])
  for (const [seat, amount] of [
    ['otter', 1],
    ['heron', 3],
    ['vole', 2],
  ] as const)
    match.report('earning.earn', { seat, amount })
  const { board, ledger, sums } = match.view('spectator').scores
  expect([board.top, ledger, sums['otter']?.score]).toEqual([['heron', 'vole'], undefined, 1])
})
