import { steppingStones } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { chanceFrom } from 'zinc-referee'
import { around, joins } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const begin = () => playMatch(steppingStones, ['otter', 'heron'])

test('many random games: only the seat in turn has options, offered = accepted, and each ends once with banks joined or more stones', () => {
  const reasons = new Set<string>()
  for (let game = 0; game < 40; game++) {
    const { match, replay } = begin()
    const chance = chanceFrom(`game ${game}`, 'moves')
    for (let move = 0; match.state.phases.now.phase === 'live'; move++) {
      const seat = match.state.turns.now.seat ?? ''
      const options = match.options(seat, 'stones.lay')
      expect(options.length).toBeGreaterThan(0) // who has none passes by itself
      expect(match.options(seat === 'otter' ? 'heron' : 'otter', 'stones.lay')).toEqual([])
      if (move % 5 === 0) {
        const spot = { x: chance.int(0, 4), y: chance.int(0, 4) }
        const isOffered = options.some(({ x, y }) => x === spot.x && y === spot.y)
        expect(match.submit(seat, 'stones.lay', spot).ok).toBe(isOffered)
        if (isOffered) continue
      }
      expect(match.submit(seat, 'stones.lay', chance.pick(options) ?? { x: 0, y: 0 })).toEqual({ ok: true })
    }
    expect(match.faults).toEqual([])
    reasons.add(match.state.verdict.end.reason)
    expect(match.options('otter', 'stones.lay')).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
  expect(reasons).toContain('banks-joined')
})

test('the turn goes on when a stone lies, at the time-out, and when the seat leaves; the other starts the next bout', () => {
  const { match } = begin()
  const seat = () => match.state.turns.now.seat
  expect(seat()).toBe('otter')
  expect(match.submit('heron', 'stones.lay', { x: 0, y: 0 })).toMatchObject({ code: 'not-your-turn' })
  expect(match.submit('otter', 'stones.lay', { x: 2, y: 2 })).toMatchObject({ code: 'touches-nothing' })
  expect(match.submit('otter', 'turns.pass', {})).toMatchObject({ code: 'cannot-pass' })
  expect(seat()).toBe('otter')
  match.submit('otter', 'stones.lay', { x: 0, y: 2 })
  expect(seat()).toBe('heron')
  match.advanceTo(match.now + 29_999)
  expect(seat()).toBe('heron')
  match.direct('phases.pause', {})
  match.advanceTo(match.now + 60_000) // a pause holds the turn clock
  match.direct('phases.resume', {})
  expect(match.submit('heron', 'stones.lay', { x: 0, y: 0 })).toEqual({ ok: true })
  match.advanceTo(match.now + 30_000)
  expect([seat(), match.state.turns.now.turn]).toEqual(['heron', 4])
  match.advanceTo(match.now + 30_000) // both have let the time run out: more stones win, and they are level
  expect(match.state.verdict.end).toMatchObject({ kind: 'draw', reason: 'more-stones' })
  for (const each of ['otter', 'heron']) match.submit(each, 'rounds.rematch', {})
  match.advanceTo(match.now + 3000)
  expect([match.state.phases.now.bout, seat()]).toEqual([2, 'heron'])
  expect(match.state.pond.cells.all().filter(({ holder }) => holder !== undefined)).toEqual([])
  match.submit('heron', 'roster.leave', {})
  expect(match.state.verdict.end).toMatchObject({ winners: ['otter'], reason: 'forfeit' })
})

test('boards: neighbours and lines, by the counted values', () => {
  const pairs = (width: number, height: number, neighbours: 4 | 8) =>
    Array.from(
      { length: width * height },
      (_, n) => around({ x: n % width, y: Math.floor(n / width) }, { width, height, neighbours }).length,
    ).reduce((a, b) => a + b, 0) / 2
  expect([pairs(3, 3, 4), pairs(3, 3, 8)]).toEqual([12, 20])
  const size = { width: 3, height: 3, neighbours: 4 as const }
  const line = [
    { x: 0, y: 0 },
    { x: 1, y: 0 },
    { x: 1, y: 1 },
    { x: 2, y: 1 },
  ]
  expect(joins(line, 'west', 'east', size)).toBe(true)
  expect(
    joins(
      line.filter(({ x, y }) => x !== 1 || y !== 0),
      'west',
      'east',
      size,
    ),
  ).toBe(false)
  expect(joins(line, 'north', 'south', size)).toBe(false)
})
