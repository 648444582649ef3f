import { reedRegatta } from '@zinc-referee/examples'
import fc from 'fast-check'
import jsonPatch from 'fast-json-patch'
import { expect, test } from 'vitest'
import { applyPatch } from 'zinc-referee/replica'
import { type ApplyPatch, playMatch, ViewCopies } from 'zinc-referee/testing'
import { carryOut, deeds, SEATS, VIEWERS } from './regatta-deeds.ts'

/** Our own applier and another one, which must agree. */
const byTwoAppliers: ApplyPatch = (view, operations) => {
  const ours = applyPatch(view, operations)
  expect(jsonPatch.applyPatch(structuredClone(view), structuredClone([...operations])).newDocument).toEqual(
    ours,
  )
  return ours
}

test('patched views equal fresh views in random play, for two independent appliers; refused inputs change nothing; no fault', () => {
  fc.assert(
    fc.property(deeds, (list) => {
      const { match, replay } = playMatch(reedRegatta, SEATS)
      const copies = new ViewCopies(match, byTwoAppliers)
      copies.addViewer(...VIEWERS)
      for (const { deed: each, wait, flush } of list) {
        match.advanceTo(match.now + wait)
        if (flush) copies.flush()
        if (flush) expect(copies.differences()).toEqual([])
        const before = match.hash()
        const rulings = [carryOut(match, each)].flat()
        if (rulings.every(({ ok }) => !ok)) expect(match.hash()).toBe(before)
      }
      copies.flush()
      expect(copies.differences()).toEqual([])
      expect(match.faults).toEqual([])
      expect(replay().differs).toBeUndefined()
    }),
    { numRuns: 150 },
  )
})
