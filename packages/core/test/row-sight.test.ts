import fc from 'fast-check'
import jsonPatch from 'fast-json-patch'
import { expect, test } from 'vitest'
import {
  type Audience,
  anyOf,
  defineRule,
  everyone,
  except,
  flag,
  group,
  int,
  list,
  maybe,
  nobody,
  only,
  owner,
  perSeat,
  refuse,
  rowOf,
  seatRef,
  single,
  table,
  text,
} from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import { inPhase } from 'zinc-referee/rules'
import { begin } from './workshop.ts'

const SEATS = ['otter', 'heron', 'vole']
const VIEWERS = [...SEATS, 'spectator']

/** Shells on a table: under its lid a shell is seen by whoever holds it, and some are shown to a friend or kept from one. */
const shells = defineRule({
  name: 'shells',
  state: {
    pile: table({
      place: int(0).seenBy(everyone),
      face: int(0),
      mine: int(0).seenBy(owner),
      secret: int(0),
      holder: maybe(seatRef()),
      friend: maybe(seatRef()),
      lid: flag(true),
      whole: flag(false),
    })
      .ownedBy('holder')
      .seenWhen({
        place: (row) => (row.whole ? nobody : everyone),
        face: (row): Audience =>
          row.lid
            ? anyOf(only(row.holder), only(row.friend))
            : row.friend === undefined
              ? everyone
              : except(everyone, row.friend),
      }),
  },
  actions: {
    tap: {
      when: inPhase('lobby'),
      input: { shell: rowOf('pile') },
      decide: (match, _seat, { shell }) => refuse('tapped', { face: match.own.pile.get(shell)?.face }),
    },
  },
  directives: {
    add: {
      input: { face: int(), holder: maybe(seatRef()), whole: flag(false) },
      obey(match, { face, holder, whole }) {
        match.own.pile.add({ face, mine: face, secret: face, holder, whole })
      },
    },
    change: {
      input: { n: int(), what: text(), to: maybe(seatRef()), value: int(0) },
      obey(match, { n, what, to, value }) {
        const row = match.own.pile.all()[n]
        if (row === undefined) return refuse('nothing-there')
        if (what === 'lid') row.lid = !row.lid
        if (what === 'whole') row.whole = !row.whole
        if (what === 'holder') row.holder = to
        if (what === 'friend') row.friend = to
        if (what === 'face') {
          row.face = value
          row.mine = value
          row.secret = value
        }
        if (what === 'place') row.place = value
        if (what === 'remove') match.own.pile.remove(row.id)
        if (what === 'back') {
          const { lid } = row
          row.lid = !lid
          row.lid = lid
        }
        if (what === 'fail') {
          row.lid = !row.lid
          row.holder = to
          match.own.pile.add({ face: 1 })
          throw new Error('fell over')
        }
        return
      },
    },
  },
})

const open = () => {
  const match = begin(shells)
  for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
  return match
}
const seat = fc.option(fc.constantFrom(...SEATS), { nil: null })
const deed = fc.oneof(
  fc.record({
    what: fc.constant('add'),
    face: fc.integer({ min: 1000, max: 9999 }),
    to: seat,
    n: fc.nat(5),
    whole: fc.boolean(),
    flush: fc.boolean(),
  }),
  fc.record({
    what: fc.constantFrom('lid', 'whole', 'holder', 'friend', 'face', 'place', 'remove', 'back', 'fail'),
    face: fc.integer({ min: 1000, max: 9999 }),
    to: seat,
    n: fc.nat(5),
    whole: fc.constant(false),
    flush: fc.boolean(),
  }),
)
const act = (match: any, { what, face, to, n, whole }: any) =>
  what === 'add'
    ? match.direct('shells.add', { face, holder: to, whole })
    : match.direct('shells.change', { n, what, to, value: what === 'place' ? n : face })

test('rows whose sight depends on themselves: patched equals fresh for everyone, for two appliers; a failed step sends nothing', () => {
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 40 }), (deeds) => {
      const match = open()
      const copies = new Map(
        VIEWERS.map((viewer) => [
          viewer,
          [JSON.parse(match.open(viewer).view), JSON.parse(match.open(viewer).view)],
        ]),
      )
      for (const each of [...deeds, { what: 'lid', n: 0, flush: true }]) {
        const before = match.hash()
        const ruling = act(match, each)
        if (!ruling.ok) expect(match.hash()).toBe(before)
        if (!each.flush) continue
        for (const { viewer, patch } of match.flush()) {
          const [ours, theirs] = copies.get(viewer) ?? []
          copies.set(viewer, [
            applyPatch(ours, JSON.parse(patch)),
            jsonPatch.applyPatch(theirs, JSON.parse(patch), true).newDocument,
          ])
        }
        for (const [viewer, both] of copies) for (const copy of both) expect(copy).toEqual(match.view(viewer))
      }
      expect(match.faults.every(({ error }: any) => error.message === 'fell over')).toBe(true)
    }),
    { numRuns: 300 },
  )
})

test('what a viewer may not see changes no byte that it is sent: faces that only others see, or nobody', () => {
  const seen = (deeds: any[], salt: number, viewer: string): string => {
    const match = open()
    let sent = match.open(viewer).view
    const hidden = (n: number): boolean =>
      match.state.shells.pile.all()[n]?.holder !== viewer &&
      match.state.shells.pile.all()[n]?.friend !== viewer
    for (const each of deeds) {
      const secret = each.what === 'add' ? each.to !== viewer : each.what === 'face' && hidden(each.n)
      act(match, secret ? { ...each, face: each.face + salt } : each)
      if (each.flush) sent += JSON.stringify(match.flush())
    }
    return sent + JSON.stringify(match.flush()) + JSON.stringify(match.view(viewer))
  }
  // Only what keeps lids on and gives no hidden shell to the viewer: else it may come to see what was varied.
  const quiet = deed.filter(
    ({ what, to }) =>
      what === 'add' ||
      what === 'place' ||
      what === 'face' ||
      what === 'whole' ||
      what === 'remove' ||
      ((what === 'holder' || what === 'friend') && to !== 'otter'),
  )
  fc.assert(
    fc.property(fc.array(quiet, { maxLength: 30 }), (deeds) => {
      expect(seen(deeds, 90_000, 'otter')).toBe(seen(deeds, 0, 'otter'))
    }),
    { numRuns: 150 },
  )
})

test('a row that somebody loses sight of gets a new id; one that nobody loses keeps it', () => {
  const match = open()
  const row = () => match.state.shells.pile.all()[0]
  match.direct('shells.add', { face: 7, holder: 'otter', whole: true })
  const first = row().id
  match.direct('shells.change', { n: 0, what: 'friend', to: 'heron' })
  expect(row().id).toBe(first)
  match.direct('shells.change', { n: 0, what: 'holder', to: 'vole' })
  expect(row().id).not.toBe(first)
  expect(Object.keys(match.view('otter').shells.pile)).toEqual([])
  expect(Object.keys(match.view('vole').shells.pile)).toEqual([row().id])
})

test('an input resolves a row only where the asker sees it: a guessed id is answered as one that does not exist', () => {
  const match = open()
  match.direct('shells.add', { face: 7, holder: 'otter', whole: true })
  const { id } = match.state.shells.pile.all()[0]
  expect(match.submit('otter', 'shells.tap', { shell: id })).toEqual({
    ok: false,
    code: 'tapped',
    details: { face: 7 },
  })
  const guessed = match.submit('heron', 'shells.tap', { shell: id })
  expect({ ...guessed, details: undefined }).toEqual({
    ...match.submit('heron', 'shells.tap', { shell: 'zzzzzz' }),
    details: undefined,
  })
  expect(guessed.code).toBe('no-such-target')
})

test('a policy that writes is a fault, and nothing is kept', () => {
  const match = begin(
    defineRule({
      name: 'bad',
      state: {
        rows: table({ n: int(0) }).seenWhen({
          n: (row) => {
            Object.assign(row, { n: 5 })
            return everyone
          },
        }),
      },
      directives: {
        add: {
          input: {},
          obey(m) {
            m.own.rows.add({})
          },
        },
      },
    }),
  )
  const before = match.hash()
  expect(match.direct('bad.add', {})).toMatchObject({ code: 'fault' })
  expect(match.hash()).toBe(before)
})

const manyWays = (ways: number) => {
  const names = Array.from({ length: ways }, (_, n) => `c${n}`)
  return defineRule({
    name: 'many',
    state: {
      rows: table({ mask: int(), ...Object.fromEntries(names.map((name) => [name, int(7)])) }).seenWhen(
        Object.fromEntries(
          names.map((name, n) => [name, (row: any) => (row.mask & (1 << n) ? only('otter') : only('heron'))]),
        ) as any,
      ),
    },
    directives: {
      set: {
        input: { mask: int() },
        obey(match: any, { mask }: any) {
          const [row] = match.own.rows.all()
          if (row === undefined) match.own.rows.add({ mask })
          else row.mask = mask
        },
      },
    },
  } as any)
}

test('cells of one row may be seen in as many ways as fit, each right for each viewer; more is an error', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(2 ** 26 - 1), { maxLength: 6 }), (masks) => {
      const match = begin(manyWays(26) as never)
      for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
      const copies = new Map(SEATS.map((seat) => [seat, JSON.parse(match.open(seat).view)]))
      match.flush()
      for (const mask of masks) {
        match.direct('many.set', { mask })
        for (const { viewer, patch } of match.flush())
          copies.set(viewer, applyPatch(copies.get(viewer), JSON.parse(patch)))
        for (const [viewer, copy] of copies) expect(copy).toEqual(match.view(viewer))
      }
    }),
    { numRuns: 60 },
  )
  expect(() => begin(manyWays(27) as never)).toThrow(/more than 26 different ways/)
})

test('a mask stands in place of a cell for those who may not see it, and gives way to the cell', () => {
  const hands = defineRule({
    name: 'hands',
    state: {
      hand: perSeat({ cards: list(text(), []).seenBy(owner), open: flag(false), bids: int(0) })
        .seenWhen({ cards: (row) => (row.open ? everyone : only(row.id)) })
        .maskedBy({
          cards: { to: everyone, as: (row) => row.cards.length },
          bids: { to: everyone, as: (row) => row.bids > 0 },
        }),
    },
    directives: {
      deal: {
        input: { seat: seatRef(), cards: list(text()) },
        obey(match, { seat, cards }) {
          match.own.hand.of(seat).cards = cards
        },
      },
      bid: {
        input: { seat: seatRef(), bid: int() },
        obey(match, { seat, bid }) {
          match.own.hand.of(seat).bids = bid
        },
      },
      show: {
        input: { seat: seatRef(), open: flag() },
        obey(match, { seat, open }) {
          match.own.hand.of(seat).open = open
        },
      },
    },
  })
  const match = begin(hands)
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  let copy = JSON.parse(match.open('heron').view)
  const sent = () => {
    const patches = match.flush().map(({ patch }: any) => JSON.parse(patch))
    for (const patch of patches) copy = applyPatch(copy, patch)
    expect(copy).toEqual(match.view('heron'))
    return patches.flat()
  }
  sent()
  match.direct('hands.deal', { seat: 'otter', cards: ['salt', 'silk'] })
  expect(sent()).toEqual([{ op: 'replace', path: '/hands/hand/otter/cards', value: 2 }])
  match.direct('hands.deal', { seat: 'otter', cards: ['tin', 'silk'] })
  expect(sent()).toEqual([]) // another hand of as many cards is not told
  match.direct('hands.bid', { seat: 'otter', bid: 3 })
  match.direct('hands.bid', { seat: 'otter', bid: 5 })
  expect(sent()).toEqual([{ op: 'replace', path: '/hands/hand/otter/bids', value: true }])
  match.direct('hands.show', { seat: 'otter', open: true })
  sent()
  expect(match.view('heron').hands.hand.otter).toEqual({ cards: ['tin', 'silk'], bids: true })
  match.direct('hands.show', { seat: 'otter', open: false })
  sent()
  expect(match.view('heron').hands.hand.otter).toEqual({ cards: 2, bids: true })
})

test('what a part derives stands in views beside its cells, and follows what it read of another rule', () => {
  const tide = defineRule({
    name: 'tide',
    state: { water: single({ level: int(1) }) },
    calls: { level: (match) => match.own.water.level },
    directives: {
      rise: {
        input: {},
        obey(match) {
          match.own.water.level += 1
        },
      },
    },
  })
  const boats = defineRule({
    name: 'boats',
    needs: [tide],
    state: {
      boat: perSeat({ draught: int(2) }).derives({
        afloat: { to: everyone, as: (row, look) => look.use(tide).level() > row.draught },
        depth: { to: owner, as: (row, look) => look.use(tide).level() - row.draught },
      }),
    },
  })
  const match = begin(tide, boats)
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  match.open('spectator')
  match.flush()
  expect(match.view('otter').boats.boat).toEqual({ otter: { afloat: false, depth: -1 } })
  match.direct('tide.rise', {})
  expect(match.flush()).toEqual([]) // still aground: what a spectator gets is the same
  match.direct('tide.rise', {})
  expect(match.flush().map(({ patch }: any) => JSON.parse(patch))).toEqual([
    [{ op: 'replace', path: '/boats/boat/otter/afloat', value: true }],
  ])
  expect(match.view('otter').boats.boat).toEqual({ otter: { afloat: true, depth: 1 } })
})

test('a sight that fails takes the step back, and with it what other sights and groups of that step had become', () => {
  const gatehouse = defineRule({
    name: 'gatehouse',
    state: { gate: single({ open: flag(false), broken: flag(false) }) },
    calls: {
      isOpen: (match) => match.own.gate.open,
      isBroken: (match) => match.own.gate.broken,
    },
    groups: { guests: (match) => (match.own.gate.open ? match.seats : []) },
    directives: {
      turn: {
        input: { open: flag(), broken: flag() },
        obey(match, { open, broken }) {
          match.own.gate.open = open
          match.own.gate.broken = broken
        },
      },
    },
  })
  const yard = defineRule({
    name: 'yard',
    needs: [gatehouse],
    state: {
      well: single({ depth: int(7) }).seenWhen({
        depth: (_row, look) => (look.use(gatehouse).isOpen() ? everyone : nobody),
      }),
      bell: single({ rings: int(3).seenBy(group(gatehouse, 'guests')) }),
      mill: single({ turns: int(1) }).seenWhen({
        turns(_row, look) {
          if (look.use(gatehouse).isBroken()) throw new Error('fell over')
          return nobody
        },
      }),
    },
  })
  const match = begin(gatehouse, yard)
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  match.open('otter')
  match.flush()
  const before = match.view('otter').yard
  expect(match.direct('gatehouse.turn', { open: true, broken: true })).toMatchObject({ code: 'fault' })
  expect(match.faults[0].handler).toBe('yard.mill seenWhen')
  expect(match.view('otter').yard).toEqual(before)
  expect(match.flush()).toEqual([])
  expect(match.direct('gatehouse.turn', { open: true, broken: false })).toEqual({ ok: true })
  expect(match.view('otter').yard).toEqual({ well: { depth: 7 }, bell: { rings: 3 }, mill: {} })
  expect(match.direct('gatehouse.turn', { open: false, broken: true })).toMatchObject({ code: 'fault' })
  expect(match.view('otter').yard).toEqual({ well: { depth: 7 }, bell: { rings: 3 }, mill: {} })
  match.direct('gatehouse.turn', { open: false, broken: false })
  expect(match.view('otter').yard).toEqual(before)
})
