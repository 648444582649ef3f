import { expect, test } from 'vitest'
import { defineRule, defineRulebook, everyone, group, int, perSeat, single } from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'
import { fight } from '../fixtures/fight-mode.ts'
import { goal, lobby, seats } from '../fixtures/goal-mode.ts'

test('RO6: who joins in the countdown is seated, and it goes on', () => {
  const match = lobby('otter', 'heron')
  for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
  match.advanceTo(1000)
  match.direct('roster.join', { seat: 'vole', name: 'Vole' })
  match.advanceTo(3000)
  expect([match.state.phases.now.phase, match.seats]).toEqual(['live', ['otter', 'heron', 'vole']])
})

test('RO12, PH6: when everyone leaves, the lobby stays open and empty; a countdown is cancelled', () => {
  const match = lobby('otter', 'heron')
  for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
  for (const seat of ['otter', 'heron']) match.submit(seat, 'roster.leave', {})
  expect([match.seats, match.state.phases.now.phase]).toEqual([[], 'lobby'])
  expect(match.direct('roster.join', { seat: 'newt', name: 'Newt' })).toEqual({ ok: true })
})

test('RO14: with everyone away play goes on, and their graces end it', () => {
  const { match } = fight()
  for (const seat of match.seats) match.direct('roster.absent', { seat })
  match.advanceTo(62_999)
  expect(match.state.phases.now.phase).toBe('live')
  match.advanceTo(63_000)
  expect(match.state.verdict.end).toMatchObject({ kind: 'win', reason: 'forfeit' })
})

test('RO16: who is away in the lobby counts neither as here nor as ready, and keeps its row for its grace', () => {
  const match = lobby('otter', 'heron', 'vole')
  match.direct('roster.absent', { seat: 'vole' })
  for (const seat of ['otter', 'heron'] as const) match.submit(seat, 'roster.ready', {})
  expect(match.state.phases.now.phase).toBe('countdown')
  expect(match.seats).toContain('vole')
})

test('PH7: one leaves and one joins while enough are left: the countdown goes on to the same due', () => {
  const match = lobby('otter', 'heron', 'vole')
  for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
  match.advanceTo(1000)
  match.submit('vole', 'roster.leave', {})
  match.direct('roster.join', { seat: 'newt', name: 'Newt' })
  expect(match.state.phases.now).toMatchObject({ phase: 'countdown', until: 3000 })
})

test('PH9, PH11: a pause holds the countdown; twice is refused, and so is resuming what is not paused', () => {
  const match = lobby('otter', 'heron')
  for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
  match.advanceTo(1000)
  match.direct('phases.pause', {})
  expect(match.direct('phases.pause', {})).toMatchObject({ code: 'already-paused' })
  match.advanceTo(9000)
  match.direct('phases.resume', {})
  expect(match.direct('phases.resume', {})).toMatchObject({ code: 'not-paused' })
  match.advanceTo(10_999)
  expect(match.state.phases.now.phase).toBe('countdown')
  match.advanceTo(11_000)
  expect(match.state.phases.now.phase).toBe('live')
})

test('PH14: where the set-up of a rule throws, the start is taken back whole, the fault names it, and nothing loops', () => {
  let fails = true
  const broken = defineRule({
    name: 'broken',
    state: { pot: single({ coins: int(0) }) },
    setUp(match) {
      match.own.pot.coins = 7
      if (fails) throw new Error('the pot is cracked')
    },
  })
  const { match } = playMatch(defineRulebook({ name: 'yard', seats, rules: [broken] }), ['otter', 'heron'])
  expect([match.state.phases.now.phase, match.state.phases.now.bout, match.state.broken.pot.coins]).toEqual([
    'lobby',
    0,
    0,
  ])
  expect(match.faults.map(({ during, error }) => [during, String(error)])).toEqual([
    [expect.any(String), expect.stringContaining('the pot is cracked')],
  ])
  match.advanceTo(100_000)
  expect(match.faults).toHaveLength(1)
  fails = false
  for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
  match.advanceTo(200_000)
  expect([match.state.phases.now.phase, match.state.broken.pot.coins]).toEqual(['live', 7])
})

test('RD4: extended in a pause, so much more remains', () => {
  const { match } = fight()
  match.advanceTo(103_000)
  match.direct('phases.pause', {})
  match.direct('rounds.extend', { by: 10_000 })
  match.advanceTo(500_000)
  match.direct('phases.resume', {})
  match.advanceTo(500_000 + 209_999)
  expect(match.state.phases.now.phase).toBe('live')
  match.advanceTo(500_000 + 210_000)
  expect(match.state.phases.now.phase).toBe('over')
})

test('RD12, VE2, VE3: time up comes before a goal at that ms; both at the goal, the higher wins, level they share; there and back is no claim', () => {
  const late = playMatch(goal, ['otter', 'heron']).match
  late.advanceTo(63_000)
  expect(late.report('moves.earn', { seat: 'otter', amount: 5 })).toMatchObject({ code: 'over' })
  const both = (one: number, other: number, settings = {}) => {
    const { match } = playMatch(goal, ['otter', 'heron'], { settings })
    match.reportAll('moves.earn', [
      { seat: 'otter', amount: one },
      { seat: 'heron', amount: other },
    ])
    if (match.view('spectator').verdict.end.kind === null)
      match.report('moves.earn', { seat: 'heron', amount: 1 })
    return match.view('spectator').verdict.end
  }
  expect(both(5, 6)).toMatchObject({ kind: 'win', winners: ['heron'] })
  expect(both(5, 5)).toMatchObject({ kind: 'draw', winners: ['otter', 'heron'] })
  const sudden = { rounds: { suddenEnd: true } } // then it goes on until one leads
  expect(both(5, 5, sudden)).toMatchObject({ kind: 'win', winners: ['heron'], reason: 'goal-reached' })
  const { match } = playMatch(goal, ['otter', 'heron'])
  match.report('flash.pan', { seat: 'otter' })
  expect(match.view('spectator').verdict.end.kind).toBeNull()
})

test('RD15: no rematch with too few; an open seat may be taken first', () => {
  const { match } = playMatch(goal, ['otter', 'heron'])
  match.submit('heron', 'roster.leave', {})
  expect(match.submit('otter', 'rounds.rematch', {})).toMatchObject({ code: 'too-few' })
  match.direct('roster.join', { seat: 'vole', name: 'Vole' })
  for (const seat of ['otter', 'vole'] as const) match.submit(seat, 'rounds.rematch', {})
  expect(match.view('otter').phases.now.phase).toBe('countdown')
})

test('a description says what nothing makes use of: events, gates and groups; and where a rule settles', () => {
  const bell = defineRule({
    name: 'bell',
    state: { rope: perSeat({ pulled: int(0).seenBy(group('near')) }), tower: single({ rung: int(0) }) },
    events: { rung: { n: int() }, heard: { n: int().seenBy(everyone) } },
    groups: { near: (match) => match.seats, far: (match) => match.seats },
    gates: { open: { place: 'phase', check() {} }, shut: { place: 'phase', check() {} } },
    actions: { pull: { when: { gate: 'bell.open', given: [] }, input: {}, decide() {} } },
    timers: { toll: { seenBy: group('far') } },
    settle: { wokenBy: ['tower'], run() {} },
  })
  const { match } = playMatch(defineRulebook({ name: 'tower', seats: { min: 1, max: 2 }, rules: [bell] }), [
    'otter',
  ])
  const { unused, rules } = match.describe()
  expect(unused.filter((each) => each.includes('bell'))).toEqual(['event bell.rung', 'gate bell.shut'])
  expect(rules.find(({ name }) => name === 'bell')?.settles).toEqual({ tier: 'upkeep', wokenBy: ['tower'] })
  expect(rules.find(({ name }) => name === 'phases')?.settles).toMatchObject({ tier: 'upkeep' })
})

test('what was drawn is part of the hash, even where nothing else has changed', () => {
  const dice = defineRule({
    name: 'dice',
    facts: { roll: { input: {}, handle: (match) => void match.chance('dice').int(1, 6) } },
  })
  const { match } = playMatch(defineRulebook({ name: 'dice', seats: { min: 1, max: 2 }, rules: [dice] }), [
    'otter',
  ])
  const before = match.hash()
  match.report('dice.roll', {})
  expect(match.hash()).not.toBe(before)
})
