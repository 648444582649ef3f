import fc from 'fast-check'
import { expect, test } from 'vitest'
import { choice, defineRule, defineRulebook, flag, int, list, maybe, seatRef, text } from 'zinc-referee'
import { contentsOf, pilesOf, roster } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const FACES = ['amber', 'rose', 'jade', 'ink'] as const
const face = choice(...FACES)
const wicks = pilesOf(
  'wicks',
  face,
  { deck: 'deck', table: 'table', crates: 'open', burnt: 'top' },
  { refill: { deck: 'burnt' } },
)
const somewhere = choice('deck', 'table', 'crates', 'burnt', 'hand', 'aside')
const SEATS = ['otter', 'heron', 'vole']

/** Everything that piles do can be set off from outside. */
const hand = defineRule({
  name: 'hand',
  needs: [wicks, roster],
  facts: {
    fill: {
      input: { place: somewhere, faces: list(face) },
      hear: (match, { place, faces }) => match.use(wicks).fill(place, faces),
    },
    shuffle: { input: { place: somewhere }, hear: (match, { place }) => match.use(wicks).shuffle(place) },
    draw: {
      input: { seat: seatRef(), count: int(1) },
      hear: (match, { seat, count }) => match.use(wicks).draw({ seat, from: 'deck', count }),
    },
    deal: { input: { count: int() }, hear: (match, { count }) => match.use(wicks).deal('deck', count) },
    move: {
      input: {
        seat: maybe(seatRef()),
        cards: list(text()),
        from: somewhere,
        to: somewhere,
        under: flag(false),
      },
      hear: (match, given) => match.use(wicks).move(given),
    },
    peek: {
      input: { seat: seatRef(), cards: list(text()), ms: maybe(int()) },
      hear: (match, { seat, cards, ms }) => match.use(wicks).peek(seat, cards, ms),
    },
    turn: {
      input: { card: text(), up: flag(true), ms: maybe(int()) },
      hear: (match, { card, up, ms }) => match.use(wicks).turn(card, up, ms),
    },
    mix: { input: { cards: list(text()) }, hear: (match, { cards }) => match.use(wicks).mix(cards) },
    /** Through an open place, within one step. */
    through: {
      input: { card: text() },
      hear(match, { card }) {
        match.use(wicks).move({ cards: [card], from: 'deck', to: 'crates' })
        return match.use(wicks).move({ cards: [card], from: 'crates', to: 'deck' })
      },
    },
    out: { input: { seat: seatRef() }, hear: (match, { seat }) => match.use(roster).putOut(seat, 'home') },
  },
})
const book = defineRulebook({ name: 'wicks', seats: { min: 2, max: 4 }, rules: [wicks, hand] })

function laid(
  faces: readonly (typeof FACES)[number][] = ['amber', 'rose', 'jade', 'ink'],
  settings: object = {},
) {
  const { match } = playMatch(book, SEATS, { settings: { wicks: settings } })
  match.report('hand.fill', { place: 'deck', faces: [...faces] })
  const rows = () => match.state.wicks.cards.all()
  const at = (place: string, holder?: string) =>
    rows()
      .filter((row) => row.place === place && row.holder === holder)
      .sort((a, b) => a.at - b.at)
  return {
    match,
    at,
    cards: (viewer: string) => match.view(viewer).wicks.cards,
    seen: (viewer: string) =>
      Object.values(match.view(viewer).wicks.cards)
        .map((card) => card.face ?? '?')
        .sort(),
    draw: (seat: string, count = 1) => match.report('hand.draw', { seat, count }),
    move: (
      cards: readonly { id: string }[],
      from: 'deck' | 'table' | 'crates' | 'burnt' | 'hand',
      to: typeof from | 'aside',
      seat?: string,
    ) =>
      match.report('hand.move', {
        cards: cards.map(({ id }) => id),
        from,
        to,
        ...(seat !== undefined && { seat }),
      }),
    counts: () => match.view('spectator').wicks.counts.of,
    inHand: (seat: string) => match.view('spectator').wicks.hands[seat]?.count,
    faces: (place: string, holder?: string) => at(place, holder).map((row) => row.face),
  }
}

test('what is seen of each place: a deck is counted, a hand is its owner’s, a table shows faces that are up, of a discard the top', () => {
  const { match, at, seen, draw, move, counts, inHand } = laid([
    'amber',
    'rose',
    'jade',
    'ink',
    'amber',
    'rose',
  ])
  draw('otter')
  draw('heron')
  move(at('deck').slice(-1), 'deck', 'table')
  move(at('deck').slice(-1), 'deck', 'crates')
  move(at('deck').slice(-1), 'deck', 'burnt')
  move(at('deck').slice(-1), 'deck', 'burnt')
  expect([counts(), inHand('otter'), inHand('heron')]).toEqual([
    { deck: 0, table: 1, crates: 1, burnt: 2 },
    1,
    1,
  ])
  expect(seen('otter')).toEqual(['?', 'amber', 'jade', 'rose'])
  expect(seen('heron')).toEqual(['?', 'amber', 'amber', 'jade'])
  expect(seen('spectator')).toEqual(['?', 'amber', 'jade'])
  match.report('hand.turn', { card: at('table')[0]?.id ?? '' })
  expect(seen('spectator')).toEqual(['amber', 'ink', 'jade'])
})

test('PI1: a deck that runs out takes what it has, is filled up shuffled from its discard, and goes on, in one step', () => {
  const { match, at, draw, move, counts, faces } = laid(['amber', 'rose', 'jade', 'ink'])
  move(at('deck').slice(0, 3), 'deck', 'burnt')
  const before = new Set(at('burnt').map(({ id }) => id))
  expect(draw('otter', 3)).toEqual({ ok: true })
  expect([counts(), faces('hand', 'otter').length, faces('hand', 'otter')[0]]).toEqual([
    { deck: 1, burnt: 0 },
    3,
    'ink',
  ])
  expect(at('deck').some(({ id }) => before.has(id))).toBe(false)
  expect(match.faults).toEqual([])
})

test('PI2: with too few in both it takes what there is, or refuses and nothing moves', () => {
  const few = laid(['amber'])
  few.match.open('spectator')
  few.match.flush()
  expect(few.draw('otter', 3)).toEqual({ ok: true })
  expect(few.match.flush()[0]?.notices.map(({ name }) => name)).toEqual(['wicks.ran-out', 'wicks.moved'])
  expect(few.inHand('otter')).toBe(1)
  const strict = laid(['amber'], { short: 'refuse' })
  expect(strict.draw('otter', 3)).toMatchObject({ code: 'pile-empty' })
  expect(strict.counts()).toEqual({ deck: 1 })
})

test('PI4: dealt one at a time, round and round', () => {
  const { match, faces } = laid(['amber', 'rose', 'jade', 'ink', 'amber', 'rose'])
  match.report('hand.deal', { count: 2 })
  expect(SEATS.map((seat) => faces('hand', seat))).toEqual([
    ['rose', 'jade'],
    ['amber', 'rose'],
    ['ink', 'amber'],
  ])
})

test('PI6: a hand takes up no more than its most', () => {
  const { draw, at, move } = laid(['amber', 'rose', 'jade', 'ink'], { handMost: 2 })
  expect(draw('otter', 3)).toMatchObject({ code: 'hand-full', details: { most: 2 } })
  expect(draw('otter', 2)).toEqual({ ok: true })
  expect(move(at('deck').slice(-1), 'deck', 'hand', 'otter')).toMatchObject({ code: 'hand-full' })
})

test('PI7, PI8, PI9: a peek is one seat’s, for a while; its end gives the card another id; drawn or shuffled, it is over at once', () => {
  const { match, at, seen, cards, draw } = laid()
  const top = at('deck').at(-1)?.id
  const peek = (seat: string, ms: number | undefined) =>
    match.report('hand.peek', {
      seat,
      cards: at('deck')
        .slice(-1)
        .map(({ id }) => id),
      ...(ms !== undefined && { ms }),
    })
  peek('otter', 3000)
  peek('heron', 5000)
  expect([seen('otter'), seen('heron'), seen('vole')]).toEqual([['ink'], ['ink'], []])
  match.advanceTo(6000)
  expect([seen('otter'), seen('heron')]).toEqual([[], ['ink']])
  expect(at('deck').at(-1)?.id).not.toBe(top)
  match.advanceTo(8000)
  expect(seen('heron')).toEqual([])
  peek('otter', 3000)
  const known = Object.keys(cards('otter'))[0]
  draw('heron')
  expect([seen('otter'), Object.keys(cards('heron')).includes(known ?? '')]).toEqual([[], false])
  match.advanceTo(20_000)
  expect([seen('heron'), match.faults]).toEqual([['ink'], []])
  peek('otter', undefined)
  match.report('hand.shuffle', { place: 'deck' })
  expect(seen('otter')).toEqual([])
})

test('PI10, PI11, PI12: turned up for a while and back: the id stays; taken before, nothing turns back; turned again, the later time counts', () => {
  const { match, at, seen, move } = laid()
  move(at('deck').slice(-1), 'deck', 'table')
  const id = at('table')[0]?.id ?? ''
  match.report('hand.turn', { card: id, ms: 2000 })
  match.advanceTo(4000)
  match.report('hand.turn', { card: id, ms: 2000 })
  match.advanceTo(5999)
  expect(seen('vole')).toEqual(['ink'])
  match.advanceTo(6000)
  expect([seen('vole'), at('table')[0]?.id]).toEqual([['?'], id])
  match.report('hand.turn', { card: id, ms: 2000 })
  move(at('table'), 'table', 'crates')
  match.advanceTo(9000)
  expect([seen('vole'), match.faults]).toEqual([['ink'], []])
})

test('PI13: through an open place within one step nobody sees it', () => {
  const { match, at } = laid()
  match.open('vole')
  match.flush()
  match.report('hand.through', { card: at('deck')[0]?.id ?? '' })
  expect(match.flush().flatMap(({ patch }) => (patch.includes('/wicks/cards') ? [patch] : []))).toEqual([])
})

test('PI15: two that are mixed have new ids, and nobody can tell which is which', () => {
  const { match, at, cards } = laid()
  match.report('hand.move', { cards: at('deck').map(({ id }) => id), from: 'deck', to: 'table' })
  const before = Object.keys(cards('otter'))
  const pair = before.slice(0, 2)
  match.report('hand.mix', { cards: pair })
  const after = Object.keys(cards('otter'))
  expect([
    after.length,
    pair.some((id) => after.includes(id)),
    before.slice(2).every((id) => after.includes(id)),
  ]).toEqual([4, false, true])
})

test('the id rule: from deck to hand to table it stays; from the table to a hand, the deck or under another it is a new one', () => {
  const { at, draw, move, cards } = laid(['amber', 'rose', 'jade', 'ink'])
  draw('otter')
  const id = at('hand', 'otter')[0]?.id ?? ''
  move([{ id }], 'hand', 'table', 'otter')
  expect(at('table')[0]?.id).toBe(id) // its owner may follow it
  move([{ id }], 'table', 'hand', 'heron')
  expect(Object.keys(cards('heron'))).not.toContain(id)
  const [mine] = at('hand', 'heron')
  move(mine === undefined ? [] : [mine], 'hand', 'burnt', 'heron')
  const top = at('burnt')[0]?.id
  move(at('deck').slice(-1), 'deck', 'burnt')
  expect(at('burnt')[0]?.id).not.toBe(top) // covered, it is seen no more
})

test('PI17, PI18: back under the deck it has another id; a card that is not there is none, whether there is one or not', () => {
  const { match, at, draw, move } = laid()
  draw('otter')
  const mine = at('hand', 'otter')[0]?.id ?? ''
  match.report('hand.move', { seat: 'otter', cards: [mine], from: 'hand', to: 'deck', under: true })
  expect([at('deck')[0]?.face, at('deck')[0]?.id === mine]).toEqual(['ink', false])
  const inDeck = at('deck')[1]?.id ?? ''
  expect(move([{ id: inDeck }], 'hand', 'table', 'otter')).toEqual(
    move([{ id: 'nothing' }], 'hand', 'table', 'otter'),
  )
  expect(move([{ id: inDeck }, { id: inDeck }], 'deck', 'table')).toMatchObject({ code: 'no-such-card' })
})

test('PI19: an empty place and one card are shuffled without any chance', () => {
  const order = (shuffles: number) => {
    const { match, at, move, faces } = laid()
    move(at('deck').slice(1), 'deck', 'crates')
    for (let n = 0; n < shuffles; n++)
      for (const place of ['table', 'deck'] as const) match.report('hand.shuffle', { place })
    move(at('crates'), 'crates', 'deck')
    match.report('hand.shuffle', { place: 'deck' })
    return faces('deck')
  }
  expect(order(5)).toEqual(order(0))
})

test('PI20: the hand of who leaves, or is out, goes aside: no part of any reshuffle, and nothing to count', () => {
  const { match, draw, inHand, faces } = laid()
  draw('otter', 2)
  draw('heron')
  match.submit('otter', 'roster.leave', {})
  match.report('hand.out', { seat: 'heron' })
  expect([inHand('otter'), inHand('heron'), faces('aside').length]).toEqual([0, 0, 3])
  expect(match.view('spectator').wicks.counts.of).toEqual({ deck: 1 })
})

test('contents from a data file: what is twice, unknown or impossible is named with its path', () => {
  expect(
    contentsOf(
      [
        { id: 'a', face: 'amber', count: 2 },
        { id: 'b', face: 'ink' },
      ],
      FACES,
    ),
  ).toEqual(['amber', 'amber', 'ink'])
  expect(() =>
    contentsOf(
      [
        { id: 'a', face: 'amber' },
        { id: 'a', face: 'ink' },
      ],
      FACES,
    ),
  ).toThrow("1.id: 'a' is there twice")
  expect(() => contentsOf([{ id: 'a', face: 'amber', colour: 1 }], FACES)).toThrow(/0: .*colour/)
  expect(() => contentsOf([{ id: 'a', face: 'gold' }], FACES)).toThrow(/0\.face/)
  expect(() => contentsOf({}, FACES)).toThrow(/the file/)
})

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
      for (const { match } of [plain, other]) match.open('vole')
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
        told ||= differs.some(({ id }) => plain.match.view('vole').wicks.cards[id]?.face !== undefined)
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
          for (const [id, card] of Object.entries(plain.match.view(viewer).wicks.cards)) {
            const row = plain.match.state.wicks.cards.get(id)
            const own = row?.holder === viewer || row?.watchers.has(viewer) === true || row?.up === true
            const open =
              row?.place === 'table' || row?.place === 'crates' || (row?.place === 'burnt' && row.isTop)
            expect(own || open).toBe(true)
            if (card.face !== undefined) expect(own || (open && row?.place !== 'table')).toBe(true)
          }
      }
      expect(plain.match.faults).toEqual([])
    }),
    { numRuns: 60 },
  )
})
