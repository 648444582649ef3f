import { expect, test } from 'vitest'
import {
  chanceFrom,
  declareRule,
  everyone,
  flag,
  int,
  type MatchOf,
  nobody,
  num,
  owner,
  perSeat,
  seatRef,
  table,
  text,
} from 'zinc-referee'
import { inPhase } from 'zinc-referee/rules'
import { begin } from '../fixtures/begin-with.ts'

const shape = declareRule({
  name: 'ledge',
  timers: ['fall'],
  state: {
    crew: perSeat({
      open: int(0).seenBy(everyone),
      own: int(0).seenBy(owner),
      none: int(0).seenBy(nobody),
      quiet: int(0),
      share: num(0.5).seenBy(everyone),
    }),
    things: table({ name: text().seenBy(everyone), hidden: int(0) }),
  },
  events: { told: { seat: seatRef().seenBy(everyone), purse: int().seenBy(owner), under: int() } },
})
function set(match: MatchOf<typeof shape>, seat: string, n: number) {
  const row = match.own.crew.of(seat)
  row.open = n
  row.own = n
  row.none = n
  row.quiet = n
}
const ledge = shape.does({
  actions: {
    set: {
      when: inPhase('lobby'),
      input: { n: int() },
      decide(match, seat, { n }) {
        set(match, seat, n)
      },
    },
  },
  directives: {
    tell: {
      input: { seat: seatRef() },
      handle: (match, { seat }) => match.emit('told', { seat, purse: 3, under: 4 }),
    },
    add: {
      input: { name: text(), drop: flag(false) },
      handle(match, { name, drop }) {
        const row = match.own.things.add({ name })
        if (drop) match.own.things.remove(row.id)
      },
    },
    drop: {
      input: { name: text() },
      handle(match, { name }) {
        for (const { id } of match.own.things.where({ name })) match.own.things.remove(id)
      },
    },
  },
  timers: { fall() {} },
})

test('a cell is in a view only where a sight was declared, and only for those it names', () => {
  const match = begin(ledge)
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  match.submit('otter', 'ledge.set', { n: 5 })
  expect(match.view('otter').ledge.crew).toEqual({
    otter: { open: 5, own: 5, share: 0.5 },
    heron: { open: 0, share: 0.5 },
  })
  expect(match.view('spectator').ledge.crew).toEqual({
    otter: { open: 5, share: 0.5 },
    heron: { open: 0, share: 0.5 },
  })
  expect(match.view('heron').roster.seats.otter).not.toHaveProperty('player')
})

test('viewers who see the same get the same string; rows appear and vanish as whole operations', () => {
  const match = begin(ledge)
  for (const viewer of ['spectator-1', 'spectator-2']) match.addViewer(viewer)
  match.direct('ledge.add', { name: 'reed "1"/~' })
  match.direct('ledge.add', { name: 'gone at once', drop: true })
  const [one, two] = match.flush()
  expect(one.patch).toBe(two.patch)
  expect(JSON.parse(one.patch)).toMatchObject([{ op: 'add', value: { name: 'reed "1"/~' } }])
  match.direct('ledge.drop', { name: 'reed "1"/~' })
  expect(JSON.parse(match.flush()[0].patch)).toMatchObject([{ op: 'remove' }])
  expect(match.view('spectator-1').ledge.things).toEqual({})
})

test.each([0, 1, 2])(
  'whoever views a seat that has gone does not see what a later seat of the same id holds; %i of those left too',
  (leave) => {
    const match = begin(ledge)
    for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
    for (const viewer of ['otter', 'heron']) match.addViewer(viewer)
    match.submit('otter', 'roster.leave', {})
    for (let later = 0; later <= leave; later++) {
      match.direct('roster.join', { seat: 'otter', name: `Another ${later}`, player: 'p2' })
      match.submit('otter', 'ledge.set', { n: 7_919_041 })
      match.direct('ledge.tell', { seat: 'otter' }) // its purse is told to the newcomer only
      if (later < leave || leave === 2) match.submit('otter', 'roster.leave', {})
    }
    const [gone, ...others] = match.flush()
    expect(gone).toMatchObject({ viewer: 'otter', patch: '[]' })
    expect(gone.notices[0]).toMatchObject({ name: 'roster.left', cells: { seat: 'otter', why: 'left' } })
    expect(JSON.stringify(gone)).not.toContain('purse')
    expect(others.map(({ viewer }: any) => viewer)).toEqual(['heron'])
    expect(match.flush()).toEqual([])
    if (leave < 2) expect(match.view('heron').ledge.crew.otter).toEqual({ open: 7_919_041, share: 0.5 })
  },
)

test('a notice reaches those who may know it, each with what they may know, and ends after 6 s', () => {
  const match = begin(ledge)
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  for (const viewer of ['otter', 'heron']) match.addViewer(viewer)
  match.flush()
  match.direct('ledge.tell', { seat: 'otter' })
  const notices = Object.fromEntries(match.flush().map((update: any) => [update.viewer, update.notices]))
  expect(notices['otter']).toEqual([
    { name: 'ledge.told', at: 0, until: 6000, cells: { seat: 'otter', purse: 3 } },
  ])
  expect(notices['heron']).toEqual([{ name: 'ledge.told', at: 0, until: 6000, cells: { seat: 'otter' } }])
  match.advanceTo(5999)
  expect(match.addViewer('spectator').notices.at(-1)).toMatchObject({ name: 'ledge.told' })
  match.advanceTo(6000)
  match.flush()
  expect(match.addViewer('spectator').notices).toEqual([])
})

test('chance: each purpose has its own stream, bounds are inclusive, and shuffles are even', () => {
  const dice = chanceFrom('fair-1', 'dice')
  const seen = new Set(Array.from({ length: 200 }, () => dice.int(1, 6)))
  expect([...seen].sort()).toEqual([1, 2, 3, 4, 5, 6])
  expect(chanceFrom('fair-1', 'dice').shuffle([1, 2, 3, 4, 5])).toEqual(
    chanceFrom('fair-1', 'dice').shuffle([1, 2, 3, 4, 5]),
  )
  expect(chanceFrom('fair-1', 'deal').shuffle([1, 2, 3, 4, 5, 6, 7])).not.toEqual(
    chanceFrom('fair-1', 'dice').shuffle([1, 2, 3, 4, 5, 6, 7]),
  )
  const counts = new Map<string, number>()
  for (let n = 0; n < 24_000; n++) {
    const order = dice.shuffle(['a', 'b', 'c', 'd']).join('')
    counts.set(order, (counts.get(order) ?? 0) + 1)
  }
  const square = [...counts.values()].reduce((sum, count) => sum + (count - 1000) ** 2 / 1000, 0)
  expect(counts.size).toBe(24)
  expect(square).toBeLessThan(57.1) // χ² with 23 degrees, 1 in 10,000
})

test('chance: weights and dice come up as often as they should, and a weight that cannot be is an error', () => {
  const chance = chanceFrom('fair-1', 'weights')
  const counts = { salt: 0, silk: 0, tin: 0 }
  for (let n = 0; n < 6000; n++)
    counts[
      chance.weighted([
        ['salt', 1],
        ['tin', 0],
        ['silk', 2],
      ] as const)
    ]++
  expect(counts.tin).toBe(0)
  expect((counts.salt - 2000) ** 2 / 2000 + (counts.silk - 4000) ** 2 / 4000).toBeLessThan(15.1) // 1 degree, 1 in 10,000
  const faces = Array.from({ length: 6 }, () => 0)
  for (const face of chance.dice(6000, 6)) faces[face - 1] = (faces[face - 1] ?? 0) + 1
  expect(faces.reduce((sum, count) => sum + (count - 1000) ** 2 / 1000, 0)).toBeLessThan(25.7) // 5 degrees
  expect(() => chance.weighted([['salt', -1]])).toThrow(/weight of -1/)
  expect(() => chance.weighted([])).toThrow(/at least 1/)
})
