import fc from 'fast-check'
import { expect, test } from 'vitest'
import {
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  only,
  owner,
  perSeat,
  seatRef,
  text,
} from 'zinc-referee'
import { applyPatch, operationsOf, replacementsOf } from 'zinc-referee/replica'
import { applied } from '../fixtures/applied.ts'
import { fact } from '../fixtures/inputs.ts'

const EVERY = 100
/** The same sights, declared on the cells and as functions of the row. */
const parts = {
  declared: perSeat({
    x: int(0).latest(EVERY).seenBy(everyone),
    under: int(0).latest(EVERY).seenBy(owner),
    flag: text('').seenBy(everyone),
  }),
  'by row': perSeat({ x: int(0).latest(EVERY), under: int(0).latest(EVERY), flag: text('') }).seenWhen({
    x: () => everyone,
    under: ({ id }) => only(id),
    flag: () => everyone,
  }),
}
const driftWith = (rafts: object): any =>
  defineRule({
    name: 'drift',
    state: { rafts } as any,
    facts: {
      moved: fact({ seat: seatRef(), x: int(), under: int(0) }, (match, { seat, x, under }) => {
        const raft = match.own.rafts.of(seat)
        raft.x = x
        raft.under = under
        if (x > 900) throw new Error('over the weir')
      }),
      flown: fact({ seat: seatRef(), flag: text() }, (match, { seat, flag }) => {
        match.own.rafts.of(seat).flag = flag
      }),
    },
  } as any)
const books = Object.values(parts).flatMap((rafts) =>
  [true, false].map((generateCode) =>
    defineRulebook({ name: 'drift', seats: { min: 1, max: 4 }, rules: [driftWith(rafts)], generateCode }),
  ),
)
const SEATS = ['heron', 'otter', 'vole']
const VIEWERS = [...SEATS, 'spectator']

function afloat(book: any) {
  const match: any = beginMatch(book, { seed: 'fair-1' })
  for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
  match.direct('phases.start', {})
  match.advanceTo(3000)
  const views = new Map(VIEWERS.map((viewer) => [viewer, JSON.parse(match.addViewer(viewer).view)]))
  match.flush()
  const sent = new Map(VIEWERS.map((viewer) => [viewer, '']))
  const flush = (how?: object): void => {
    for (const update of match.flush(how)) {
      const { viewer, patch, latest } = update
      sent.set(viewer, `${sent.get(viewer)}${match.now} ${patch} ${latest}\n`)
      views.set(viewer, applied(views.get(viewer), update))
    }
  }
  return { match, views, sent, flush }
}

test.each(books)(
  'only the latest value is told, at most once in its time, and the last one in the end',
  (book) => {
    const { match, views, flush } = afloat(book)
    const shown = (): unknown => views.get('spectator').drift.rafts.heron.x
    const move = (x: number) => match.report('drift.moved', { seat: 'heron', x })
    const seen: unknown[] = []
    for (let ms = 0; ms < 250; ms += 10) {
      match.advanceTo(3000 + ms)
      move(ms + 1)
      flush()
      seen.push(shown())
    }
    expect(new Set(seen)).toEqual(new Set([1, 101, 201]))
    expect(match.nextFlush).toBe(3300)
    match.report('drift.flown', { seat: 'heron', flag: 'red' })
    flush()
    expect([shown(), views.get('spectator').drift.rafts.heron.flag]).toEqual([201, 'red'])
    expect(move(999).ok).toBe(false)
    match.advanceTo(3300)
    flush()
    expect([shown(), match.nextFlush]).toEqual([241, undefined])
    move(5)
    flush({ all: true })
    expect([shown(), match.nextFlush]).toEqual([5, undefined])
    move(6)
    match.direct('roster.kick', { seat: 'heron' })
    flush()
    expect(views.get('spectator').drift.rafts.heron.x).toBe(5) // gone from the bout, the row stays, the value waits
  },
)

const moves = fc.array(
  fc.record({
    seat: fc.constantFrom(...SEATS),
    x: fc.integer({ min: 0, max: 950 }),
    under: fc.nat(9),
    wait: fc.constantFrom(0, 1, 40, 100, 170),
    flush: fc.constantFrom('none', 'some', 'all'),
    flag: fc.option(fc.constantFrom('red', 'blue')),
  }),
  { maxLength: 40 },
)

test('patched = fresh after a flush of all; all kinds of rows and sights agree; what only its owner sees changes no byte of others', () => {
  fc.assert(
    fc.property(moves, (list) => {
      const tables = [...books.map((book) => afloat(book)), afloat(books[0])]
      for (const { seat, x, under, wait, flush, flag } of list)
        for (const [at, table] of tables.entries()) {
          table.match.advanceTo(table.match.now + wait)
          table.match.report('drift.moved', { seat, x, under: at === books.length ? 0 : under })
          if (flag !== null) table.match.report('drift.flown', { seat, flag })
          if (flush !== 'none') table.flush({ all: flush === 'all' })
          if (flush === 'all')
            for (const viewer of VIEWERS) expect(table.views.get(viewer)).toEqual(table.match.view(viewer))
        }
      const [one, ...others] = tables
      const calm = others.pop()
      // Those of the same sights, to the byte.
      expect(others[0]?.sent).toEqual(one?.sent)
      expect(others[2]?.sent).toEqual(others[1]?.sent)
      expect(calm?.sent.get('spectator')).toBe(one?.sent.get('spectator'))
      for (const table of tables) {
        table.match.advanceTo(table.match.now + EVERY)
        table.flush()
        for (const viewer of VIEWERS) expect(table.views.get(viewer)).toEqual(table.match.view(viewer))
        expect(table.match.nextFlush).toBeUndefined()
      }
    }),
  )
})

test('what merges is what everyone sees of the latest, by row; who wants nothing but operations can have them', () => {
  const { match } = afloat(books[0])
  match.report('drift.moved', { seat: 'heron', x: 7, under: 2 })
  match.report('drift.moved', { seat: 'vole', x: 8 })
  const [heron, otter] = match.flush()
  expect(otter).toMatchObject({ patch: '[]', latest: '{"drift":{"rafts":{"heron":{"x":7},"vole":{"x":8}}}}' })
  expect(heron.latest).toBe(otter.latest)
  expect(operationsOf(heron)).toEqual([
    { op: 'replace', path: '/drift/rafts/heron/under', value: 2 },
    { op: 'replace', path: '/drift/rafts/heron/x', value: 7 },
    { op: 'replace', path: '/drift/rafts/vole/x', value: 8 },
  ])
  const lost = { drift: { rafts: { pike: { x: 7 } } } }
  expect(() => applyPatch(match.view('heron'), replacementsOf(lost))).toThrow(
    expect.objectContaining({ code: 'ZR_REPLICA_BAD_PATCH' }),
  )
})

test('a rate that is no whole number of ms is an error', () => {
  expect(() => int(0).latest(0.5)).toThrow(expect.objectContaining({ code: 'ZR_STATE_BAD_RATE' }))
})
