import fc from 'fast-check'
import { test } from 'vitest'
import { fuzzed, hold } from '../fuzz/fuzzed-play.ts'

test('rules thrown together, played at random, with code that throws anywhere, seats that come and go, and looks in between', () => {
  fc.assert(fc.property(fuzzed, hold), { numRuns: 60, endOnFailure: false })
})
