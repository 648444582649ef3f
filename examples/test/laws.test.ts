import { reedRegatta } from '@zinc-referee/examples'
import fc from 'fast-check'
import jsonPatch from 'fast-json-patch'
import { expect, test } from 'vitest'
import { beginMatch } from 'zinc-referee'
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

/** Two matches that differ only in what Otter carries; what anyone else is sent must be the same, byte for byte. */
test('one seat’s cargo changes no byte that another seat is sent, and is in none', () => {
  const play = (crates: number): { texts: Map<string, string>; own: string } => {
    const match = beginMatch(reedRegatta, { seed: 'fair-3' })
    for (const id of SEATS) match.direct('roster.join', { seat: id, name: id.slice(0, 5) })
    const texts = new Map(VIEWERS.map((viewer) => [viewer, match.addViewer(viewer).view]))
    for (const id of SEATS) match.submit(id, 'roster.ready', {})
    const deeds = [
      () => match.report('raft.found', { seat: 'otter', crates }),
      () => match.report('raft.rammed', { target: 'otter', by: 'heron' }),
      () => match.report('raft.found', { seat: 'vole' }),
      () => match.submit('heron', 'raft.chase', { quarry: 'otter' }),
      () =>
        match.reportAll(
          'raft.rammed',
          Array.from({ length: 4 }, () => ({ target: 'otter', by: 'heron' })),
        ),
    ]
    for (const each of deeds) {
      match.advanceTo(match.now + 3000)
      each()
      for (const { viewer, ...update } of match.flush())
        texts.set(viewer, texts.get(viewer) + JSON.stringify(update))
    }
    for (const viewer of VIEWERS) texts.set(viewer, texts.get(viewer) + JSON.stringify(match.view(viewer)))
    const own = texts.get('otter') ?? ''
    texts.delete('otter')
    return { texts, own }
  }
  const [few, many] = [play(3), play(7_919_041)]
  expect(many.own).toContain('7919041')
  expect(few.own).not.toBe(many.own)
  for (const [viewer, text] of many.texts) {
    expect(text, viewer).not.toContain('7919041')
    expect(text, viewer).toBe(few.texts.get(viewer))
  }
})

test('where a raft is heading is in nobody’s view, not even its own', () => {
  const { match } = playMatch(reedRegatta, SEATS)
  for (const viewer of VIEWERS) match.addViewer(viewer)
  match.flush()
  const before = new Map(VIEWERS.map((viewer) => [viewer, JSON.stringify(match.view(viewer))]))
  expect(match.submit('otter', 'raft.chase', { quarry: 'heron' })).toEqual({ ok: true })
  expect(match.state.raft.helm.of('otter')).toMatchObject({ course: 'raft', quarry: 'heron' })
  expect(match.flush()).toEqual([])
  for (const viewer of VIEWERS) expect(JSON.stringify(match.view(viewer))).toBe(before.get(viewer))
})
