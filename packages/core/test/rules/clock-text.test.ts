import fc from 'fast-check'
import { expect, test } from 'vitest'
import { formatElapsed, formatRemaining, nextChange } from 'zinc-referee'

test.each([
  [0, '0:00'],
  [1, '0:01'],
  [300_000, '5:00'],
  [299_001, '5:00'],
  [299_000, '4:59'],
  [3_600_000, '1:00:00'],
  [3_599_001, '1:00:00'],
  [3_599_000, '59:59'],
  [360_000_000, '100:00:00'],
  [-1, '0:00'],
])('CT1, CT4, CT5: formatRemaining(%i) is %s', (ms, text) => expect(formatRemaining(ms)).toBe(text))

test.each([
  [999, '0:00'],
  [59_999, '0:59'],
  [60_000, '1:00'],
  [-1, '-0:01'],
  [-4500, '-0:05'],
  [0, '0:00'],
])('CT2, CT6: formatElapsed(%i) is %s', (ms, text) => expect(formatElapsed(ms)).toBe(text))

test('CT8: overtime counted up has its plus', () =>
  expect([formatElapsed(0, { plus: true }), formatElapsed(7999, { plus: true })]).toEqual(['+0:00', '+0:07']))
test('CT3: left and gone of one clock may differ by a second from its length', () =>
  expect([formatRemaining(299_001), formatElapsed(999)]).toEqual(['5:00', '0:00']))
test('CT4: hours may be left out', () => expect(formatRemaining(5_400_000, { hours: 'never' })).toBe('90:00'))

test.each([
  [10_000, '0:10'],
  [9901, '0:10'],
  [9900, '0:09.9'],
  [1, '0:00.1'],
  [0, '0:00.0'],
])('CT7: with tenths below 10 s, formatRemaining(%i) is %s', (ms, text) =>
  expect(formatRemaining(ms, { tenthsBelow: 10_000 })).toBe(text),
)

test('CT9: what is no whole number is an error', () => {
  for (const ms of [1.5, Number.NaN, Number.POSITIVE_INFINITY])
    expect(() => formatRemaining(ms)).toThrow(
      expect.objectContaining({ code: 'ZR_TIME_NOT_WHOLE', message: expect.stringContaining(String(ms)) }),
    )
})

const seconds = (text: string): number => text.split(':').reduce((sum, part) => sum * 60 + Number(part), 0)

test('laws: the text parses back, never rises, reads 0:00 only at the end, and changes when it says', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 400_000_000 }), (ms) => {
      expect(seconds(formatRemaining(ms))).toBe(Math.ceil(ms / 1000))
      expect(seconds(formatElapsed(ms))).toBe(Math.floor(ms / 1000))
      expect(formatRemaining(ms) === '0:00').toBe(ms === 0)
      const change = nextChange(ms)
      if (change === undefined) return
      expect(formatRemaining(ms - change)).not.toBe(formatRemaining(ms))
      expect(formatRemaining(ms - change + 1)).toBe(formatRemaining(ms))
    }),
  )
})
