import fc from 'fast-check'
import { expect, test } from 'vitest'
import {
  choice,
  defineRule,
  defineRulebook,
  everyone,
  int,
  maybe,
  minutes,
  nobody,
  only,
  owner,
  perSeat,
  seatRef,
  text,
} from 'zinc-referee'
import { boostsOf, mostAtTime, respawn, rounds, scores, verdict, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const names = ['prow', 'wind', 'net', 'oath', 'mist', 'hex'] as const
const boosts = boostsOf({
  prow: { lasts: 8000, strikes: 2 },
  wind: { lasts: 3000, again: 'stack', most: 2 },
  net: { lasts: 2000, again: 'extend', most: 3, suffers: 0.5 },
  oath: { lasts: 5000, again: 'ignore', onDown: 'keep' },
  mist: { lasts: 6000, seenBy: owner },
  hex: { lasts: 6000, seenBy: nobody },
})
/** Each wind adds 1 to a blow. Who has a prow shows its sail to everyone. */
const fray = defineRule({
  name: 'fray',
  needs: [vitals, boosts],
  state: {
    sails: perSeat({ colour: text('red') }).seenWhen({
      colour: ({ id }, look) => (look.use(boosts).isWorn(id, 'prow') ? everyone : only(id)),
    }),
  },
  amend: {
    'vitals.hurt'(match, { by, amount }) {
      if (by !== undefined) amount.add(match.use(boosts).count(by, 'wind'))
    },
  },
  facts: {
    give: {
      input: { seat: seatRef(), kind: choice(...names), by: maybe(seatRef()), lasts: maybe(int()) },
      handle: (match, given) => match.use(boosts).give(given),
    },
    take: {
      input: { seat: seatRef(), kind: choice(...names) },
      handle: (match, { seat, kind }) => match.use(boosts).take(seat, kind),
    },
  },
})
const book = defineRulebook({
  name: 'fray',
  seats: { min: 2, max: 4 },
  rules: [
    rounds({ length: minutes(5) }),
    vitals({ healthSeen: 'everyone' }),
    scores,
    respawn,
    verdict({ when: [mostAtTime] }),
    moves,
    boosts,
    fray,
  ],
})
type Kind = (typeof names)[number]

function begin() {
  const { match } = playMatch(book, ['otter', 'heron', 'vole'])
  const rows = (viewer = 'spectator') =>
    Object.values(match.view(viewer).boosts.rows).map(({ kind, on, until }) => ({ kind, on, until }))
  return {
    match,
    rows,
    at: (play: number) => match.advanceTo(3000 + play),
    give: (seat: string, kind: Kind, more: { by?: string; lasts?: number } = {}) =>
      match.report('fray.give', { seat, kind, ...more }),
    untils: (seat: string, kind: Kind) =>
      match.state.boosts.rows
        .where({ on: seat })
        .flatMap((row) => (row.kind === kind ? row.until : []))
        .sort((a, b) => a - b),
    taken(target: string, by: string, amount = 10) {
      const before = match.state.vitals.body.of(target).health
      match.report('moves.hit', { target, by, amount })
      return before - match.state.vitals.body.of(target).health
    },
  }
}

test('BO1: given again it is refreshed, stacks up to its most, is extended up to its most, or is refused', () => {
  const { at, give, untils } = begin()
  for (const kind of ['prow', 'wind', 'net', 'oath'] as const) give('otter', kind)
  at(1000)
  expect(give('otter', 'oath')).toMatchObject({ code: 'has-boost' })
  for (const kind of ['prow', 'wind', 'net'] as const) give('otter', kind)
  expect([untils('otter', 'prow'), untils('otter', 'wind'), untils('otter', 'net')]).toEqual([
    [9000],
    [3000, 4000],
    [4000],
  ])
  give('otter', 'wind', { lasts: 2500 }) // the one that ends first gives way
  give('otter', 'net')
  give('otter', 'net')
  expect([untils('otter', 'wind'), untils('otter', 'net')]).toEqual([[3500, 4000], [7000]])
  give('otter', 'prow', { lasts: 10 }) // never shorter
  expect(untils('otter', 'prow')).toEqual([9000])
})

test('BO2: a blow at the ms it ends is not boosted, one at the ms it is given is, if it comes after', () => {
  const { at, give, taken } = begin()
  expect(taken('heron', 'otter')).toBe(10)
  give('otter', 'prow')
  expect(taken('heron', 'otter')).toBe(20)
  at(7999)
  expect(taken('heron', 'otter')).toBe(20)
  at(8000)
  expect(taken('heron', 'otter')).toBe(10)
})

test('BO3, BO4: all that change one decision do so together: adds, then doubled, then halved', () => {
  const { give, taken } = begin()
  give('otter', 'wind')
  give('otter', 'wind')
  give('otter', 'prow')
  expect(taken('heron', 'otter')).toBe(24)
  give('heron', 'net')
  expect(taken('heron', 'otter')).toBe(12)
})

test('BO5: not for one who is down, but where it keeps through that, nor for one who has left; going down clears it', () => {
  const { match, give, untils, taken } = begin()
  give('heron', 'prow')
  give('heron', 'oath')
  taken('heron', 'otter', 100)
  expect([untils('heron', 'prow'), untils('heron', 'oath')]).toEqual([[], [5000]])
  expect(give('heron', 'prow')).toMatchObject({ code: 'target-down', details: { target: 'heron' } })
  match.submit('vole', 'roster.leave', {})
  expect(give('vole', 'prow')).toMatchObject({ code: 'not-in-play' })
})

test('BO6, BO7: it goes on when its giver leaves; no time at all is bad input, and a mistake where it is declared', () => {
  const { match, give, untils } = begin()
  give('otter', 'prow', { by: 'vole' })
  match.submit('vole', 'roster.leave', {})
  expect(untils('otter', 'prow')).toEqual([8000])
  expect(give('otter', 'wind', { lasts: 0 })).toMatchObject({ code: 'bad-input' })
  expect(() => boostsOf({ prow: { lasts: 0 }, wind: { lasts: 1, most: 0 } })).toThrow(
    /'prow' lasts 0 ms.*'most' of 'wind'/,
  )
})

test('who may not know of a boost gets no trace of it', () => {
  const { match, rows, give, at } = begin()
  for (const viewer of ['otter', 'heron', 'spectator']) match.addViewer(viewer)
  match.flush()
  give('otter', 'mist')
  give('otter', 'hex')
  expect(match.flush().map(({ viewer }) => viewer)).toEqual(['otter'])
  expect([rows('otter').length, rows('heron').length, rows().length]).toEqual([1, 0, 0])
  at(6000)
  expect(match.flush().map(({ viewer }) => viewer)).toEqual(['otter'])
})

test('taken back it ends at once, and all end with the round', () => {
  const { match, rows, give, at } = begin()
  give('otter', 'prow')
  give('heron', 'wind')
  match.report('fray.take', { seat: 'otter', kind: 'prow' })
  expect(rows().map(({ kind }) => kind)).toEqual(['wind'])
  at(299_000)
  give('heron', 'prow')
  at(300_000)
  expect(match.state.boosts.rows.all()).toEqual([])
})

test('laws a to c: active exactly from its giving until its end; the order of giving at one instant changes nothing; never more than its most', () => {
  const gift = fc.record({ kind: fc.constantFrom(...names), seat: fc.constantFrom('otter', 'heron') })
  const play = (gifts: readonly { kind: Kind; seat: string }[]) => {
    const table = begin()
    for (const { seat, kind } of gifts) table.give(seat, kind)
    return table
  }
  fc.assert(
    fc.property(fc.array(gift, { maxLength: 8 }), fc.nat(9000), (gifts, later) => {
      const [one, other] = [play(gifts), play([...gifts].reverse())]
      for (const { at } of [one, other]) at(later)
      for (const seat of ['otter', 'heron'])
        for (const kind of names) {
          expect(other.untils(seat, kind)).toEqual(one.untils(seat, kind))
          expect(one.untils(seat, kind).every((until) => until > later)).toBe(true)
          expect(one.untils(seat, kind).length).toBeLessThanOrEqual(kind === 'wind' ? 2 : 1)
        }
      expect([one.taken('heron', 'otter'), one.match.faults]).toEqual([other.taken('heron', 'otter'), []])
    }),
  )
})

test('BO11: a boost changes blows and healing as its kind says; two that stack change them twice', () => {
  const strong = boostsOf({ salve: { lasts: 9000, again: 'stack', most: 2, heals: 1.5, strikes: 3 } })
  const camp = defineRule({
    name: 'camp',
    needs: [strong],
    facts: {
      give: {
        input: { seat: seatRef() },
        handle: (match, { seat }) => match.use(strong).give({ seat, kind: 'salve' }),
      },
    },
  })
  const book = defineRulebook({
    name: 'camp',
    seats: { min: 2, max: 4 },
    rules: [vitals, moves, strong, camp],
  })
  const { match } = playMatch(book, ['otter', 'heron'])
  const health = () => ['otter', 'heron'].map((seat) => match.state.vitals.body.of(seat).health)
  for (let n = 0; n < 2; n++) match.report('camp.give', { seat: 'otter' })
  match.report('moves.hit', { target: 'heron', by: 'otter', amount: 5 })
  match.report('moves.hit', { target: 'otter', by: 'heron', amount: 50 })
  match.report('moves.heal', { target: 'otter', amount: 4 })
  expect(health()).toEqual([59, 55])
  expect(() => boostsOf({ dud: { lasts: 1, heals: -1 } })).toThrow(/'heals' of 'dud' is -1/)
})

test('BO12: a sight may ask who has a boost: the sail is seen while the prow lasts', () => {
  const { match, at, give } = begin()
  const seen = () => match.view('heron').fray.sails['otter']?.colour
  expect(seen()).toBeUndefined()
  give('otter', 'prow')
  expect(seen()).toBe('red')
  at(8000)
  expect(seen()).toBeUndefined()
})
