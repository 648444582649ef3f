import { expect, test } from 'vitest'
import {
  beginMatch,
  choice,
  defineRule,
  defineRulebook,
  everyone,
  int,
  json,
  list,
  type Migrated,
  map,
  maybe,
  owner,
  perSeat,
  resumeMatch,
  rowOf,
  seatRef,
  single,
  table,
  text,
} from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'
import { z } from 'zod'
import { fact } from '../fixtures/inputs.ts'

const bookOf = (state: object, more: object = {}): any =>
  defineRulebook({
    name: 'stall',
    seats: { min: 1, max: 2 },
    rules: [
      defineRule({
        name: 'stall',
        state,
        directives: {
          fill: fact({}, (match) => {
            for (const seat of match.seats) match.own.purse.of(seat).gold = 100
            match.own.jars.add({ n: 7, what: 'plum' })
            match.timers.start('ripen', { in: 60_000 })
          }),
        },
        timers: { ripen: { clock: 'match' } },
        ...more,
      } as any),
    ],
  } as any)
const anything = z.any()
const seen = (n: number) => int(n).seenBy(everyone)
const jars = { n: seen(0), what: text().seenBy(everyone) }
const before = bookOf(
  { purse: perSeat({ gold: seen(0), wounds: seen(3) }), jars: table(jars) },
  {
    settings: z.object({ rent: z.int().default(5), old: z.int().default(1) }),
  },
)
const taken = (): any => {
  const match: any = beginMatch(before, { seed: 'fair-1', settings: { stall: { rent: 8 } } } as any)
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  match.direct('stall.fill', {})
  return JSON.parse(JSON.stringify(match.snapshot()))
}

test('a rule that has changed goes on from an older snapshot: nothing lands in another cell, and what is apart is told', () => {
  const after = bookOf(
    {
      shelf: perSeat({ jars: seen(2) }),
      jars: table({ what: jars.what, sort: choice('sweet', 'sour').seenBy(everyone), n: jars.n }),
      purse: perSeat({
        luck: seen(7),
        gold: seen(0),
        debts: list(int()).seenBy(everyone),
        owed: maybe(text()).seenBy(everyone),
      }),
      stand: single({ open: seen(1) }),
    },
    { settings: z.object({ rent: z.int().default(5), tax: z.int().default(2) }), timers: {}, directives: {} },
  )
  const apart: Migrated[] = []
  const match: any = resumeMatch(after, taken(), {
    migrate: (old) => old,
    onMigrated: (each) => apart.push(each),
  })
  expect(match.view('heron').stall).toEqual({
    shelf: { otter: { jars: 2 }, heron: { jars: 2 } },
    jars: { [Object.keys(match.view('heron').stall.jars)[0] ?? '']: { what: 'plum', sort: 'sweet', n: 7 } },
    purse: {
      otter: { luck: 7, gold: 100, debts: [], owed: null },
      heron: { luck: 7, gold: 100, debts: [], owed: null },
    },
    stand: { open: 1 },
  })
  expect(match.settings.stall).toEqual({ rent: 8, tax: 2 })
  expect(apart).toEqual([
    {
      filled: [
        'stall.shelf',
        'stall.stand',
        'stall.jars.sort',
        'stall.purse.luck',
        'stall.purse.debts',
        'stall.purse.owed',
        'setting stall.tax',
      ],
      dropped: ['stall.purse.wounds', 'timer stall.ripen', 'setting stall.old'],
    },
  ])
  expect(match.direct('roster.kick', { seat: 'otter' })).toEqual({ ok: true })
})

test('migrate changes rows by name; a cell of another kind, or one without a first value, must be given a new one', () => {
  const after = bookOf({
    purse: perSeat({ gold: text('').seenBy(everyone) }),
    jars: table({ ...jars, on: rowOf('shelves').seenBy(everyone) }),
    shelves: table({ at: seen(0) }),
  })
  const go = (migrate: (old: any) => any): any => resumeMatch(after, taken(), { migrate })
  expect(() => go((old) => old)).toThrow(/'stall\.purse\.gold' held int and holds text now/)
  expect(() => resumeMatch(after, taken())).toThrow(/the rulebook has changed since/)
  const match = go((old) => {
    const { 'stall.purse': purse, ...parts } = old.parts
    const inWords = purse.rows.map((row: any) => ({ ...row, cells: { gold: `${row.cells.gold} shells` } }))
    return {
      ...old,
      parts: {
        ...parts,
        'stall.purse': { cells: { gold: 'text' }, rows: inWords },
        'stall.jars': { ...parts['stall.jars'], rows: [] },
      },
    }
  })
  expect(match.view('otter').stall.purse.otter).toEqual({ gold: '100 shells' })
})

test('what JSON cannot tell apart by itself comes back as it was: null and nothing, and no negative zero', () => {
  const book = bookOf(
    {
      jars: table({ n: int(), what: text() }),
      purse: perSeat({ gold: int(0) }),
      notes: single({
        one: json(anything, null).seenBy(everyone),
        other: maybe(json(anything)).seenBy(everyone),
        all: list(json(anything)).seenBy(everyone),
      }),
      sums: single({ n: int(0).seenBy(everyone), all: list(int()).seenBy(everyone) }),
    },
    {
      directives: {
        note: fact({ other: maybe(json(anything)), n: int() }, (match, { other, n }) => {
          match.own.notes.other = other
          match.own.notes.all = [null, 0, Object.assign(Object.create(null), { a: null })]
          Object.assign(match.own.sums, { n, all: [n, -0] })
        }),
      },
    },
  )
  for (const other of [undefined, null, { a: null }]) {
    const match: any = beginMatch(book, { seed: 'fair-1' })
    match.direct('stall.note', { ...(other !== undefined && { other }), n: -0 })
    const resumed: any = resumeMatch(book, JSON.parse(JSON.stringify(match.snapshot())))
    const { sums, notes } = resumed.state.stall
    expect([notes.one, notes.other, notes.all]).toEqual([
      null,
      match.state.stall.notes.other,
      [null, 0, { a: null }],
    ])
    expect([sums.n, ...sums.all].some((n) => Object.is(n, -0))).toBe(false)
    expect(resumed.hash()).toBe(match.hash())
  }
})

test('notices that have not expired survive a restore, for those who got them and in their order; rows in them do not', () => {
  const book = bookOf(
    { jars: table(jars), purse: perSeat({ gold: seen(0) }) },
    {
      events: {
        sold: {
          seat: seatRef().seenBy(owner),
          n: int().seenBy(everyone),
          jar: maybe(rowOf('jars')).seenBy(everyone),
        },
      },
      directives: {
        sell: fact({ seat: seatRef(), n: int() }, (match, { seat, n }) => {
          const { id } = match.own.jars.add({ n, what: 'plum' })
          match.emit('sold', { seat, n, jar: id })
          match.emit('sold', { seat, n: n - 1 })
        }),
      },
    },
  )
  const match: any = beginMatch(book, { seed: 'fair-1' })
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  match.direct('stall.sell', { seat: 'otter', n: 9 })
  match.advanceTo(4000)
  match.direct('stall.sell', { seat: 'heron', n: 5 })
  const sold = (of: any, viewer: string): unknown[] =>
    of
      .addViewer(viewer)
      .notices.flatMap(({ name, at, cells }: any) =>
        name === 'stall.sold' ? [[at, cells.seat ?? null, cells.n, cells.jar === null]] : [],
      )
  match.flush()
  const snapshot = JSON.parse(JSON.stringify(match.snapshot()))
  const [resumed, again]: any[] = [resumeMatch(book, snapshot), resumeMatch(book, snapshot)]
  const withoutRows = (told: unknown[]): unknown[] => told.map((each: any) => [...each.slice(0, 3), true])
  for (const viewer of ['otter', 'heron', 'spectator'])
    expect(sold(resumed, viewer)).toEqual(withoutRows(sold(match, viewer)))
  expect(sold(resumed, 'otter').map(([, seat, n]: any) => [seat, n])).toEqual([
    ['otter', 8],
    ['otter', 9],
    [null, 4],
    [null, 5],
  ])
  expect(resumed.flush()).toEqual([])
  again.advanceTo(7000)
  expect(sold(again, 'spectator').map(([at]: any) => at)).toEqual([4000, 4000])
})

test('nothing among several is nothing again after a restore; null, which could not be told from it, is refused', () => {
  const bag = defineRule({
    name: 'bag',
    state: { all: single({ row: list(maybe(json(z.any())), []), under: map(maybe(json(z.any()))) }) },
    facts: {
      put: fact({ n: int() }, ({ own: { all } }, { n }) => {
        const item = [undefined, null, { x: null }][n]
        all.row = [item, 'last']
        all.under = new Map([['key', item]])
      }),
    },
  })
  const book = defineRulebook({ name: 'bag', seats: { min: 1, max: 2 }, rules: [bag] })
  const { match } = playMatch(book, ['otter'])
  const kept = () => {
    const { row, under } = resumeMatch(book, JSON.parse(JSON.stringify(match.snapshot()))).state.bag.all
    return [row[0], under.get('key')]
  }
  expect([match.report('bag.put', { n: 0 }).ok, kept()]).toEqual([true, [undefined, undefined]])
  expect([match.report('bag.put', { n: 2 }).ok, kept()]).toEqual([true, [{ x: null }, { x: null }]])
  expect(match.report('bag.put', { n: 1 })).toMatchObject({ code: 'fault' })
  expect(String(match.faults[0]?.error)).toContain('is null, which stands for nothing there: write undefined')
})
