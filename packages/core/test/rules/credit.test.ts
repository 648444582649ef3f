import { expect, test } from 'vitest'
import { largestRemainder } from 'zinc-referee/rules'
import { at, four, hit, news } from '../fixtures/fight-mode.ts'

test('CR2: the surroundings’ down goes to the last foe within the push window, else to nobody', () => {
  const match = four()
  hit(match, 'otter', 'heron', 10)
  at(match, 4999)
  hit(match, 'otter', undefined, 90)
  expect(news(match, 'credit.given')).toMatchObject([{ killer: 'heron', kind: 'pushed' }])
  hit(match, 'vole', 'heron', 10)
  at(match, 9999)
  hit(match, 'vole', undefined, 90)
  expect(news(match, 'credit.given')).toMatchObject([{ killer: null, kind: 'surroundings' }])
})

test('CR5: the assist window is half-open', () => {
  const match = four()
  hit(match, 'otter', 'heron', 10)
  at(match, 1)
  hit(match, 'otter', 'vole', 10)
  at(match, 10_000)
  hit(match, 'otter', 'newt', 80)
  expect(news(match, 'credit.given')).toMatchObject([{ assists: ['vole'] }])
})

test('CR13: two who finish each other at once both count and both streaks end', () => {
  const match = four()
  match.reportAll('moves.hit', [
    { target: 'otter', by: 'heron', amount: 100 },
    { target: 'heron', by: 'otter', amount: 100 },
  ])
  expect(news(match, 'credit.given')).toMatchObject([
    { seat: 'otter', killer: 'heron' },
    { seat: 'heron', killer: 'otter' },
  ])
  for (const seat of ['otter', 'heron'])
    expect(match.state.credit.tally.of(seat)).toMatchObject({ kills: 1, deaths: 1, streak: 0 })
  hit(match, 'vole', 'heron', 100) // in a later step the one already down scores, but adds to no streak
  expect(match.state.credit.tally.of('heron')).toMatchObject({ kills: 2, streak: 0 })
})

test.each([
  ['1 1 1', '34 33 33'],
  ['40 35 26', '39 35 26'],
  ['2 2 2 1', '29 29 28 14'],
  ['1 199', '0 100'],
  ['1 1 1 1 1 1 1', '15 15 14 14 14 14 14'],
  ['70 20 10 1', '69 20 10 1'],
  ['0 0', ''],
])('CR6: the largest remainder of %s to 100 is %s', (amounts, shares) => {
  expect(largestRemainder(amounts.split(' ').map(Number), 100).join(' ')).toBe(shares)
})
