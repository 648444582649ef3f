import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type MajorityRules, majority } from 'zinc-referee/rules'

const SEATS = ['otter', 'heron', 'vole', 'newt']
const ways = ['pool', 'own-place', 'next-place', 'full-each', 'nobody'] as const
const given = (counts: readonly number[], prizes: readonly number[], how: MajorityRules = {}) => {
  const points = majority(new Map(counts.map((count, at) => [SEATS[at] ?? '', count])), prizes, how)
  return counts.map((_, at) => points.get(SEATS[at] ?? '') ?? 0)
}

// Each way in the order of `ways`.
test.each([
  ['4 3 1', '10 5 2 | 10 5 2 | 10 5 2 | 10 5 2 | 10 5 2'],
  ['3 3 1', '7 7 2 | 5 5 2 | 5 5 5 | 10 10 2 | 0 0 2'],
  ['4 2 2', '10 3 3 | 10 2 2 | 10 2 2 | 10 5 5 | 10 0 0'],
  ['2 2 2', '5 5 5 | 3 3 3 | 3 3 3 | 10 10 10 | 0 0 0'],
  ['3 3 1 1', '7 7 1 1 | 5 5 1 1 | 5 5 2 2 | 10 10 2 2 | 0 0 0 0'],
  ['4 2 2 2', '10 2 2 2 | 10 1 1 1 | 10 1 1 1 | 10 5 5 5 | 10 0 0 0'],
  ['2 2 2 2', '4 4 4 4 | 2 2 2 2 | 2 2 2 2 | 10 10 10 10 | 0 0 0 0'],
  ['5 0 0', '10 0 0 | 10 0 0 | 10 0 0 | 10 0 0 | 10 0 0'],
])('check values, SC10, SC11, SC12, SC13, SC14: prizes 10 5 2 for counts %s', (counts, expected) => {
  const points = ways.map((tiedPrize) =>
    given(counts.split(' ').map(Number), [10, 5, 2], { tiedPrize }).join(' '),
  )
  expect(points.join(' | ')).toBe(expected)
})

test('check values: two prizes 15 and 8, pooled', () => {
  expect(
    [
      [3, 3],
      [4, 2, 2],
      [2, 2, 2],
    ].map((counts) => given(counts, [15, 8])),
  ).toEqual([
    [11, 11],
    [15, 4, 4],
    [7, 7, 7],
  ])
})

test('SC9, SC15, SC16, SC19: only who has any takes part; alone the first prize, or all; nobody none; the last prizes stay', () => {
  expect(given([0, 3, 0], [10, 5, 2])).toEqual([0, 10, 0])
  expect(given([0, 3, 0], [10, 5, 2], { alone: 'all' })).toEqual([0, 17, 0])
  expect(given([0, 0, 0], [10, 5, 2])).toEqual([0, 0, 0])
  expect(given([0, 3, 0], [10, 4], { zeroTakesPart: true })).toEqual([2, 10, 2])
  expect(given([2, 1], [10, 5, 2])).toEqual([10, 5])
  expect(() => given([-1, 3], [10])).toThrow("counts -1 for 'otter'")
})

test('SC17, SC18: shares are rounded down to a multiple, of prizes below 0 towards it; the rest is lost, or the lowest seat has it', () => {
  expect(given([1, 1], [2500, 0], { roundTo: 100 })).toEqual([1200, 1200])
  expect(given([1, 1], [-5])).toEqual([-2, -2])
  expect(given([1, 1, 1], [10], { rest: 'lowest-seat' })).toEqual([4, 3, 3])
})

test('laws c, d: never more is given than there is, but for the full prize each; equal counts get equal prizes, more never gets less', () => {
  const counts = fc.array(fc.nat(6), { minLength: 1, maxLength: 4 })
  const prizes = fc.array(fc.nat(30), { maxLength: 4 }).map((list) => [...list].sort((a, b) => b - a))
  fc.assert(
    fc.property(counts, prizes, fc.constantFrom(...ways), (list, falling, tiedPrize) => {
      const points = given(list, falling, { tiedPrize })
      const all = falling.reduce((sum, each) => sum + each, 0)
      const sum = points.reduce((one, other) => one + other, 0)
      if (tiedPrize !== 'full-each') expect(sum).toBeLessThanOrEqual(all)
      for (const [a, count] of list.entries())
        for (const [b, other] of list.entries()) {
          if (count === other) expect(points[a]).toBe(points[b])
          if (count > other && (tiedPrize === 'pool' || tiedPrize === 'full-each'))
            expect(points[a] ?? 0).toBeGreaterThanOrEqual(points[b] ?? 0)
        }
    }),
  )
})
