import { expect, test } from 'vitest'
import { contentsOf } from 'zinc-referee/rules'
import { FACES, laid, SEATS } from '../fixtures/piles-mode.ts'

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
  const { match, at, draw, move, counts, faces, cards } = laid(['amber', 'rose', 'jade', 'ink'])
  for (const card of at('deck').slice(0, 3)) move([card], 'deck', 'burnt')
  const known = Object.keys(cards('otter'))
  expect(draw('otter', 3)).toEqual({ ok: true })
  expect([counts(), faces('hand', 'otter').length, faces('hand', 'otter')[0]]).toEqual([
    { deck: 1, burnt: 0 },
    3,
    'ink',
  ])
  expect([known.length, Object.keys(cards('otter')).some((id) => known.includes(id))]).toEqual([1, false])
  expect(match.faults).toEqual([])
})

test('PI2: with too few in both it takes what there is, or refuses and nothing moves', () => {
  const few = laid(['amber'])
  few.match.addViewer('spectator')
  few.match.flush()
  expect(few.draw('otter', 3)).toEqual({ ok: true })
  expect(few.match.flush()[0]?.notices.map(({ name }) => name)).toEqual(['wicks.ran-out', 'wicks.moved'])
  expect(few.inHand('otter')).toBe(1)
  const strict = laid(['amber'], { short: 'refuse' })
  expect(strict.draw('otter', 3)).toMatchObject({ code: 'pile-empty' })
  expect(laid(['amber', 'rose'], { short: 'refuse' }).draw('otter', 2)).toEqual({ ok: true }) // as many as there are
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
  const { draw, at, move } = laid(['amber', 'rose', 'jade', 'ink'], { maxHand: 2 })
  expect(draw('otter', 3)).toMatchObject({ code: 'hand-full', details: { most: 2 } })
  expect(draw('otter', 2)).toEqual({ ok: true })
  expect(move(at('deck').slice(-1), 'deck', 'hand', 'otter')).toMatchObject({ code: 'hand-full' })
})

test('PI7, PI8, PI9: a peek is one seat’s, for a while; its end gives the card another id; drawn or shuffled, it is over at once', () => {
  const { match, at, seen, cards, draw } = laid()
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
  const [first] = Object.keys(cards('heron'))
  match.advanceTo(6000)
  expect([seen('otter'), seen('heron')]).toEqual([[], ['ink']])
  expect(Object.keys(cards('heron'))).toEqual([first]) // who still sees it is told nothing of who does not
  match.advanceTo(8000)
  expect(seen('heron')).toEqual([])
  peek('otter', 3000)
  const known = Object.keys(cards('otter'))[0]
  expect(known).not.toBe(first)
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
  match.addViewer('vole')
  match.flush()
  match.report('hand.through', { card: at('deck')[0]?.id ?? '' })
  expect(match.flush().flatMap(({ patch }) => (patch.includes('/wicks/cards') ? [patch] : []))).toEqual([])
})

test('PI15: two that are mixed have new ids, and nobody can tell which is which', () => {
  const { match, at, cards } = laid()
  match.report('hand.move', { cards: at('deck').map(({ id }) => id), from: 'deck', to: 'table' })
  const before = Object.keys(cards('otter'))
  match.report('hand.mix', {
    cards: at('table')
      .slice(0, 2)
      .map(({ id }) => id),
  })
  const after = Object.keys(cards('otter'))
  expect([after.length, before.filter((id) => after.includes(id)).length]).toEqual([4, 2])
  expect(Object.keys(cards('spectator'))).toEqual(after)
})

test('the id rule: from deck to hand to table it stays; from the table to a hand, the deck or under another it is a new one', () => {
  const { at, draw, move, cards, seen } = laid(['amber', 'rose', 'jade', 'ink'])
  const ids = (viewer: string) => Object.keys(cards(viewer))
  draw('otter')
  const [id] = ids('otter')
  move(at('hand', 'otter'), 'hand', 'table', 'otter')
  expect([ids('otter'), ids('vole')]).toEqual([[id], [id]]) // its owner may follow it
  move(at('table'), 'table', 'hand', 'heron')
  expect([ids('heron').length, ids('otter')]).toEqual([1, []])
  move(at('hand', 'heron'), 'hand', 'burnt', 'heron')
  const [open] = ids('vole')
  expect([open === id, ids('otter')]).toEqual([false, [open]])
  move(at('deck').slice(-1), 'deck', 'burnt')
  move(at('burnt').slice(-1), 'burnt', 'deck')
  expect([seen('vole'), ids('vole').length, ids('vole')[0] === open]).toEqual([['ink'], 1, false]) // it was covered
})

test('PI17, PI18: back under the deck it has another id; a card that is not there is none, whether there is one or not', () => {
  const { match, at, draw, move, cards, faces } = laid()
  draw('otter')
  const [known] = Object.keys(cards('otter'))
  const mine = at('hand', 'otter')[0]?.id ?? ''
  match.report('hand.move', { seat: 'otter', cards: [mine], from: 'hand', to: 'deck', under: true })
  expect(faces('deck')[0]).toBe('ink')
  match.report('hand.peek', { seat: 'otter', cards: [mine] })
  expect([Object.keys(cards('otter')).length, known === Object.keys(cards('otter'))[0]]).toEqual([1, false])
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
