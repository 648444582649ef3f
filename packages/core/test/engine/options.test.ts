import fc from 'fast-check'
import { expect, test } from 'vitest'
import {
  choice,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  list,
  maybe,
  only,
  refuse,
  rowOf,
  seatRef,
  single,
  table,
} from 'zinc-referee'
import { mostAtTime, rounds, scores, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

/** Three in a row on a board of nine: seats in turn, a line wins, the board is locked when won. */
const board = defineRule({
  name: 'board',
  needs: [verdict],
  state: {
    cells: table({
      x: int().seenBy(everyone),
      y: int().seenBy(everyone),
      holder: maybe(seatRef()).seenBy(everyone),
    }),
    now: single({ turn: int(0).seenBy(everyone) }),
  },
  setUp(match) {
    for (let n = 0; n < 9; n++) match.own.cells.add({ x: n % 3, y: Math.floor(n / 3) })
  },
  actions: {
    place: {
      input: { x: int(), y: int() },
      options: (match) => match.own.cells.all().map(({ x, y }) => ({ x, y })),
      decide(match, seat, spot) {
        if (match.seats[match.own.now.turn % match.seats.length] !== seat) return refuse('not-your-turn')
        const [cell] = match.own.cells.where(spot)
        if (cell === undefined) return refuse('off-grid')
        if (cell.holder !== undefined) return refuse('cell-taken')
        cell.holder = seat
        match.own.now.turn += 1
        const mine = match.own.cells.where({ holder: seat })
        const lines = [
          (c: { x: number }) => c.x === spot.x,
          (c: { y: number }) => c.y === spot.y,
          (c: { x: number; y: number }) => c.x === c.y,
          (c: { x: number; y: number }) => c.x + c.y === 2,
        ]
        if (lines.some((line) => mine.filter(line).length === 3))
          match.use(verdict).claim({ winners: [seat], reason: 'line' })
        else if (match.own.now.turn === 9) match.use(verdict).claim({ winners: match.seats, reason: 'full' })
        return
      },
    },
  },
})
const noughts = defineRulebook({
  name: 'nine-stones',
  seats: { min: 2, max: 2 },
  rules: [rounds({ length: 600_000 }), scores, verdict({ when: [mostAtTime] }), board],
})

test('options are exact: offered = accepted for the whole input domain, at every move of many games', () => {
  for (let seed = 0; seed < 12; seed++) {
    const { match } = playMatch(noughts, ['otter', 'heron'])
    for (let move = 0; match.state.phases.now.phase === 'live'; move++) {
      const [seat, other] = move % 2 === 0 ? ['otter', 'heron'] : ['heron', 'otter']
      const before = match.hash()
      const offered = match.options(seat, 'board.place')
      expect(match.options(other, 'board.place')).toEqual([])
      expect(match.hash()).toBe(before)
      expect(match.flush()).toEqual([])
      const chosen = offered[(seed * 7 + move * 3) % offered.length]
      if (chosen === undefined) throw new Error('a seat in turn has no option')
      for (let x = -1; x < 4; x++) {
        for (let y = -1; y < 4; y++) {
          const isOffered = offered.some((spot) => spot.x === x && spot.y === y)
          if (isOffered || match.submit(seat, 'board.place', { x, y }).ok)
            expect([x, y, isOffered]).toEqual([x, y, true])
        }
      }
      expect(match.submit(seat, 'board.place', chosen)).toEqual({ ok: true })
    }
    expect(match.options('otter', 'board.place')).toEqual([]) // locked when won
    expect(match.state.verdict.end.reason).toMatch(/line|full/)
  }
})

test('computed once until something happens or time goes on; a refused input changes nothing', () => {
  let looks = 0
  const watched = defineRule({
    name: 'watched',
    state: { bell: single({ rung: int(0) }) },
    actions: {
      ring: {
        input: { times: int() },
        options() {
          looks += 1
          return [{ times: 1 }]
        },
        decide(match, _, { times }) {
          if (times > 5) return refuse('too-often')
          match.own.bell.rung += times
          return undefined
        },
      },
    },
  })
  const book = defineRulebook({ name: 'watched', seats: { min: 1, max: 2 }, rules: [rounds, watched] })
  const { match } = playMatch(book, ['otter'])
  const ask = () => match.options('otter', 'watched.ring')
  expect([ask(), ask(), match.submit('otter', 'watched.ring', { times: 9 }).ok, ask(), looks]).toEqual([
    [{ times: 1 }],
    [{ times: 1 }],
    false,
    [{ times: 1 }],
    1,
  ])
  match.submit('otter', 'watched.ring', { times: 2 })
  ask()
  match.advanceTo(match.now + 1)
  ask()
  expect(looks).toBe(3)
})

test('without options of its own, an action has all inputs that its cells allow and that are accepted', () => {
  const stall = defineRule({
    name: 'stall',
    state: { tins: table({ of: seatRef() }).seenWhen({ of: ({ of }) => only(of) }) },
    setUp(match) {
      for (const seat of match.seats) match.own.tins.add({ of: seat })
    },
    actions: {
      give: {
        offered: true,
        input: { tin: rowOf('tins'), to: seatRef(), size: choice('small', 'large'), wet: flag() },
        decide: (_, seat, { to, wet }) => (to === seat || wet ? refuse('not-so') : undefined),
      },
      throw: { input: { far: int().between(1, 3), odd: flag() }, decide() {} },
      // More than a thousand, and no end of them: none.
      aim: { input: { x: int().between(1, 40), y: int().between(1, 40) }, decide() {} },
      shout: { input: { loud: int() }, decide() {} },
    },
  })
  const bookOf = (offers: readonly ('stall.throw' | 'stall.shout')[]) =>
    defineRulebook({ name: 'stall', seats: { min: 2, max: 2 }, rules: [rounds, stall], offers })
  const { match } = playMatch(bookOf(['stall.throw']), ['otter', 'heron'])
  const [tin] = Object.keys(match.view('heron').stall.tins)
  const given = ['large', 'small'].map((size) => ({ tin, to: 'otter', size, wet: false }))
  expect(match.options('heron', 'stall.give')).toEqual(expect.arrayContaining(given))
  expect(match.view('heron').stall.options).toMatchObject({ give: [{ tin }, { tin }] })
  expect(match.options('otter', 'stall.throw')).toHaveLength(6)
  for (const action of ['stall.aim', 'stall.shout'] as const)
    expect(match.options('otter', action)).toEqual([])
  expect(() => bookOf(['stall.shout'])).toThrow(expect.objectContaining({ code: 'ZR_RULE_NO_OPTIONS' }))
})

test('options come in the order of their content, each once, in whatever order they are given', () => {
  type Bid = { at: number; marks: readonly number[]; note?: number; wet: boolean }
  const wet = false
  const inOrder: readonly Bid[] = [
    { at: 2, marks: [], note: 1, wet },
    { at: 2, marks: [], wet }, // its third member is 'wet', which comes behind 'note'
    { at: 2, marks: [2], note: 3, wet },
    { at: 2, marks: [2], note: 20, wet },
    { at: 2, marks: [2], wet },
    { at: 2, marks: [2], wet: true },
    { at: 2, marks: [2, 1], wet },
    { at: 2, marks: [10], wet },
    { at: 10, marks: [], wet },
  ]
  fc.assert(
    fc.property(
      fc.shuffledSubarray([...inOrder, ...inOrder]),
      fc.constantFrom(undefined, 1, 3),
      (given, same) => {
        const asked = ({ at, marks, note: own, wet }: Bid): Bid => {
          const note = same ?? own // all have the same members then
          return { at, marks, ...(note !== undefined && { note }), wet }
        }
        const bids = given.map(asked)
        const stall = defineRule({
          name: 'stall',
          actions: {
            bid: {
              input: { at: int(), marks: list(int()), note: maybe(int()), wet: flag(false) },
              options: () => bids,
              decide() {},
            },
          },
        })
        const book = defineRulebook({ name: 'stall', seats: { min: 1, max: 1 }, rules: [rounds, stall] })
        const offered = playMatch(book, ['otter']).match.options('otter', 'stall.bid')
        const texts = (of: readonly object[]): Set<string> => new Set(of.map((bid) => JSON.stringify(bid)))
        const expected = [...texts(inOrder.map(asked))].filter((text) => texts(bids).has(text))
        expect(offered.map((bid) => JSON.stringify(bid))).toEqual(expected)
      },
    ),
    { numRuns: 30 },
  )
})
