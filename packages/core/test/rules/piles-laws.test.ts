import fc from 'fast-check'
import { expect, test } from 'vitest'
import { laid, SEATS } from '../fixtures/piles-mode.ts'

test('check value, law g: a shuffle of four is even (chi squared of 24 orders, fixed seeds)', () => {
  const times = new Map<string, number>()
  const { match, faces } = laid()
  for (let n = 0; n < 2400; n++) {
    match.report('hand.shuffle', { place: 'deck' })
    const order = faces('deck').join()
    times.set(order, (times.get(order) ?? 0) + 1)
  }
  expect(times.size).toBe(24)
  const chi = [...times.values()].reduce((sum, count) => sum + (count - 100) ** 2 / 100, 0)
  expect(chi).toBeLessThan(57.1)
})

interface Card {
  readonly place: string
  readonly holder: string | undefined
  readonly up: boolean
  readonly isTop: boolean
  readonly watchers: ReadonlySet<string>
}
const isSeen = ({ place, holder, up, isTop, watchers }: Card, viewer: string): boolean =>
  place === 'hand'
    ? up || holder === viewer || watchers.has(viewer)
    : ['table', 'crates'].includes(place) ||
      (place === 'burnt' && isTop) ||
      (['deck', 'burnt'].includes(place) && watchers.has(viewer))
const faceSeen = (card: Card, viewer: string): boolean =>
  isSeen(card, viewer) && (card.place !== 'table' || card.up || card.watchers.has(viewer))

test('laws a to f: faces are constant, each card in one pile, counts are lengths, no view has a face or id it may not; unseen faces exchanged change no byte', () => {
  const deed = fc.record({
    what: fc.constantFrom('draw', 'move', 'peek', 'turn', 'shuffle', 'mix', 'leave', 'wait'),
    seat: fc.constantFrom(...SEATS),
    nth: fc.nat(7),
    from: fc.constantFrom('deck', 'table', 'crates', 'burnt', 'hand') as fc.Arbitrary<
      'deck' | 'table' | 'crates' | 'burnt' | 'hand'
    >,
    to: fc.constantFrom('deck', 'table', 'crates', 'burnt', 'hand', 'aside') as fc.Arbitrary<'deck'>,
  })
  const start = ['amber', 'rose', 'jade', 'ink', 'amber', 'rose', 'jade', 'ink'] as const
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 25 }), (deeds) => {
      const [plain, other] = [start, ['rose', 'amber', ...start.slice(2)] as const].map((faces) =>
        laid(faces),
      )
      if (plain === undefined || other === undefined) return
      for (const { match } of [plain, other]) match.addViewer('vole')
      let told = false
      for (const { what, seat, nth, from, to } of deeds) {
        for (const { match, at, draw, move } of [plain, other]) {
          const pile = at(from, from === 'hand' ? seat : undefined)
          const card = pile[nth % Math.max(1, pile.length)]
          if (what === 'draw') draw(seat, 1 + (nth % 3))
          if (what === 'move' && card !== undefined) move([card], from, to, seat)
          if (what === 'peek' && card !== undefined)
            match.report('hand.peek', { seat, cards: [card.id], ms: 1000 })
          if (what === 'turn' && card !== undefined)
            match.report('hand.turn', { card: card.id, up: nth % 2 === 0 })
          if (what === 'shuffle' && from !== 'hand') match.report('hand.shuffle', { place: from })
          if (what === 'mix')
            match.report('hand.mix', {
              cards: at('table')
                .slice(0, 2)
                .map(({ id }) => id),
            })
          if (what === 'leave' && match.seats.length > 2 && seat !== 'vole')
            match.submit(seat, 'roster.leave', {})
          if (what === 'wait') match.advanceTo(match.now + 600)
        }
        // What Vole sees of a card whose face differs is the end of what must be the same.
        const differs = plain.match.state.wicks.cards
          .all()
          .filter((row, at) => row.face !== other.match.state.wicks.cards.all()[at]?.face)
        told ||= differs.some((row) => faceSeen(row, 'vole'))
        const sent = [plain, other].map(({ match }) => JSON.stringify(match.flush()))
        if (!told) expect(sent[0]).toBe(sent[1])
        const rows = plain.match.state.wicks.cards.all()
        expect(rows.map(({ face: shown }) => shown).sort()).toEqual([...start].sort())
        const { counts, hands } = plain.match.view('spectator').wicks
        for (const [place, count] of Object.entries(counts.of))
          expect(count).toBe(rows.filter((row) => row.place === place).length)
        for (const [each, { count }] of Object.entries(hands))
          expect(count).toBe(plain.at('hand', each).length)
        for (const viewer of [...plain.match.seats, 'spectator'])
          expect(plain.seen(viewer)).toEqual(
            rows
              .filter((row) => isSeen(row, viewer))
              .map((row) => (faceSeen(row, viewer) ? row.face : '?'))
              .sort(),
          )
      }
      expect(plain.match.faults).toEqual([])
    }),
    { numRuns: 60 },
  )
})
