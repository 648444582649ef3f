import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, flag, int, refuse, resumeMatch, seatRef } from 'zinc-referee'
import {
  around,
  bordersOf,
  gridOf,
  joins,
  linesOf,
  longestEdge,
  longestRun,
  reach,
  type Size,
  type Spot,
  spotsOf,
  turnStep,
  turns,
  verdict,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const board = (width: number, height: number, more: Partial<Size> = {}): Size => ({ width, height, ...more })
/** Cells drawn as marks, row by row. */
const drawn = (...rows: string[]): Spot[] =>
  rows.flatMap((row, y) => [...row].flatMap((mark, x) => (mark === 'x' ? [{ x, y }] : [])))

test.each([
  [3, 3, 3, 8],
  [4, 4, 4, 10],
  [5, 4, 4, 17],
  [7, 6, 4, 69],
  [15, 15, 5, 572],
])('check values: lines in a board of %i by %i, of %i: %i', (width, height, length, count) => {
  expect(linesOf(length, board(width, height)).length).toBe(count)
})

test.each([
  [3, 3, {}, 12],
  [3, 3, { neighbours: 8 }, 20],
  [3, 3, { wrap: true }, 18],
  [3, 3, { wrap: true, neighbours: 8 }, 36],
  [2, 2, { wrap: true }, 4],
  [2, 3, { wrap: true }, 9],
] as const)('check values, GR8: pairs of neighbours in %i by %i, %o: %i', (width, height, more, count) => {
  const size = board(width, height, more)
  const pairs = spotsOf(size).flatMap((spot) => around(spot, size).map(() => 1))
  expect(pairs.length / 2).toBe(count)
  for (const spot of spotsOf(size)) {
    const keys = around(spot, size).map(({ x, y }) => `${x},${y}`)
    expect(new Set(keys).size).toBe(keys.length)
    expect(keys).not.toContain(`${spot.x},${spot.y}`)
  }
})

test('a gap breaks a run and a way; corners join where they are neighbours', () => {
  expect(longestRun(drawn('xx.xxx', '......'), board(6, 2)).length).toBe(3)
  expect(longestRun(drawn('x...', '.x..', '..x.', 'x..x'), board(4, 4)).length).toBe(4)
  const steps = drawn('x..', '.x.', '..x')
  expect([
    joins(steps, 'west', 'east', board(3, 3)),
    joins(steps, 'west', 'east', board(3, 3, { neighbours: 8 })),
  ]).toEqual([false, true])
  expect(joins(drawn('xx.', '.x.', '.xx'), 'west', 'east', board(3, 3))).toBe(true)
  const stones = drawn('xx.', '..x', '..x')
  const reached = reach([{ x: 0, y: 0 }], stones, board(3, 3))
  expect(reached).toHaveLength(2)
  expect(reached.every((spot) => stones.includes(spot))).toBe(true) // so that a caller can tell what is left
})

test('GR9: a run goes on across an edge that wraps, and is at most as long as the board', () => {
  const row = drawn('xx..xx')
  expect([longestRun(row, board(6, 1)).length, longestRun(row, board(6, 1, { wrap: true })).length]).toEqual([
    2, 4,
  ])
  expect(longestRun(drawn('xxxx'), board(4, 1, { wrap: true })).length).toBe(4)
  expect(linesOf(4, board(4, 1, { wrap: true })).length).toBe(1)
})

test('borders lie between cells of two sets, and the longest unbroken edge is what of them hangs together', () => {
  const size = board(5, 3)
  const left = drawn('xx...', 'xx...', 'xxx..')
  const right = spotsOf(size).filter(({ x, y }) => !left.some((spot) => spot.x === x && spot.y === y))
  expect([bordersOf(left, right, size).length, longestEdge(bordersOf(left, right, size))]).toEqual([4, 4])
  const island = drawn('x....', '.....', '....x')
  const sea = spotsOf(size).filter(({ x, y }) => !island.some((spot) => spot.x === x && spot.y === y))
  expect([bordersOf(island, sea, size).length, longestEdge(bordersOf(island, sea, size))]).toEqual([4, 2])
  expect(longestEdge([])).toBe(0)
})

test('laws: the result is the same under the eight symmetries of a square', () => {
  const cells = fc.array(fc.record({ x: fc.nat(4), y: fc.nat(4) }), { maxLength: 14 })
  const symmetries: ((spot: Spot) => Spot)[] = [0, 1, 2, 3].flatMap((turns) =>
    [false, true].map((mirrors) => (spot: Spot) => {
      let { x, y } = spot
      for (let n = 0; n < turns; n++) [x, y] = [4 - y, x]
      return { x: mirrors ? 4 - x : x, y }
    }),
  )
  fc.assert(
    fc.property(cells, fc.constantFrom(4, 8) as fc.Arbitrary<4 | 8>, (list, neighbours) => {
      const size = board(5, 5, { neighbours })
      const own = [...new Map(list.map((spot) => [`${spot.x},${spot.y}`, spot])).values()]
      const measure = (spots: Spot[]) => {
        const others = spotsOf(size).filter(({ x, y }) => !spots.some((spot) => spot.x === x && spot.y === y))
        const [first] = spots
        return [
          longestRun(spots, size).length,
          longestEdge(bordersOf(spots, others, size)),
          first === undefined ? 0 : reach([first], spots, size).length,
        ]
      }
      for (const turn of symmetries) expect(measure(own.map(turn))).toEqual(measure(own))
    }),
  )
})

const lay = turnStep('lay')
const grid = (size: Parameters<typeof gridOf>[1]) => {
  const cells = gridOf('grid', size)
  const game = defineRule({
    name: 'game',
    needs: [cells, turns],
    actions: {
      lay: {
        when: lay,
        input: { x: int(), y: int() },
        options: (match) => match.use(cells).free(),
        decide: (match, seat, { x, y }) => match.use(cells).place({ seat, x, y }),
      },
    },
    facts: {
      put: {
        input: { seat: seatRef(), x: int(), y: int() },
        handle: (match, given) => match.use(cells).place(given),
      },
      lock: {
        input: { x: int(), y: int(), on: flag(true) },
        handle: (match, { x, y, on }) => match.use(cells).lock({ x, y }, on),
      },
    },
  })
  return defineRulebook({
    name: 'grid',
    seats: { min: 2, max: 2 },
    rules: [turns({ steps: [lay] }), verdict({}), cells, game],
  })
}
function onBoard(size: Parameters<typeof gridOf>[1]) {
  const { match } = playMatch(grid(size), ['otter', 'heron'])
  const put = (seat: string, x: number, y: number) => match.report('game.put', { seat, x, y })
  return { match, put, end: () => match.view('spectator').verdict.end }
}

test('GR1: off the board, taken, locked, and after the verdict: each its own code; nothing changes', () => {
  const { match, put } = onBoard({ width: 3, height: 1, line: 2 })
  match.report('game.lock', { x: 2, y: 0 })
  put('otter', 0, 0)
  const hash = match.hash()
  const codes = [put('heron', 3, 0), put('heron', 0, 0), put('heron', 2, 0)].map((ruling) =>
    ruling.ok ? 'ok' : ruling.code,
  )
  expect([codes, match.hash()]).toEqual([['off-grid', 'cell-taken', 'cell-locked'], hash])
  put('otter', 1, 0)
  expect(put('heron', 2, 0)).toMatchObject({ code: 'over' })
})

test('GR2, GR3, GR4, GR5: lines come before full; two lines of one move are one win; a line is its owner’s; full without any draws', () => {
  const last = onBoard({ width: 3, height: 1, line: 3 })
  for (const x of [0, 1, 2]) last.put('otter', x, 0)
  expect(last.end()).toMatchObject({ kind: 'win', winners: ['otter'], reason: 'line' })
  const two = onBoard({ width: 3, height: 3, line: 3 })
  two.match.addViewer('spectator')
  for (const [x, y] of [
    [0, 0],
    [1, 0],
    [2, 1],
    [2, 2],
    [2, 0],
  ] as const)
    two.put('heron', x, y)
  const lines = two.match.flush().flatMap(({ notices }) => notices.filter(({ name }) => name === 'grid.line'))
  expect([lines.length, two.end().winners]).toEqual([2, ['heron']])
  const full = onBoard({ width: 2, height: 1, line: 2 })
  full.put('otter', 0, 0)
  full.put('heron', 1, 0)
  expect(full.end()).toMatchObject({ kind: 'draw', reason: 'full' })
  const exact = onBoard({ width: 4, height: 1, line: 2, longer: 'not' })
  for (const x of [0, 2, 1]) exact.put('otter', x, 0)
  expect(exact.end().kind).toBeNull()
})

/** A board of three by three as text, turned and mirrored in all eight ways. */
const symmetric = (board: string): readonly string[] => {
  const turn = (text: string) => [6, 3, 0, 7, 4, 1, 8, 5, 2].map((at) => text[at]).join('')
  const mirror = (text: string) => [2, 1, 0, 5, 4, 3, 8, 7, 6].map((at) => text[at]).join('')
  const turns = [board, turn(board), turn(turn(board)), turn(turn(turn(board)))]
  return [...turns, ...turns.map(mirror)]
}

/** One of each set of symmetric positions is played on; sequences are counted along the ways that lead there. */
test('check values: three in a row on three by three, by the engine’s own options, lock and verdict', () => {
  const book = grid({ width: 3, height: 3, line: 3 })
  interface Position {
    readonly snapshot: unknown
    ways: number
  }
  const { match } = playMatch(book, ['otter', 'heron'])
  const boardOf = (each: typeof match) =>
    spotsOf(board(3, 3))
      .map(({ x, y }) => each.state.grid.cells.where({ x, y })[0]?.holder?.[0] ?? '.')
      .join('')
  let level = new Map<string, Position>([[boardOf(match), { snapshot: match.snapshot(), ways: 1 }]])
  const byLength: number[] = []
  const ended = { otter: 0, heron: 0, draw: 0 }
  const endedAt = new Map<number, number>()
  let positions = 0
  for (let length = 0; length <= 9; length++) {
    for (const key of level.keys()) positions += new Set(symmetric(key)).size
    byLength.push([...level.values()].reduce((sum, { ways }) => sum + ways, 0))
    const next = new Map<string, Position>()
    for (const { snapshot, ways } of level.values()) {
      const here = resumeMatch(book, snapshot as never)
      const { kind, winners } = here.view('spectator').verdict.end
      if (kind !== null) {
        ended[kind === 'draw' ? 'draw' : (winners[0] as 'otter')] += ways
        if (kind === 'win') endedAt.set(length, (endedAt.get(length) ?? 0) + ways)
        continue
      }
      const seat = here.view('spectator').turns.now.seat ?? ''
      for (const option of here.options(seat, 'game.lay')) {
        const there = resumeMatch(book, snapshot as never)
        if (!there.submit(seat, 'game.lay', option).ok) throw new Error('an option was refused')
        const key = symmetric(boardOf(there)).toSorted()[0] ?? ''
        const known = next.get(key)
        if (known === undefined) next.set(key, { snapshot: there.snapshot(), ways })
        else known.ways += ways
      }
    }
    level = next
  }
  expect(byLength).toEqual([1, 9, 72, 504, 3024, 15_120, 54_720, 148_176, 200_448, 127_872])
  expect([ended, positions]).toEqual([{ otter: 131_184, heron: 77_904, draw: 46_080 }, 5478])
  expect(Object.fromEntries(endedAt)).toEqual({ 5: 1440, 6: 5328, 7: 47_952, 8: 72_576, 9: 81_792 })
})

test('GR10: several things on a cell: the topmost holds it, and lifting it gives the cell to the one beneath', () => {
  const pile = gridOf('pile', { width: 2, height: 1, most: 2 })
  const hands = defineRule({
    name: 'hands',
    needs: [pile],
    facts: {
      lay: {
        input: { seat: seatRef(), x: int() },
        handle: (match, { seat, x }) => match.use(pile).place({ seat, x, y: 0 }),
      },
      lift: { input: { x: int() }, handle: (match, { x }) => match.use(pile).lift({ x, y: 0 }) },
      clear: { input: {}, handle: (match) => match.use(pile).clear({ x: 0, y: 0 }) },
      count: {
        input: {},
        handle: (match) =>
          refuse('counted', { free: match.use(pile).free().length, on: match.use(pile).on({ x: 0, y: 0 }) }),
      },
    },
  })
  const book = defineRulebook({ name: 'pile', seats: { min: 1, max: 2 }, rules: [pile, hands] })
  const { match } = playMatch(book, ['otter', 'heron'])
  const lay = (seat: string) => match.report('hands.lay', { seat, x: 0 })
  const counted = () => (match.report('hands.count', {}) as { details?: unknown }).details
  expect([lay('otter'), lay('heron'), lay('otter')]).toMatchObject([
    { ok: true },
    { ok: true },
    { code: 'cell-taken' },
  ])
  expect(counted()).toEqual({ free: 1, on: ['otter', 'heron'] })
  match.report('hands.lift', { x: 0 })
  expect(counted()).toEqual({ free: 2, on: ['otter'] })
  lay('heron')
  match.report('hands.clear', {})
  expect(counted()).toEqual({ free: 2, on: [] })
  match.report('hands.lift', { x: 1 })
  expect(match.faults).toEqual([])
})
