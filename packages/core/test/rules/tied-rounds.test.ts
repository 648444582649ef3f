import { expect, test } from 'vitest'
import { defineRulebook, minutes } from 'zinc-referee'
import { mostAtTime, mostRounds, rounds, scores, turnStep, turns, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { code } from '../fixtures/error-code.ts'
import { goal } from '../fixtures/goal-mode.ts'
import { crews, inTheYard } from '../fixtures/yard-mode.ts'

const LENGTH = minutes(1)

test.each([
  ['tied', ['heron', 'otter'], 'not-tied'],
  ['all', ['heron', 'otter', 'vole'], undefined],
] as const)('RD23: in overtime for %s, %j play on; after it everybody does', (overtimeFor, inPlay, why) => {
  const rounds = { overtimeFor, overtime: 5000 }
  const { match, at, earn, row } = inTheYard({ rounds })
  match.addViewer('spectator')
  earn('otter')
  earn('heron')
  at(LENGTH)
  const told = match.flush().flatMap(({ notices }) => notices)
  const playing = () => match.seats.filter((seat) => row(seat)?.sidelined === false).toSorted()
  expect(playing()).toEqual(inPlay)
  expect(told.find(({ name }) => name === 'roster.sidelined')?.cells['why']).toBe(why)
  earn('otter')
  at(LENGTH + 5000)
  expect(match.view('spectator').verdict.rounds.wins).toEqual({ otter: 1 })
  expect(playing()).toEqual(['heron', 'otter', 'vole'])
})

test.each([
  [0, [], 'draw', 2],
  [1, ['otter'], 'win', 3],
  [2, [undefined, 'otter'], 'win', 4],
  [1, [undefined], 'draw', 3],
] as const)('RD24: level after two rounds, with %i deciders won by %j: %s', (deciders, won, kind, played) => {
  const { match, earn } = inTheYard({ rounds: { deciders, breakTime: 0 } })
  for (const winner of ['otter', 'heron', ...won]) {
    if (winner !== undefined) earn(winner)
    match.advanceTo(match.now + LENGTH)
  }
  const { verdict, rounds } = match.view('spectator')
  expect([verdict.end.kind, rounds.now.round]).toEqual([kind, played])
})

test('RD25, SC21: a round that is called off does not count: its points go, and it is played again', () => {
  const { match, at, earn } = inTheYard({}, crews)
  earn('otter')
  at(LENGTH + 5000)
  earn('heron')
  expect(match.direct('rounds.replay', { why: 'rain' })).toMatchObject({ ok: true })
  expect(match.direct('rounds.replay', {})).toMatchObject({ code: 'round-over' })
  match.advanceTo(match.now + 5000)
  const view = match.view('spectator') as any
  expect([view.rounds.now.round, view.verdict.rounds.wins]).toEqual([2, { 0: 1 }])
  expect([view.scores.sums.heron.score, view.teams.sums.score]).toEqual([0, [1, 0]])
  const { ledger } = view.scores
  const entries = Object.values<any>(ledger).map(({ to, amount, reason, team }) => [to, amount, reason, team])
  expect(entries.toSorted((a, b) => b[1] - a[1] || b[3] - a[3])).toEqual([
    ['heron', 1, 'earned', 1],
    ['otter', 1, 'earned', 0],
    ['heron', -1, 'rain', 1],
  ])
  match.advanceTo(match.now + LENGTH)
  expect(match.state.phases.now.phase).toBe('over')
})

test.each([
  ['step', 5, 4],
  ['millisecond', 5, 6],
] as const)('VE23: judged by the %s, two goals of one millisecond', (judge, first, second) => {
  const { match } = playMatch(goal, ['otter', 'heron'], { settings: { verdict: { judge } } })
  match.advanceTo(4000)
  match.report('moves.earn', { seat: 'otter', amount: 5 })
  const ruling = match.report('moves.earn', { seat: 'heron', amount: 6 })
  expect(ruling).toMatchObject(judge === 'step' ? { code: 'over' } : { ok: true })
  match.advanceTo(4001)
  const { end } = match.view('spectator').verdict
  expect(end).toMatchObject({ winners: [first > second ? 'otter' : 'heron'], at: 1000, kind: 'win' })
})

test('VE23: a goal that is gone when its millisecond is over was none, and time up waits for nobody', () => {
  const { match } = playMatch(goal, ['otter', 'heron'], { settings: { verdict: { judge: 'millisecond' } } })
  match.report('moves.earn', { seat: 'otter', amount: 5 })
  match.report('moves.earn', { seat: 'otter', amount: -1 })
  match.advanceTo(3001)
  expect(match.state.phases.now.phase).toBe('live')
  match.advanceTo(3000 + LENGTH)
  expect(match.view('spectator').verdict.end).toMatchObject({ winners: ['otter'], at: LENGTH })
})

test('PH18: the end of a bout stays before the next one begins, however early all ask', () => {
  const { match } = playMatch(goal, ['otter', 'heron'], { settings: { phases: { linger: 8000 } } })
  match.report('moves.earn', { seat: 'otter', amount: 5 })
  const phase = () => match.state.phases.now.phase
  for (const seat of match.seats) match.submit(seat, 'rounds.rematch', {})
  expect([phase(), match.view('spectator').phases.now.until]).toEqual(['over', match.now + 8000])
  match.advanceTo(match.now + 7999)
  expect(phase()).toBe('over')
  match.advanceTo(match.now + 1)
  expect(phase()).toBe('countdown')
})

test('RD24: as many rounds as there may be, each over at once since nobody can do anything, end in a draw', () => {
  const act = turnStep('act')
  const idle = defineRulebook({
    name: 'idle',
    seats: { min: 2, max: 2 },
    rules: [
      rounds({ count: 500, deciders: 99 }),
      turns({ steps: [act], passing: 'never', allPass: 'end-round' }),
      scores,
      verdict({ when: [mostAtTime.decides('round'), mostRounds] }),
    ],
  })
  const { match } = playMatch(idle, ['otter', 'heron'])
  expect(match.view('spectator').verdict.end.kind).toBe('draw')
  expect([match.view('spectator').rounds.now.round, match.faults]).toEqual([599, []])
  for (const beyond of [{ count: 501 }, { deciders: 100 }])
    expect(code(() => playMatch(idle, ['otter', 'heron'], { settings: { rounds: beyond } }))).toBe(
      'ZR_SETTING_INVALID',
    )
})
