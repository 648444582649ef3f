import { expect, test } from 'vitest'
import {
  defineRule,
  everyone,
  group,
  int,
  maybe,
  nobody,
  only,
  owner,
  perSeat,
  rowOf,
  seatRef,
  set,
  side,
  table,
} from 'zinc-referee'
import { teams } from 'zinc-referee/rules'
import { playMatch, ViewCopies } from 'zinc-referee/testing'
import { fact } from '../fixtures/inputs.ts'
import { bookOf, SEATS } from '../fuzz/fuzzed-book.ts'

const rows = (sight: any) =>
  table({ of: seatRef(), by: maybe(seatRef()), seen: set(seatRef()), n: int(1).seenBy(sight) }).ownedBy('of')

/** Rows that seats own and name, under every sight. */
const nets = defineRule({
  name: 'nets',
  needs: [teams],
  state: {
    open: rows(everyone),
    own: rows(owner),
    crew: rows(side),
    none: rows(nobody),
    keen: rows(group('keen')),
    looked: table({ of: seatRef(), n: int(1) })
      .ownedBy('of')
      .seenWhen({
        n: ({ of }: any, look: any) => (look.use(teams).of(of) === 0 ? everyone : only(of)),
      } as any),
    knots: table({ net: rowOf('open').whenGone('cascade'), of: seatRef().seenBy(side) }).ownedBy('of'),
    pots: perSeat({ n: int(0).seenBy(side) }),
  } as any,
  groups: { keen: (match: any) => match.seats.slice(0, 2) },
  timers: { bell: { seenBy: side }, gong: { keyedBy: 'text', clock: 'match' } },
  directives: {
    cast: fact({}, (match) => {
      for (const [n, of] of match.seats.entries()) {
        const by = match.seats[n + 1]
        for (const part of ['own', 'crew', 'none', 'keen'])
          match.own[part].add({ of, by, seen: new Set([of]) })
        const net = match.own.open.add({ of, by, seen: new Set([by ?? of]) })
        match.own.looked.add({ of })
        match.own.knots.add({ net: net.id, of })
        match.timers.start('bell', { in: 900, key: of })
        match.timers.start('gong', { in: 90_000, key: of })
      }
    }),
  },
} as any)

const book = bookOf(
  {
    with: ['teams', 'respawn', 'credit', 'holds', 'crews', 'errands', 'meadow', 'poll', 'bid'],
    rounds: { length: 20_000, count: 2, breakTime: 5000 },
    ends: 0,
  },
  nets,
)

const cast = (match: any): void => {
  expect(match.direct('nets.cast', {})).toEqual({ ok: true })
  match.report('areas.at', { seat: match.seats[0], x: 1, y: 1 })
}
/** How a match gets to each phase. */
const phases: { readonly [phase: string]: (match: any) => void } = {
  lobby() {},
  countdown: (match) => match.direct('phases.start', {}),
  'paused countdown': (match) => match.direct('phases.start', {}) && match.direct('phases.pause', {}),
  live(match) {
    match.direct('phases.start', {})
    match.advanceTo(3000)
  },
  paused(match) {
    phases['live']?.(match)
    match.direct('phases.pause', {})
  },
  break(match) {
    phases['live']?.(match)
    match.advanceTo(match.now + 20_000)
  },
  over(match) {
    phases['live']?.(match)
    match.direct('phases.abandon', {})
  },
  'the countdown of a rematch'(match) {
    phases['over']?.(match)
    for (const seat of match.seats) match.submit(seat, 'rounds.rematch', {})
  },
}
const ways: { readonly [way: string]: (match: any, seat: string) => void } = {
  leave: (match, seat) => expect(match.submit(seat, 'roster.leave', {})).toEqual({ ok: true }),
  kick: (match, seat) => expect(match.direct('roster.kick', { seat })).toEqual({ ok: true }),
  grace(match, seat) {
    expect(match.direct('roster.absent', { seat })).toEqual({ ok: true })
    match.advanceTo(match.now + 3000)
  },
}

test.each(Object.entries(phases))(
  'in %s every seat can leave, be sent off and time out, whatever it owns',
  (_, reach) => {
    for (const way of Object.values(ways)) {
      const { match, replay }: any = playMatch(book, SEATS, { start: false })
      const copies = new ViewCopies(match)
      copies.addViewer('newt', 'spectator')
      const flush = (): void => {
        copies.flush()
        expect(copies.differences()).toEqual([])
      }
      cast(match)
      reach(match)
      cast(match)
      flush()
      for (const seat of SEATS.slice(0, 3)) {
        way(match, seat)
        const presence = match.seats.includes(seat) ? match.state.roster.seats.of(seat).presence : 'left'
        expect([seat, presence]).toEqual([seat, 'left'])
        flush()
      }
      // A sight that cannot do without a seat that was removed hides its row, and says so.
      const handlers = Object.keys(match.faultCounts)
      expect(handlers).toEqual(handlers.filter((handler) => handler === 'nets.looked seenWhen'))
      expect(replay().differs).toBeUndefined()
    }
  },
)

test('a timer keyed by a text goes on when a seat of the same name leaves; one keyed by seats ends', () => {
  const { match }: any = playMatch(book, SEATS)
  cast(match)
  const keys = (timer: string) =>
    match.snapshot().time.timers.flatMap((each: any) => (each.timer === timer ? each.key : []))
  expect([keys('nets.bell'), keys('nets.gong')]).toEqual([SEATS, SEATS])
  match.submit('heron', 'roster.leave', {})
  expect([keys('nets.bell'), keys('nets.gong')]).toEqual([['otter', 'vole', 'newt'], SEATS])
})
