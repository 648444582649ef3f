import { type Pond, pikePond, Shoal } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { playMatch } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole', 'newt', 'coot', 'pike', 'moth', 'toad']
const NEAR = 160
const FAR = 190
const open = (seats: readonly string[] = SEATS.slice(0, 4), seed = 'fair-1') =>
  playMatch(pikePond, seats, { seed, settings: { rounds: { length: 60_000 }, pond: { midges: 30 } } })

const to = (match: Pond, seat: string, x: number, y = 300) => match.report('areas.at', { seat, x, y })
const bite = (match: Pond, by: string, target: string) => match.report('pond.bit', { by, target })
/** Brings a seat to a thing of a kind. */
function goTo(match: Pond, seat: string, kind: string): string {
  const thing = match.state.areas.things.all().find((each) => each.kind === kind)
  if (thing === undefined) throw new Error(`no ${kind} lies about`)
  to(match, seat, thing.x, thing.y)
  return match.state.areas.things.where({ kind, x: thing.x, y: thing.y })[0]?.id ?? ''
}

test('whole games: each sees what is near and nothing that is far; sums are the ledger; they replay', () => {
  for (const seed of ['a', 'b']) {
    const { match, replay } = open(SEATS, seed)
    const shoal = new Shoal(seed)
    while (match.state.phases.now.phase === 'live') {
      shoal.stroke(match, 200)
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
            expect(pond.fish[other]?.size !== undefined).toBe(seen)
          }
        }
      match.advanceTo(match.now + 200)
    }
    const { verdict, teams } = match.view('spectator')
    expect(verdict.end.kind).not.toBeNull()
    const ledger = match.state.scores.ledger.all().reduce((sum, { amount }) => sum + amount, 0)
    expect(teams.sums.score.reduce((sum, score) => sum + score, 0)).toBe(ledger)
    expect(match.faults).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
})

test('pikes hunt minnows, from near only; who is eaten is back somewhere else after three seconds', () => {
  const { match } = open()
  to(match, 'otter', 500)
  to(match, 'heron', 530)
  expect(bite(match, 'heron', 'otter')).toMatchObject({ code: 'too-far' })
  to(match, 'heron', 520)
  expect(bite(match, 'otter', 'heron')).toMatchObject({ code: 'no-prey' })
  expect(bite(match, 'heron', 'newt')).toMatchObject({ code: 'no-prey' })
  expect(bite(match, 'heron', 'otter')).toEqual({ ok: true })
  expect(match.state.scores.sums.of('heron').score).toBe(5)
  match.advanceTo(6000)
  expect(match.state.vitals.body.of('otter').down).toBe(false)
  expect(match.state.areas.spots.of('otter').x).not.toBe(500)
})

test('when time is up everybody may only swim', () => {
  const { match } = open()
  match.advanceTo(3000 + 60_000)
  expect(match.view('otter').phases.now.phase).toBe('over')
  expect(match.submit('otter', 'pond.swim', { x: 5, y: 5 })).toEqual({ ok: true })
  to(match, 'otter', 500)
  to(match, 'heron', 510)
  expect(match.state.areas.spots.of('otter').x).toBe(500)
  expect(bite(match, 'heron', 'otter')).toMatchObject({ code: 'over' })
})

test('the moonfly turns the pond for eight seconds, to the millisecond', () => {
  const { match } = open()
  match.advanceTo(3000 + 45_000)
  expect(match.report('pond.ate', { seat: 'otter', thing: goTo(match, 'otter', 'moonfly') })).toEqual({
    ok: true,
  })
  const attack = () => {
    to(match, 'otter', 600)
    to(match, 'heron', 610)
    return bite(match, 'otter', 'heron')
  }
  match.advanceTo(3000 + 45_000 + 7999)
  expect(bite(match, 'heron', 'otter')).toMatchObject({ code: 'no-prey' })
  expect(attack()).toEqual({ ok: true })
  match.advanceTo(3000 + 45_000 + 8000)
  expect(attack()).toMatchObject({ code: 'no-prey' })
})

test('a midge is eaten once, by minnows, from near; it grows them', () => {
  const { match } = open()
  const thing = goTo(match, 'otter', 'midge')
  goTo(match, 'vole', 'midge')
  goTo(match, 'heron', 'midge')
  expect(match.report('pond.ate', { seat: 'heron', thing })).toMatchObject({ code: 'no-food' })
  to(match, 'otter', 1, 1)
  expect(match.report('pond.ate', { seat: 'otter', thing })).toMatchObject({ code: 'too-far' })
  expect(match.report('pond.ate', { seat: 'vole', thing })).toEqual({ ok: true })
  expect(match.report('pond.ate', { seat: 'otter', thing })).toMatchObject({ code: 'no-such-target' })
  expect([match.state.pond.fish.of('vole').size, match.state.pond.fish.of('otter').size]).toEqual([11, 10])
  expect(match.view('vole').pond.fish['vole']?.size).toBe(11)
})

test('who comes late joins the side that is short, and gets the whole of what it may see', () => {
  const { match } = open(['otter', 'heron', 'vole'])
  match.direct('roster.join', { seat: 'newt', name: 'Newt' })
  expect(match.state.teams.side.of('newt').team).toBe(1)
  const view = match.view('newt')
  expect(view.areas.spots['newt']?.x).toBeGreaterThan(0)
  expect(Object.keys(view.scores.sums)).toEqual(['otter', 'heron', 'vole', 'newt'])
  match.advanceTo(5000)
  expect(match.view('otter').areas.hints['newt']).toBeUndefined()
})

test('where the biggest fish is, is shown as a direction only, to each its own', () => {
  const { match } = open(['otter', 'heron', 'vole'])
  match.report('pond.ate', { seat: 'vole', thing: goTo(match, 'vole', 'midge') })
  to(match, 'vole', 1100)
  to(match, 'otter', 100)
  match.advanceTo(4000)
  match.advanceTo(5000)
  expect(match.view('otter').areas.hints['otter']?.towards).toBe('east')
  expect(match.view('otter').areas.spots['vole']).toBeUndefined()
})
