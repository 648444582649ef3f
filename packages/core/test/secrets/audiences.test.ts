import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type Audience, anyOf, everyone, except, only } from 'zinc-referee'

const SEATS = ['otter', 'heron', 'vole']
const covers = ({ all, seats }: Audience, viewer: string) => seats.has(viewer) !== all

test('audiences join and shrink as sets of viewers do', () => {
  const seats = fc.subarray(SEATS)
  const audience = fc
    .tuple(fc.boolean(), seats)
    .map(([all, named]) => (all ? except(everyone, ...named) : only(...named)))
  fc.assert(
    fc.property(fc.array(audience, { maxLength: 4 }), audience, seats, (several, one, without) => {
      for (const viewer of [...SEATS, 'spectator']) {
        expect(covers(anyOf(...several), viewer)).toBe(several.some((each) => covers(each, viewer)))
        expect(covers(except(one, ...without), viewer)).toBe(covers(one, viewer) && !without.includes(viewer))
      }
    }),
  )
})
