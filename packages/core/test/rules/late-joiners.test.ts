import { expect, test } from 'vitest'
import { defineRule, defineRulebook, minutes, seatRef } from 'zinc-referee'
import { roster, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'
import { inTheYard } from '../fixtures/yard-mode.ts'

test.each([
  ['seat', 500, [false, false, false]],
  ['next-round', 500, [true, false, false]],
  ['next-round', 499, [false, false, false]],
  ['watch', 500, [true, true, false]],
  ['refuse', 500, 'late'],
  ['refuse', 499, [false, false, false]],
] as const)('RO5, RO17: with %s, who joins at %i ms of the first round', (lateJoin, play, sitsOut) => {
  const { match, at, join, row, body } = inTheYard({ roster: { lateJoin, lateWindow: 500 } })
  at(play)
  const ruling = join('newt')
  if (sitsOut === 'late') return expect(ruling).toMatchObject({ code: 'late' })
  const waits = (): boolean | undefined => row('newt')?.sidelined
  const first = waits()
  expect(body('newt').health).toBe(first === true ? 0 : 100)
  at(minutes(1))
  match.advanceTo(match.now + 5000)
  const second = waits()
  expect([match.state.rounds.now.round, body('newt').health]).toEqual([2, second === true ? 0 : 100])
  const { life } = match.state.vitals.lives.of('newt')
  expect(life).toBe([first, second].filter((each) => each === false).length)
  match.advanceTo(match.now + minutes(2))
  for (const seat of match.seats) match.submit(seat, 'rounds.rematch', {})
  match.advanceTo(match.now + 3000)
  expect([match.state.phases.now.bout, first, second, waits()]).toEqual([2, ...sitsOut])
})

test.each([
  ['bout', [3000, 4000, 5000]],
  ['round', [3000, 4000, 3000]],
] as const)('RE1: growing delays grow with each down of the %s', (growsPer, delays) => {
  const rounds = { length: 20_000, breakTime: 0 }
  const { match, at } = inTheYard({ rounds, respawn: { mode: 'growing', growsPer } })
  const due = (play: number) => {
    at(play)
    match.report('moves.fell', { seat: 'otter' })
    return (match.view('spectator').respawn.back['otter']?.due ?? 0) - play
  }
  expect([0, 10_000, 22_000].map(due)).toEqual(delays)
})

test('RO17: in a break one joins for the next round; who waits may leave and come back, and waits on', () => {
  const { match, at, join, leave, row, body } = inTheYard({ roster: { lateJoin: 'next-round' } })
  at(1000)
  join('newt')
  leave('newt')
  join('newt')
  expect(row('newt')?.sidelined).toBe(true)
  expect(match.submit('newt', 'moves.wave', {})).toMatchObject({ code: 'sidelined' })
  at(minutes(1))
  leave('vole')
  expect(join('coot')).toEqual({ ok: true })
  expect(row('coot')?.sidelined).toBe(false)
  match.advanceTo(match.now + 5000)
  expect(['newt', 'coot'].map((seat) => [row(seat)?.sidelined, body(seat).health])).toEqual([
    [false, 100],
    [false, 100],
  ])
})

test('VI32: who is brought back in goes on as it was if it is up, and begins a life if it is down', () => {
  const bench = defineRule({
    name: 'bench',
    needs: [roster],
    facts: {
      in: { input: { seat: seatRef() }, handle: (match, { seat }) => match.use(roster).bringIn(seat) },
    },
  })
  const rules = [vitals, moves, bench] as const
  const book = defineRulebook({ name: 'bench', seats: { min: 1, max: 4 }, rules })
  const { match } = playMatch(book, ['otter', 'heron'])
  match.report('moves.hit', { target: 'otter', amount: 30 })
  match.report('moves.faint', { seat: 'heron' })
  for (const seat of ['otter', 'heron']) {
    match.report('moves.out', { seat })
    match.report('bench.in', { seat })
  }
  const now = (seat: string) => [
    match.state.vitals.body.of(seat).health,
    match.state.vitals.lives.of(seat).life,
  ]
  expect([now('otter'), now('heron')]).toEqual([
    [70, 1],
    [100, 2],
  ])
})
