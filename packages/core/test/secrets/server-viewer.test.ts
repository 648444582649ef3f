import { expect, expectTypeOf, test } from 'vitest'
import {
  choice,
  defineRule,
  defineRulebook,
  everyone,
  int,
  nobody,
  owner,
  perSeat,
  seatRef,
  table,
} from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import { rounds } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const cups = defineRule({
  name: 'cups',
  needs: [rounds],
  state: {
    purse: perSeat({ coins: int(3).seenBy(owner), spare: int(7) }),
    peas: table({ cup: int().seenBy(everyone), kind: choice('pea', 'bead') }).seenWhen({
      kind: () => nobody,
    }),
  },
  events: {
    /** The game's own simulation is to play a sound; no viewer is told. */
    rattled: { cup: int() },
    paid: { seat: seatRef().seenBy(owner), coins: int().seenBy(owner) },
  },
  actions: {
    hide: {
      input: { cup: int() },
      decide(match, seat, { cup }) {
        match.own.peas.add({ cup, kind: 'pea' })
        match.own.purse.of(seat).coins -= 1
        match.emit('paid', { seat, coins: 1 })
        match.emit('rattled', { cup })
        if (cup > 3) throw new Error('no such cup')
      },
    },
  },
})
const book = defineRulebook({ name: 'cups', seats: { min: 2, max: 2 }, rules: [rounds, cups] })

test("the viewer 'server' sees what any seat may see and what none does, kept current by patches, and is told every event", () => {
  const { match } = playMatch(book, ['otter', 'heron'])
  let view = JSON.parse(match.addViewer('server').view)
  match.addViewer('heron')
  expect(match.submit('otter', 'cups.hide', { cup: 2 }).ok).toBe(true)
  expect(match.submit('otter', 'cups.hide', { cup: 9 })).toMatchObject({ code: 'fault' }) // and tells of nothing
  const updates = match.flush()
  const [server, heron] = ['server', 'heron'].map((viewer) => updates.find((each) => each.viewer === viewer))
  view = applyPatch(view, JSON.parse(server?.patch ?? '[]'))
  expect(view).toEqual(match.view('server'))
  expect(view.cups.purse).toEqual({ otter: { coins: 2 }, heron: { coins: 3 } }) // `spare` is nobody's to see
  expect(Object.values(view.cups.peas)).toEqual([{ cup: 2, kind: 'pea' }])
  expect(server?.events).toEqual([
    { name: 'cups.paid', at: 3000, cells: { seat: 'otter', coins: 1 } },
    { name: 'cups.rattled', at: 3000, cells: { cup: 2 } },
  ])
  expect(server?.notices.map(({ name }) => name)).toEqual(['cups.paid'])
  expect([heron?.events, heron?.notices]).toEqual([undefined, []])
  for (const told of server?.events ?? [])
    if (told.name === 'cups.paid')
      expectTypeOf(told.cells).toEqualTypeOf<{ readonly seat: string; readonly coins: number }>()
  match.removeViewer('server')
  match.submit('otter', 'cups.hide', { cup: 1 })
  match.addViewer('server')
  expect(match.flush().find(({ viewer }) => viewer === 'server')).toBeUndefined()
})

test("nobody can sit down as 'server'", () => {
  const { match } = playMatch(book, ['otter'], { start: false })
  expect(match.direct('roster.join', { seat: 'server', name: 'Heron' }).ok).toBe(false)
  expect(match.seats).toEqual(['otter'])
})
