import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, minutes, seconds, text } from 'zinc-referee'
import {
  areas,
  mostAtTime,
  mostRounds,
  respawn,
  rounds,
  scores,
  teams,
  verdict,
  vitals,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const docks = defineRule({
  name: 'docks',
  needs: [respawn],
  facts: {
    block: { input: { place: text() }, handle: (match, { place }) => match.use(respawn).block(place) },
    free: { input: { place: text() }, handle: (match, { place }) => match.use(respawn).free(place) },
  },
})
const places = ['mill', 'lock', 'weir'].map((name, at) => ({ name, x: at * 100, y: 0 }))
const plain = [vitals, scores, areas, verdict({ when: [mostAtTime] }), moves, docks] as const
const timed = rounds({ length: minutes(5) })
const seats = { min: 1, max: 6 }
const book = defineRulebook({ name: 'docks', seats, rules: [timed, ...plain, respawn({ places })] })
const crews = defineRulebook({
  name: 'crews',
  seats,
  rules: [teams({ count: 2 }), timed, ...plain, respawn({ places })],
})
const threeRounds = defineRulebook({
  name: 'three-rounds',
  seats,
  rules: [
    teams({ count: 2 }),
    rounds({ length: minutes(1), count: 3, swapEnds: 'each' }),
    vitals,
    scores,
    respawn,
    verdict({ when: [mostAtTime.decides('round'), mostRounds] }),
  ],
})
const leftmost = defineRulebook({
  name: 'leftmost',
  seats,
  rules: [
    timed,
    ...plain,
    respawn({
      places,
      choose: ({ places, foes }) =>
        places.find(({ x }) => foes.every((foe) => foe.x !== x))?.name ?? 'nowhere',
    }),
  ],
})

function docked(
  given: object = {},
  names = ['otter', 'heron'],
  of: typeof book | typeof crews | typeof leftmost = book,
) {
  const { match } = playMatch(of as typeof book, names, { settings: { respawn: given } })
  const at = (play: number) => match.advanceTo(3000 + play)
  const place = (seat: string) => match.view(seat).respawn.orders[seat]?.place
  const fell = (...fallen: string[]) =>
    match.reportAll(
      'moves.fell',
      fallen.map((seat) => ({ seat })),
    )
  return {
    match,
    at,
    fell,
    place,
    /** Down, and back three seconds later. */
    again(...fallen: string[]) {
      match.advanceTo(match.now + seconds(2))
      fell(...fallen)
      match.advanceTo(match.now + seconds(3))
      return fallen.map(place)
    },
    left: (seat: string) => match.view('spectator').respawn.lives[seat]?.left,
    pool: () => match.view('spectator').respawn.pool.left,
    isOut: (seat: string) => match.view('spectator').roster.seats[seat]?.sidelined,
  }
}

test('RE15: places in turn; blocked ones are passed over; with all blocked the one used longest ago', () => {
  const { match, again, place } = docked()
  expect(['otter', 'heron'].map(place)).toEqual(['mill', 'lock'])
  expect(again('otter')).toEqual(['weir'])
  expect(again('otter')).toEqual(['mill'])
  match.report('docks.block', { place: 'lock' })
  expect(again('otter')).toEqual(['weir'])
  for (const each of ['mill', 'weir']) match.report('docks.block', { place: each })
  expect(again('otter')).toEqual(['lock'])
  match.report('docks.free', { place: 'mill' })
  expect(again('otter')).toEqual(['mill'])
})

test('RE14: by the index in the team; a place of a team is for that team', () => {
  const own = [
    { name: 'mill', team: 0, x: 0, y: 0 },
    { name: 'lock', team: 0, x: 10, y: 0 },
    { name: 'weir', team: 1, x: 20, y: 0 },
  ]
  const names = ['otter', 'heron', 'vole', 'newt', 'coot']
  const { place, again } = docked({ place: 'index', places: own }, names, crews)
  expect(names.map(place)).toEqual(['mill', 'weir', 'lock', 'weir', 'mill'])
  expect(again('coot')).toEqual(['mill'])
})

test('RE16: at random among the free ones; shuffled: none twice before all had their turn', () => {
  const { match, again } = docked({ place: 'random' })
  match.report('docks.block', { place: 'weir' })
  const drawn = Array.from({ length: 20 }, () => again('otter')[0])
  expect(new Set(drawn)).toEqual(new Set(['mill', 'lock']))
  const shuffled = docked({ place: 'shuffled' }, ['otter'])
  const all = [shuffled.place('otter'), ...Array.from({ length: 11 }, () => shuffled.again('otter')[0])]
  for (let from = 0; from < 12; from += 3) expect(new Set(all.slice(from, from + 3)).size).toBe(3)
  expect(new Set([0, 3, 6, 9].map((from) => all.slice(from, from + 3).join())).size).toBeGreaterThan(1)
})

test('RE17: far from foes that are up; without any, in turn', () => {
  const { match, again } = docked({ place: 'far' }, ['otter', 'heron'])
  match.report('areas.at', { seat: 'heron', x: 10, y: 0 })
  expect(again('otter')).toEqual(['weir'])
  match.report('areas.at', { seat: 'heron', x: 190, y: 0 })
  expect(again('otter')).toEqual(['mill'])
  const both = again('otter', 'heron')
  expect(both).toEqual(['weir', 'mill']) // nobody is up: in turn; then far from who is back already
})

test("a mode's own choice gets free places and foes; a name that is none of them is a fault that says so", () => {
  const { match, again, place } = docked({}, ['otter', 'heron'], leftmost)
  expect(['otter', 'heron'].map(place)).toEqual(['mill', 'lock'])
  expect(again('heron')).toEqual(['lock'])
  for (const each of ['mill', 'lock']) match.report('docks.block', { place: each })
  match.report('areas.at', { seat: 'heron', x: 200, y: 0 })
  again('otter')
  expect(String(match.faults[0]?.error)).toMatch(/'choose' gave 'nowhere', which is none of weir/)
  expect(match.state.vitals.body.of('otter').down).toBe(true)
})

test('RE18, RE19: the order to move goes to its owner with the new life; its acknowledgement of a former life is stale', () => {
  const { match, at, fell, place } = docked({ arriveWithin: 20 })
  for (const viewer of ['otter', 'heron']) match.addViewer(viewer)
  fell('otter')
  match.flush()
  at(3000)
  const notices = match
    .flush()
    .flatMap(({ viewer, notices }) => notices.map(({ name, cells }) => [viewer, name, cells]))
  expect(notices.filter(([, name]) => name === 'respawn.move')).toEqual([
    ['otter', 'respawn.move', { seat: 'otter', life: 2, place: 'weir', x: 200, y: 0 }],
  ])
  expect(match.state.areas.spots.of('otter')).toMatchObject({ x: 200, y: 0, placed: true })
  expect([place('otter'), match.view('heron').respawn.orders['otter']]).toEqual(['weir', undefined])
  const arrive = (x: number, life: number) => match.submit('otter', 'respawn.arrive', { x, y: 0 }, { life })
  expect(arrive(200, 1)).toMatchObject({ code: 'stale-life' })
  expect(arrive(221, 2)).toMatchObject({ code: 'not-at-place', details: { place: 'weir', most: 20 } })
  expect(arrive(220, 2)).toEqual({ ok: true })
  expect(match.view('otter').respawn.orders['otter']?.arrived).toBe(true)
  expect(match.submit('heron', 'areas.move', { x: 1, y: 0 })).toMatchObject({ code: 'cannot-move' })
  const bare = docked({ places: [] })
  expect(bare.match.submit('otter', 'respawn.arrive', { x: 0, y: 0 })).toMatchObject({ code: 'no-order' })
})

test('RE7, RE8, RE9: returns shared by a team are taken at the schedule; of two in one step the first gets the last one', () => {
  const names = ['otter', 'heron', 'vole', 'newt', 'coot']
  const { match, at, fell, pool, isOut } = docked({ shared: true, lives: 1 }, names, crews)
  expect(pool()).toEqual({ 0: 1, 1: 1 })
  fell('vole', 'otter')
  expect([pool(), isOut('vole'), isOut('otter')]).toEqual([{ 0: 0, 1: 1 }, false, true])
  match.submit('vole', 'roster.leave', {})
  expect([pool(), isOut('otter')]).toEqual([{ 0: 1, 1: 1 }, true]) // who is out stays out
  fell('heron')
  expect(pool()).toEqual({ 0: 1, 1: 0 })
  match.report('moves.raise', { seat: 'heron' })
  expect(pool()).toEqual({ 0: 1, 1: 1 })
  at(1000)
  fell('heron')
  at(5000)
  expect([pool(), match.state.vitals.body.of('heron').down]).toEqual([{ 0: 1, 1: 0 }, false])
})

test('RD13: teams that have swapped ends come back at the other end; ids and scores stay', () => {
  const ends = [
    { name: 'mill', team: 0, x: 0, y: 0 },
    { name: 'weir', team: 1, x: 20, y: 0 },
  ]
  const { match } = playMatch(threeRounds, ['otter', 'heron'], { settings: { respawn: { places: ends } } })
  const at = () => ['otter', 'heron'].map((seat) => match.view(seat).respawn.orders[seat]?.place)
  const places = [at()]
  for (let round = 0; round < 2; round++) {
    match.advanceTo(match.now + minutes(1))
    match.advanceTo(match.now + 1)
    places.push(at())
  }
  expect(places).toEqual([
    ['mill', 'weir'],
    ['weir', 'mill'],
    ['mill', 'weir'],
  ])
  expect(match.view('spectator').teams.side['otter']?.team).toBe(0)
})

test('RE2: who is to ask comes back when it asks, not before its time', () => {
  const { match, at, fell } = docked({ ask: true })
  const ask = () => match.submit('otter', 'respawn.ask', {})
  expect(ask()).toMatchObject({ code: 'not-down' })
  fell('otter')
  at(2999)
  expect(ask()).toMatchObject({ code: 'not-due', details: { due: 3000 } })
  at(8000)
  expect(match.view('otter').respawn.back['otter']).toMatchObject({ waits: true })
  expect(ask()).toEqual({ ok: true })
  expect(match.state.vitals.body.of('otter')).toMatchObject({ down: false, protectedUntil: 10_000 })
})

test('bad settings fail as the rulebook is defined, and name the setting', () => {
  const define = (given: object) => () =>
    defineRulebook({ name: 'docks', seats, rules: [...plain, respawn(given)] })
  expect(define({ places: [places[0], places[0]] })).toThrow(/places.*twice/)
  expect(define({ places: [{ name: 'mill', x: 0.5, y: 0 }] })).toThrow(/places/)
  expect(define({ after: -1 })).toThrow(/after/)
  expect(define({ lives: 0 })).toThrow(/lives/)
})

test('law c: a pool at the start = returns made + waiting + left, whatever falls, leaves and is raised', () => {
  const deed = fc.record({
    what: fc.constantFrom('fell', 'fell', 'raise', 'leave'),
    seat: fc.constantFrom('otter', 'heron', 'vole', 'newt'),
    wait: fc.integer({ min: 0, max: 2500 }),
  })
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 25 }), fc.integer({ min: 1, max: 4 }), (deeds, lives) => {
      const names = ['otter', 'heron', 'vole', 'newt']
      const { match, fell, pool } = docked({ shared: true, lives, protectFor: 0 }, names, crews)
      const team = (seat: string) => (names.indexOf(seat) % 2 === 0 ? '0' : '1')
      const made = new Map([
        ['0', 0],
        ['1', 0],
      ])
      match.addViewer('spectator')
      match.flush()
      for (const { what, seat, wait } of deeds) {
        match.advanceTo(match.now + wait)
        if (what === 'fell') fell(seat)
        if (what === 'raise') match.report('moves.raise', { seat })
        if (what === 'leave' && match.seats.length > 2) match.submit(seat, 'roster.leave', {})
        for (const { notices } of match.flush())
          for (const { name, cells } of notices)
            if (name === 'respawn.back')
              made.set(team(String(cells['seat'])), (made.get(team(String(cells['seat']))) ?? 0) + 1)
        if (match.view('spectator').verdict.end.kind !== null) break
        for (const side of ['0', '1']) {
          const waiting = match.seats.filter(
            (each) => team(each) === side && match.state.respawn.back.of(each).due !== undefined,
          )
          expect((pool()[side] ?? 0) + waiting.length + (made.get(side) ?? 0)).toBe(lives)
        }
      }
      expect(match.faults).toEqual([])
    }),
    { numRuns: 60 },
  )
})
