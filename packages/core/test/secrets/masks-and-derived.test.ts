import { expect, test } from 'vitest'
import {
  defineRule,
  everyone,
  flag,
  group,
  int,
  list,
  nobody,
  only,
  owner,
  perSeat,
  seatRef,
  single,
  text,
} from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import { begin } from '../fixtures/begin-with.ts'

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
        handle(match, { seat, cards }) {
          match.own.hand.of(seat).cards = cards
        },
      },
      bid: {
        input: { seat: seatRef(), bid: int() },
        handle(match, { seat, bid }) {
          match.own.hand.of(seat).bids = bid
        },
      },
      show: {
        input: { seat: seatRef(), open: flag() },
        handle(match, { seat, open }) {
          match.own.hand.of(seat).open = open
        },
      },
    },
  })
  const match = begin(hands)
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  let copy = JSON.parse(match.addViewer('heron').view)
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
        handle(match) {
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
  match.addViewer('spectator')
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
        handle(match, { open, broken }) {
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
  match.addViewer('otter')
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

test('a group may ask who sits where: what the first of those who are still here sees goes on to the next', () => {
  const pier = defineRule({
    name: 'pier',
    state: { lamp: single({ oil: int(7) }) },
    groups: {
      keepers({ seating }) {
        const here = seating.all.filter((seat) => seating.has(seat) && !seating.isGone(seat))
        const first = Math.min(...here.map((seat) => seating.number(seat)))
        return seating.has('nobody') ? [] : here.filter((seat) => seating.number(seat) === first)
      },
    },
  })
  const shed = defineRule({
    name: 'shed',
    needs: [pier],
    state: {
      key: single({ hook: int(3).seenBy(group(pier, 'keepers')) }),
    },
  })
  const match = begin(pier, shed)
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  const seen = () => ['otter', 'heron'].map((seat) => match.view(seat).shed)
  expect(seen()).toEqual([{ key: { hook: 3 } }, { key: {} }])
  match.direct('phases.start', {})
  match.advanceTo(match.nextDue)
  match.submit('otter', 'roster.leave', {})
  expect(match.view('heron').shed).toEqual({ key: { hook: 3 } })
})
