import fc from 'fast-check'
import { expect, test } from 'vitest'
import { choicesOf, drawn, draws, settingsOf } from '../fuzz/drawn-settings.ts'
import { bookOf, OPTIONAL } from '../fuzz/fuzzed-book.ts'
import { fuzzed, hold, shape } from '../fuzz/fuzzed-play.ts'

test('rules thrown together, played at random, with code that throws anywhere, seats that come and go, and looks in between', () => {
  fc.assert(fc.property(fuzzed, hold), { numRuns: 20, endOnFailure: false })
})

test('in 250 of its rulebooks every rule and every value of a setting comes; the soak counts in thousands', () => {
  drawn.clear()
  const rules = new Set<string>()
  const settings = new Set<string>()
  const all = fc.sample(fc.record({ shape, settings: draws }), { numRuns: 250, seed: 15 })
  for (const { shape: drawnShape, settings: those } of all) {
    const book = bookOf(drawnShape)
    settingsOf(book, those)
    for (const rule of drawnShape.with) rules.add(rule)
    for (const { key } of choicesOf(book)) settings.add(key)
  }
  expect(OPTIONAL.filter((rule) => !rules.has(rule))).toEqual([])
  expect([...settings].filter((key) => !drawn.has(key))).toEqual([])
  expect(settings.size).toBeGreaterThan(250)
})
