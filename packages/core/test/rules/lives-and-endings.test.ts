import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, everyone, flag, minutes, perSeat, seatRef } from 'zinc-referee'
import {
  firstTo,
  lastStanding,
  mostAtTime,
  respawn,
  rounds,
  scores,
  verdict,
  vitals,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

/** A charm that raises its wearer as soon as it goes down. */
const brawl = defineRule({
  name: 'brawl',
  needs: [vitals],
  state: { charms: perSeat({ worn: flag(false).seenBy(everyone) }) },
  facts: {
    wear: {
      input: { seat: seatRef() },
      handle(match, { seat }) {
        match.own.charms.of(seat).worn = true
      },
    },
  },
  on: {
    'vitals.down'(match, { seat }) {
      if (match.own.charms.of(seat).worn) match.use(vitals).raise(seat, 10)
    },
  },
})
const bookWith = (...when: Parameters<typeof verdict>[0]['when'] & object) =>
  defineRulebook({
    name: 'brawl',
    seats: { min: 1, max: 4 },
    rules: [rounds({ length: minutes(5) }), vitals, scores, respawn, verdict({ when }), moves, brawl],
  })
const standing = bookWith(lastStanding, mostAtTime)

const START = 3000
const FOUR = ['otter', 'heron', 'vole', 'newt']
function vitalsMatch(settings: object = {}, seats: readonly string[] = FOUR, book = standing) {
  const { match } = playMatch(book, seats, { settings: { respawn: { protectFor: 0, ...settings } } })
  return {
    match,
    at: (play: number) => match.advanceTo(START + play),
    fell: (...fallen: string[]) =>
      match.reportAll(
        'moves.fell',
        fallen.map((seat) => ({ seat })),
      ),
    due: (seat: string) => match.view('spectator').respawn.back[seat]?.due,
    left: (seat: string) => match.view('spectator').respawn.lives[seat]?.left,
    isOut: (seat: string) => match.view('spectator').roster.seats[seat]?.sidelined,
    end: () => match.view('spectator').verdict.end,
  }
}

test('RE1: growing delays grow with each down of the bout, up to the longest', () => {
  const { at, fell, due } = vitalsMatch({ mode: 'growing', after: 1000, step: 500, maxDelay: 1800 })
  const delays = [0, 10_000, 20_000, 30_000].map((play) => {
    at(play)
    fell('otter')
    return (due('otter') ?? 0) - play
  })
  expect(delays).toEqual([1000, 1500, 1800, 1800])
})

test.each([
  [0, 0, 10_000],
  [9999, 0, 10_000],
  [10_000, 0, 20_000],
  [8500, 1500, 10_000],
  [8501, 1500, 20_000],
])('RE3, RE4: who goes down at %d with a lead of %d comes with the wave at %d', (down, waveLead, due) => {
  const table = vitalsMatch({ mode: 'wave', waveEvery: 10_000, waveLead })
  table.at(down)
  table.fell('otter')
  expect(table.due('otter')).toBe(due)
})

test('RE5: a wave brings all back in one step, in the order of their seats', () => {
  const { match, at, fell } = vitalsMatch({ mode: 'wave', waveEvery: 10_000 })
  match.addViewer('spectator')
  fell('vole')
  at(4000)
  fell('otter', 'heron')
  match.flush()
  at(10_000)
  const back = match
    .flush()
    .flatMap(({ viewer, notices }) => (viewer === 'spectator' ? notices : []))
    .filter(({ name }) => name === 'respawn.back')
  expect(back.map(({ cells }) => cells['seat'])).toEqual(['otter', 'heron', 'vole'])
})

test('RE6: with n lives a seat is out at its n-th down: it stays to watch, and is in again in the next bout', () => {
  const { match, at, fell, left, isOut } = vitalsMatch({ lives: 2, after: 1000 })
  expect(left('otter')).toBe(2)
  fell('otter')
  expect([left('otter'), isOut('otter')]).toEqual([1, false])
  at(1000)
  fell('otter')
  expect([left('otter'), isOut('otter'), match.state.respawn.back.of('otter').due]).toEqual([
    0,
    true,
    undefined,
  ])
  expect(match.submit('otter', 'moves.wave', {})).toMatchObject({ code: 'sidelined' })
  expect(fell('otter')).toMatchObject([{ code: 'not-in-play' }])
  fell('heron', 'vole')
  at(2000)
  fell('heron', 'vole')
  expect(match.view('spectator').verdict.end).toMatchObject({
    kind: 'win',
    winners: ['newt'],
    reason: 'last-standing',
  })
  for (const seat of FOUR) expect(match.submit(seat, 'rounds.rematch', {})).toEqual({ ok: true })
  match.advanceTo(match.nextDue ?? 0)
  expect([left('otter'), isOut('otter'), match.state.vitals.body.of('otter').health]).toEqual([2, false, 100])
})

test('one who is out may still leave', () => {
  const { match, fell } = vitalsMatch({ mode: 'never' })
  fell('otter')
  expect(match.submit('otter', 'roster.leave', {})).toEqual({ ok: true })
})

test('RE10, VI26: a down that is raised takes no life, waits no longer, and the life goes on; one who is up is not raised', () => {
  const { match, fell, left, due } = vitalsMatch({ lives: 2 })
  fell('otter')
  const raise = () => match.report('moves.raise', { seat: 'otter', health: 40 })
  expect(raise()).toEqual({ ok: true })
  expect([left('otter'), due('otter')]).toEqual([2, null])
  expect(match.view('otter').vitals).toMatchObject({
    body: { otter: { health: 40, down: false } },
    lives: { otter: { life: 1 } },
  })
  expect(raise()).toMatchObject({ code: 'not-down' })
})

test('VI27: raised by a handler in the step of its down: up at its settling, no life lost, not out', () => {
  const { match, fell, left, isOut } = vitalsMatch({ lives: 1 })
  match.report('brawl.wear', { seat: 'otter' })
  fell('otter')
  expect([left('otter'), isOut('otter'), match.state.vitals.body.of('otter').down]).toEqual([1, false, false])
})

test('RE21, VE6, VE10: never puts out at the first down; all that are left falling in one step draw, not those before', () => {
  const { at, fell, isOut, end } = vitalsMatch({ mode: 'never' })
  fell('otter')
  expect([isOut('otter'), end().kind]).toEqual([true, null])
  at(100)
  fell('heron', 'vole', 'newt')
  expect(end()).toMatchObject({ kind: 'draw', winners: ['heron', 'vole', 'newt'], reason: 'last-standing' })
})

test('VE8: where one began alone nobody is the last', () => {
  const { end } = vitalsMatch({ mode: 'never' }, ['otter'])
  expect(end().kind).toBeNull()
})

test.each([
  [{}, [5, 4], 'goal-reached'],
  [{ lead: 2 }, [5, 4], null],
  [{ lead: 2 }, [6, 4], 'goal-reached'],
  [{ lead: 2, cap: 8 }, [8, 7], 'goal-reached'],
  [{ lead: 2 }, [5, 5], null],
])('VE4: first to 5 with %o at %o: %s', (how, [one = 0, other = 0], reason) => {
  const { match, end } = vitalsMatch({}, ['otter', 'heron'], bookWith(firstTo(5, how), mostAtTime))
  match.reportAll('moves.earn', [
    { seat: 'heron', amount: other },
    { seat: 'otter', amount: one },
  ])
  expect(end().reason).toBe(reason ?? '')
})

test('laws a, c: lives that are left and downs make up the start; each down leads to a return at its due, or out, or waits', () => {
  const deeds = fc.array(fc.record({ seat: fc.constantFrom(...FOUR), wait: fc.nat(4000) }), { maxLength: 30 })
  const modes = fc.constantFrom('fixed', 'growing', 'wave', 'never')
  fc.assert(
    fc.property(deeds, modes, fc.integer({ min: 1, max: 4 }), (list, mode, lives) => {
      const { match, at, fell } = vitalsMatch({ mode, lives, after: 700, waveEvery: 3000 })
      let play = 0
      for (const { seat, wait } of list) {
        play += wait
        at(play)
        fell(seat)
        for (const each of FOUR) {
          const { left = 0, downs } = match.state.respawn.lives.of(each)
          expect(left + downs).toBe(lives)
          const { due } = match.state.respawn.back.of(each)
          const { sidelined } = match.state.roster.seats.of(each)
          const isOver = match.state.phases.now.phase === 'over'
          if (match.state.vitals.body.of(each).down)
            expect(due !== undefined || sidelined || isOver).toBe(true)
          else expect(due).toBeUndefined()
          if (due !== undefined) expect(due).toBeGreaterThan(play)
          expect(sidelined).toBe(left === 0 || (mode === 'never' && downs > 0))
        }
      }
      expect(match.faults).toEqual([])
    }),
  )
})
