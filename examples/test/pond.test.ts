import { type Pond, PondSimulation, pikePond } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { playMatch } from 'zinc-referee/testing'
import { reedsAt } from '../src/pond/water.ts'

// The second seat is a pike, all others are minnows.
const SEATS = ['otter', 'heron', 'vole', 'newt', 'coot', 'pike', 'moth', 'toad']
const [NEAR, FAR] = [160, 190]
const open = (seats: readonly string[] = SEATS.slice(0, 4), seed = 'fair-1') =>
  playMatch(pikePond, seats, { seed, settings: { rounds: { length: 60_000 }, pond: { breath: 1000 } } })

const to = (match: Pond, seat: string, x: number, y = 300) => match.report('areas.at', { seat, x, y })
const bite = (match: Pond, by: string, target: string) => match.report('pond.bit', { by, target })
const wait = (match: Pond, ms: number) => match.advanceTo(match.now + ms)
const score = (match: Pond, seat: string) => match.state.scores.sums.of(seat).score
/** Brings a seat to a thing of a kind. */
function goTo(match: Pond, seat: string, kind: string): string {
  const thing = match.state.areas.things.all().find((each) => each.kind === kind)
  if (thing === undefined) throw new Error(`no ${kind} lies about`)
  to(match, seat, thing.x, thing.y)
  return match.state.areas.things.where({ kind, x: thing.x, y: thing.y })[0]?.id ?? ''
}
const eat = (match: Pond, seat: string, kind: string) =>
  match.report('pond.ate', { seat, thing: goTo(match, seat, kind) })

test('whole matches: each sees what is near and nothing that is far; no pike is in the reeds; they replay', () => {
  for (const seed of ['a', 'b']) {
    const { match, replay } = open(SEATS, seed)
    const simulation = new PondSimulation(seed)
    const isPike = (seat: string) => match.state.teams.side.of(seat).team === 1
    expect(SEATS.filter(isPike)).toHaveLength(2)
    while (match.state.phases.now.phase === 'live') {
      simulation.stroke(match, 200)
      for (const seat of SEATS)
        if (isPike(seat)) expect(reedsAt(match.state.areas.spots.of(seat))).toBeUndefined()
      if (match.now % 3000 < 200)
        for (const viewer of SEATS) {
          const { areas, pond } = match.view(viewer)
          const mine = match.state.areas.spots.of(viewer)
          for (const other of SEATS.filter((seat) => seat !== viewer)) {
            const there = match.state.areas.spots.of(other)
            const away = Math.hypot(there.x - mine.x, there.y - mine.y)
            const seen = areas.spots[other]?.x !== undefined
            if (away <= NEAR) expect(seen).toBe(true)
            if (away > FAR) expect(seen).toBe(false)
            expect(pond.fish[other]?.shoal !== undefined).toBe(seen)
          }
        }
      wait(match, 200)
    }
    const { verdict, teams } = match.view('spectator')
    const [minnows = 0, pikes = 0] = teams.sums.score
    const best = minnows / 6 > pikes / 2 ? 0 : 1
    expect(verdict.end).toMatchObject({ kind: 'win', reason: 'most-per-head' })
    expect(match.state.teams.side.of(verdict.end.winners[0] ?? '').team).toBe(best)
    const ledger = match.state.scores.ledger.all().reduce((sum, { amount }) => sum + amount, 0)
    expect(minnows + pikes).toBe(ledger)
    expect(match.faults).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
})

test('pikes bite minnows from near, outside of the reeds; who is bitten is back at the reeds', () => {
  const { match } = open()
  to(match, 'otter', 500)
  to(match, 'heron', 530)
  expect(bite(match, 'heron', 'otter')).toMatchObject({ code: 'too-far' })
  to(match, 'heron', 520)
  expect(bite(match, 'otter', 'heron')).toMatchObject({ code: 'no-prey' })
  expect(bite(match, 'heron', 'otter')).toEqual({ ok: true })
  expect(score(match, 'heron')).toBe(12)
  to(match, 'vole', 515)
  expect(bite(match, 'vole', 'newt')).toMatchObject({ code: 'no-prey' })
  expect(bite(match, 'heron', 'vole')).toMatchObject({ code: 'out-of-breath' })
  wait(match, 3000)
  const spot = match.state.areas.spots.of('otter')
  expect([match.state.vitals.body.of('otter').down, reedsAt(spot) === undefined]).toEqual([false, false])
  wait(match, 2000) // its protection is over
  to(match, 'heron', spot.x, spot.y)
  expect(bite(match, 'heron', 'otter')).toMatchObject({ code: 'in-reeds' })
})

test('three minnows close together are a shoal: firm for six seconds, then a pike scatters it for four', () => {
  const { match } = open()
  const began = match.now
  for (const [at, seat] of ['otter', 'vole', 'newt'].entries()) to(match, seat, 500 + at * 20)
  to(match, 'heron', 520, 310)
  const isShoal = () => match.state.pond.fish.of('vole').shoal
  wait(match, 1000)
  expect(isShoal()).toBe(true)
  expect(match.view('heron').pond.fish['vole']?.shoal).toBe(true)
  expect(bite(match, 'heron', 'vole')).toMatchObject({ code: 'in-shoal' })
  const { since } = match.state.pond.fish.of('vole')
  match.advanceTo(began + since + 6000 - 1)
  expect(bite(match, 'heron', 'vole')).toMatchObject({ code: 'in-shoal' })
  wait(match, 1)
  expect([bite(match, 'heron', 'vole'), isShoal(), score(match, 'heron')]).toEqual([{ ok: true }, false, 0])
  wait(match, 1000)
  expect([bite(match, 'heron', 'vole'), score(match, 'heron')]).toEqual([{ ok: true }, 12])
  wait(match, 4000)
  to(match, 'vole', 520)
  wait(match, 500)
  expect(isShoal()).toBe(true)
})

test('a midge is eaten once, by minnows, from near; it counts a third in a shoal and double in the light', () => {
  const { match } = open()
  const thing = goTo(match, 'otter', 'midge')
  goTo(match, 'heron', 'midge')
  expect(match.report('pond.ate', { seat: 'heron', thing })).toMatchObject({ code: 'no-food' })
  to(match, 'otter', 1, 1)
  expect(match.report('pond.ate', { seat: 'otter', thing })).toMatchObject({ code: 'too-far' })
  expect(eat(match, 'vole', 'midge')).toEqual({ ok: true })
  expect(match.report('pond.ate', { seat: 'otter', thing })).toMatchObject({ code: 'no-such-target' })
  expect(score(match, 'vole')).toBe(3)
  wait(match, 30_000)
  expect(eat(match, 'otter', 'moonfly')).toEqual({ ok: true })
  expect(match.view('heron').pond.moon.shining).toBe('otter')
  eat(match, 'otter', 'midge')
  expect(score(match, 'otter')).toBe(6)
  for (const seat of ['vole', 'newt', 'otter']) goTo(match, seat, 'midge')
  wait(match, 500)
  eat(match, 'newt', 'midge')
  expect(score(match, 'newt')).toBe(2)
  wait(match, 8000)
  expect(match.view('heron').pond.moon.shining).toBeNull()
  eat(match, 'newt', 'midge')
  expect(score(match, 'newt')).toBe(3)
})

test('all are shown in which direction the one is who shines, each its own, and not where', () => {
  const { match } = open()
  wait(match, 30_000)
  eat(match, 'vole', 'moonfly')
  to(match, 'vole', 1100)
  to(match, 'otter', 100)
  wait(match, 1000)
  expect(match.view('otter').areas.hints['otter']?.towards).toBe('east')
  expect(match.view('otter').areas.spots['vole']).toBeUndefined()
  wait(match, 8000)
  expect(match.view('otter').areas.hints['otter']?.towards).toBeNull()
})

test('who comes late joins the side that is short, and gets the whole of what it may see', () => {
  const { match } = open(SEATS.slice(0, 5))
  match.direct('roster.join', { seat: 'newt-2', name: 'Newt' })
  expect(match.state.teams.side.of('newt-2').team).toBe(1)
  const view = match.view('newt-2')
  expect(match.state.areas.spots.of('newt-2').placed).toBe(true)
  expect(Object.keys(view.scores.sums)).toEqual([...SEATS.slice(0, 5), 'newt-2'])
})

test('when time is up everybody may only swim', () => {
  const { match } = open()
  wait(match, 60_000)
  expect(match.view('otter').phases.now.phase).toBe('over')
  expect(match.submit('otter', 'pond.swim', { x: 5, y: 5 })).toEqual({ ok: true })
  to(match, 'otter', 500)
  to(match, 'heron', 510)
  expect(match.state.areas.spots.of('otter').x).toBe(500)
  expect(bite(match, 'heron', 'otter')).toMatchObject({ code: 'over' })
})
