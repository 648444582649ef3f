import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, maybe, seatRef, text } from 'zinc-referee'
import { areasOf, directionOf, teams, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { applied } from '../fixtures/applied.ts'

const NEAR = 100
const FAR = 120
const areas = areasOf({ near: NEAR, far: FAR, every: 1, jump: 500, hintEvery: 1000 })
const meadow = defineRule({
  name: 'meadow',
  needs: [areas],
  facts: {
    lay: {
      input: { kind: text(), x: int(), y: int() },
      handle(match, { kind, x, y }) {
        match.use(areas).add(kind, { x, y })
      },
    },
    put: {
      input: { seat: seatRef(), x: int(), y: int() },
      handle: (match, { seat, x, y }) => match.use(areas).put(seat, { x, y }),
    },
    seek: {
      input: { seat: seatRef(), target: maybe(seatRef()) },
      handle: (match, { seat, target }) => match.use(areas).point(seat, target),
    },
  },
})
const book = defineRulebook({ name: 'meadow', seats: { min: 1, max: 8 }, rules: [areas, meadow] })
const SEATS = ['otter', 'heron', 'vole', 'newt']

function afield(seats: readonly string[] = ['otter', 'heron']) {
  const { match } = playMatch(book, seats, { start: false })
  match.direct('phases.start', {})
  match.advanceTo(3000)
  return {
    match,
    go: (seat: string, x: number, y = 0) => match.report('areas.at', { seat, x, y }),
    put: (seat: string, x: number, y = 0) => match.report('meadow.put', { seat, x, y }),
    sees: (viewer: string, seat: string) => match.view(viewer).areas.spots[seat]?.x !== undefined,
    things: (viewer: string) => Object.values(match.view(viewer).areas.things).map(({ kind }) => kind),
  }
}

test.each([
  ['AR3: exactly at near is seen', [NEAR], true],
  ['AR1: a little further is not', [NEAR + 1], false],
  ['AR3: exactly at far is still seen', [NEAR, FAR], true],
  ['AR2: a little further is seen no more', [NEAR, FAR + 1], false],
  ['AR2: between near and far it stays what it was: unseen', [FAR + 1, FAR], false],
  ['AR2: … or seen', [0, FAR + 1, NEAR, FAR], true],
  ['AR5: a fast pass between two reports is not seen', [-300, 300], false],
] as const)('%s', (_case, ways, seen) => {
  const { go, sees } = afield()
  go('otter', 0)
  for (const x of ways) go('heron', x)
  expect([sees('otter', 'heron'), sees('heron', 'otter')]).toEqual([seen, seen])
})

test('AR4: after a jump, or when it is put somewhere, only who is near is seen: what was seen before is forgotten', () => {
  const jumped = afield()
  jumped.go('otter', 0)
  jumped.go('heron', 100)
  jumped.go('heron', 700)
  jumped.go('heron', 115)
  expect(jumped.sees('otter', 'heron')).toBe(false)
  const put = afield()
  put.go('otter', 0)
  put.go('heron', 100)
  put.put('heron', 110)
  expect(put.sees('otter', 'heron')).toBe(false)
})

test('AR6: near and far again within one step: nothing is sent to who did not see it', () => {
  const { match, go } = afield()
  go('otter', 0)
  go('heron', 300)
  match.addViewer('otter')
  match.flush()
  match.reportAll('areas.at', [
    { seat: 'heron', x: 10, y: 0 },
    { seat: 'heron', x: 300, y: 0 },
  ])
  expect(match.flush()).toEqual([])
})

test('AR13, AR16: without a position nobody is near; who has left is seen no more', () => {
  const { match, go, sees } = afield()
  go('otter', 0)
  expect(sees('otter', 'heron')).toBe(false)
  go('heron', 10)
  expect(sees('otter', 'heron')).toBe(true)
  match.submit('heron', 'roster.leave', {})
  expect(sees('otter', 'heron')).toBe(false)
  expect(go('heron', 10)).toMatchObject({ code: 'not-in-play' })
})

test('things are seen by the seats near them, wherever they are put and whoever moves, and by no spectator', () => {
  const { match, go, things } = afield()
  go('otter', 0)
  match.report('meadow.lay', { kind: 'midge', x: 60, y: 80 })
  match.report('meadow.lay', { kind: 'moonfly', x: 1000, y: 0 })
  expect([things('otter'), things('heron'), things('spectator')]).toEqual([['midge'], [], []])
  go('otter', 940)
  expect(things('otter')).toEqual(['moonfly'])
})

test('AR7, AR9: eight directions, in sectors centred on the compass points', () => {
  const east = [
    directionOf(0, 0),
    directionOf(5, 2),
    directionOf(5, 3),
    directionOf(1, 0),
    directionOf(-7, -7),
  ]
  expect(east).toEqual(['here', 'east', 'south-east', 'east', 'north-west'])
  fc.assert(
    fc.property(fc.integer({ min: -1000, max: 1000 }), fc.integer({ min: -1000, max: 1000 }), (x, y) => {
      fc.pre(x !== 0 || y !== 0)
      const names = ['east', 'south-east', 'south', 'south-west', 'west', 'north-west', 'north', 'north-east']
      const angle = (Math.atan2(y, x) / Math.PI) * 4
      expect(directionOf(x, y)).toBe(names[(Math.round(angle) + 8) % 8])
    }),
  )
})

test('AR8, AR11: a hint is computed on its beat only, whatever moves in between; nothing for one that has left', () => {
  const { match, go } = afield(['otter', 'heron', 'vole'])
  go('otter', 0)
  go('heron', 900)
  match.report('meadow.seek', { seat: 'otter', target: 'heron' })
  const hint = () => match.view('otter').areas.hints['otter']?.towards
  expect([hint(), match.view('heron').areas.hints['otter']]).toEqual(['east', undefined])
  go('heron', 0, 900)
  expect(hint()).toBe('east')
  match.advanceTo(4000)
  expect(hint()).toBe('south')
  match.submit('heron', 'roster.leave', {})
  match.advanceTo(5000)
  expect(hint()).toBeNull()
})

test('law e: where an unseen target is inside its sector changes no byte', () => {
  const sent = [
    [600, 10],
    [900, -200],
  ].map(([x = 0, y = 0]) => {
    const { match, go, put } = afield()
    go('otter', 0)
    put('heron', 500, 0)
    match.report('meadow.seek', { seat: 'otter', target: 'heron' })
    match.addViewer('otter')
    match.flush()
    for (const ms of [4000, 5000]) {
      go('heron', x, y)
      match.advanceTo(ms)
      go('otter', ms - 3990)
    }
    return JSON.stringify([match.flush(), match.view('otter')])
  })
  expect(sent[0]).toBe(sent[1])
})

const river = areasOf({ every: 1, speed: 100, wall: (from, to) => from.x < 500 !== to.x < 500 })
const ford = defineRule({
  name: 'ford',
  needs: [river, vitals],
  facts: {
    put: {
      input: { seat: seatRef(), x: int() },
      handle: (match, { seat, x }) => match.use(river).put(seat, { x, y: 0 }),
    },
    mist: {
      input: { seat: seatRef(), within: maybe(int()) },
      handle: (match, { seat, within }) => match.use(river).hide(seat, within),
    },
    wake: { input: { seat: seatRef() }, handle: (match, { seat }) => match.use(vitals).revive(seat) },
  },
})
const fordBook = defineRulebook({
  name: 'ford',
  seats: { min: 2, max: 8 },
  rules: [teams, vitals, river, ford],
})
function atTheFord(seats = ['otter', 'heron', 'vole', 'newt']) {
  const { match } = playMatch(fordBook, seats)
  for (const [at, seat] of seats.entries()) match.report('ford.put', { seat, x: at * 100 })
  return {
    match,
    at: (play: number) => match.advanceTo(3000 + play),
    move: (x: number, how = {}) => match.submit('otter', 'areas.move', { x, y: 0 }, how),
    seen: (by: string) => match.view(by).areas.spots['otter']?.x !== undefined,
  }
}

test('a client moves its own seat: no faster than the top speed over any number of reports, through no wall', () => {
  const { match, at, move } = atTheFord()
  expect(move(11)).toMatchObject({ code: 'too-fast', details: { x: 0, y: 0, most: 100 } })
  expect(move(10)).toEqual({ ok: true }) // a beat may come a tenth of a second early
  at(1)
  expect(move(11)).toMatchObject({ code: 'too-fast', details: { x: 10, y: 0 } })
  at(10)
  expect(move(11)).toEqual({ ok: true })
  at(4800)
  expect(move(495)).toMatchObject({ code: 'too-fast' })
  expect(move(490)).toEqual({ ok: true })
  at(5000)
  expect(move(501)).toMatchObject({ code: 'blocked', details: { x: 490, y: 0 } })
  at(9000)
  expect(move(490)).toEqual({ ok: true }) // standing still is reported too
  expect(move(480, { life: 0 })).toMatchObject({ code: 'stale-life', details: { life: 1 } })
  match.report('ford.put', { seat: 'otter', x: 900 })
  expect(move(890)).toEqual({ ok: true })
  match.direct('phases.pause', {})
  expect(move(900)).toMatchObject({ code: 'paused' })
  expect(match.report('areas.at', { seat: 'otter', x: 900, y: 0 })).toEqual({ ok: true })
})

test('a seat without a place, or where only the server moves seats, cannot move by itself', () => {
  const { match } = afield()
  expect(match.submit('otter', 'areas.move', { x: 1, y: 1 })).toMatchObject({ code: 'cannot-move' })
  const ford = playMatch(fordBook, ['otter', 'heron'])
  expect(ford.match.submit('otter', 'areas.move', { x: 1, y: 1 })).toMatchObject({ code: 'cannot-move' })
})

test('AR17: who is hidden is seen by team-mates as ever and by foes from near only; others as ever once it ends', () => {
  const { match, seen } = atTheFord()
  const by = () => ['heron', 'vole', 'newt', 'spectator'].map(seen)
  expect(by()).toEqual([true, true, true, true])
  const mist = (within?: number) =>
    match.report('ford.mist', { seat: 'otter', ...(within !== undefined && { within }) })
  mist(150)
  expect(by()).toEqual([true, true, false, false])
  mist(50)
  expect(by()).toEqual([false, true, false, false])
  match.report('ford.put', { seat: 'newt', x: 50 })
  expect(by()).toEqual([false, true, true, false])
  mist()
  expect(by()).toEqual([true, true, true, true])
})

test.each([
  [{ near: -1, far: 5 }, /'near' must be/],
  [{ near: 9, far: 5 }, /'far' is 5/],
  [{ near: 0.5, far: 5 }, /'near' must be/],
  [{ near: 0, far: 0 }, /'far' must be more/],
  [{ speed: 0 }, /'speed' must be more/],
  [{ speed: 1.5 }, /'speed' must be/],
])('distances that cannot be are refused where the rule is made: %o', (settings, says) => {
  expect(() => areasOf(settings)).toThrow(says)
})

test('laws a, b, d: a viewer has exactly what is near it, both ways, at every flush, patched as fresh', () => {
  const move = fc.record({
    what: fc.constantFrom('go', 'go', 'go', 'put', 'lay', 'leave'),
    seat: fc.constantFrom(...SEATS),
    x: fc.integer({ min: -250, max: 250 }),
    y: fc.integer({ min: -250, max: 250 }),
  })
  fc.assert(
    fc.property(fc.array(move, { maxLength: 40 }), (moves) => {
      const { match, go, put } = afield(SEATS)
      const views = new Map(SEATS.map((seat) => [seat, JSON.parse(match.addViewer(seat).view)]))
      const at = new Map<string, { readonly x: number; readonly y: number }>()
      const lying: { readonly x: number; readonly y: number }[] = []
      for (const { what, seat, x, y } of moves) {
        if (what === 'leave') {
          if (match.seats.length > 2 && match.submit(seat, 'roster.leave', {}).ok) at.delete(seat)
        } else if (what === 'lay') {
          match.report('meadow.lay', { kind: 'midge', x, y })
          lying.push({ x, y })
        } else if ((what === 'go' ? go : put)(seat, x, y).ok) at.set(seat, { x, y })
        match.advanceTo(match.now + 1)
        for (const update of match.flush({ all: true }))
          views.set(update.viewer, applied(views.get(update.viewer), update))
        for (const viewer of match.seats) {
          const view = views.get(viewer)
          expect(view).toEqual(match.view(viewer))
          const mine = at.get(viewer)
          const away = (point: { x: number; y: number }) =>
            mine === undefined ? Infinity : (point.x - mine.x) ** 2 + (point.y - mine.y) ** 2
          for (const [other, point] of at) {
            if (other === viewer) continue
            const seen = view.areas.spots[other]?.x !== undefined
            expect(seen).toBe(match.view(other).areas.spots[viewer]?.x !== undefined)
            if (away(point) <= NEAR ** 2) expect(seen).toBe(true)
            if (away(point) > FAR ** 2) expect(seen).toBe(false)
          }
          const seen = Object.values(view.areas.things).length
          expect(seen).toBeGreaterThanOrEqual(lying.filter((point) => away(point) <= NEAR ** 2).length)
          expect(seen).toBeLessThanOrEqual(lying.filter((point) => away(point) <= FAR ** 2).length)
        }
      }
      expect(match.faults).toEqual([])
    }),
    { numRuns: 60 },
  )
})
