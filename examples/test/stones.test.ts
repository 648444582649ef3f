import { steppingStones } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { chanceFrom } from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'

const begin = (seed = 'fair-1') => {
  const played = playMatch(steppingStones, ['otter', 'heron'], { seed })
  const { match } = played
  return {
    ...played,
    lay: (seat: string, x: number, y: number) => match.submit(seat, 'stones.lay', { x, y }),
    liliesOf: (seat: string, viewer: string = seat) =>
      Object.values(match.view(viewer).stones.lilies).filter(({ of }) => of === seat).length,
    end: () => match.state.verdict.end,
  }
}

type Stone = { readonly x: number; readonly y: number }
const beside = (a: Stone, b: Stone): boolean => Math.abs(a.x - b.x) + Math.abs(a.y - b.y) === 1

/** What a seat's best line comes to: a number that is larger for more lilies, then for fewer stones. */
function worth(stones: readonly Stone[], lilies: readonly Stone[]): number {
  // Each stone gets the name of the first stone that it is joined to, step by step.
  const names = stones.map((_, at) => at)
  for (const _ of stones)
    for (const [at, stone] of stones.entries())
      names[at] = Math.min(
        ...names.filter((_, other) => other === at || beside(stone, stones[other] as Stone)),
      )
  const lines = names.map((name) => stones.filter((_, at) => names[at] === name))
  const each = lines.map(
    (line) => 100 * lilies.filter((lily) => line.some((stone) => beside(stone, lily))).length - line.length,
  )
  return Math.max(...each)
}

test('many random matches: what is offered is accepted and nothing else, and every ending comes', () => {
  const endings = new Set<string>()
  for (let game = 0; game < 60; game++) {
    const { match, replay, lay } = begin(`game ${game}`)
    const chance = chanceFrom(`game ${game}`, 'moves')
    for (let move = 0; match.state.phases.now.phase === 'live'; move++) {
      const seat = match.state.turns.now.seat ?? ''
      const options = match.options(seat, 'stones.lay')
      expect(options.length).toBeGreaterThan(0) // who has none passes by itself
      expect(match.options(seat === 'otter' ? 'heron' : 'otter', 'stones.lay')).toEqual([])
      const { x, y } =
        move % 5 === 0
          ? { x: chance.int(0, 5), y: chance.int(0, 5) }
          : (chance.pick(options) ?? { x: 0, y: 0 })
      expect(lay(seat, x, y).ok).toBe(options.some((each) => each.x === x && each.y === y))
    }
    const { kind, reason, winners } = match.state.verdict.end
    if (reason === 'lilies-joined') expect(winners).toHaveLength(1)
    else {
      const [mine = 0, theirs = 0] = match.seats.map((seat) =>
        worth(
          match.state.pond.cells.all().filter(({ holder }) => holder === seat),
          match.state.stones.lilies.where({ of: seat }),
        ),
      )
      const best = Math.max(mine, theirs)
      expect(winners).toEqual(match.seats.filter((_, at) => [mine, theirs][at] === best))
    }
    endings.add(`${reason} ${kind}`)
    expect(match.faults).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
  expect([...endings].sort()).toEqual(['lilies-joined win', 'more-lilies draw', 'more-lilies win'])
})

test('lilies are known to their seat alone until one has joined all of its own, then to everyone', () => {
  const { match, liliesOf, end } = begin()
  match.addViewer('spectator')
  expect([liliesOf('otter'), liliesOf('otter', 'heron'), liliesOf('otter', 'spectator')]).toEqual([3, 0, 0])
  expect(
    match.submit('otter', 'stones.lay', match.state.stones.lilies.all()[0] ?? { x: 0, y: 0 }),
  ).toMatchObject({ code: 'bad-input' })
  const [{ x = 0, y = 0 } = {}] = match.state.stones.lilies.all()
  expect(match.submit('otter', 'stones.lay', { x, y })).toMatchObject({ code: 'cell-locked' })
  match.submit('heron', 'roster.leave', {})
  expect(end()).toMatchObject({ kind: 'win', winners: ['otter'], reason: 'forfeit' })
  expect([liliesOf('otter', 'spectator'), liliesOf('heron', 'spectator')]).toEqual([3, 3])
})

test('stones lie at the bank or beside one’s own; a corner touches, but is no line', () => {
  const { match, lay, end } = begin()
  expect(lay('heron', 1, 0)).toMatchObject({ code: 'not-your-turn' })
  expect(lay('otter', 2, 3)).toMatchObject({ code: 'touches-nothing' })
  expect(match.submit('otter', 'turns.pass', {})).toMatchObject({ code: 'cannot-pass' })
  lay('otter', 1, 0)
  lay('heron', 5, 4)
  expect(lay('otter', 1, 1)).toEqual({ ok: true })
  lay('heron', 4, 4)
  expect(lay('otter', 0, 1)).toEqual({ ok: true })
  expect(lay('otter', 2, 1)).toMatchObject({ code: 'not-your-turn' })
  expect(end().kind).toBeUndefined()
})

test('the turn goes on when a stone lies, at the time-out, and when the seat leaves; the other starts the next bout', () => {
  const { match, lay, end } = begin()
  const seat = () => match.state.turns.now.seat
  lay('otter', 0, 1)
  expect(seat()).toBe('heron')
  match.advanceTo(match.now + 29_999)
  expect(seat()).toBe('heron')
  match.direct('phases.pause', {})
  match.advanceTo(match.now + 60_000) // a pause holds the turn clock
  match.direct('phases.resume', {})
  expect(lay('heron', 5, 4)).toEqual({ ok: true })
  match.advanceTo(match.now + 30_000)
  expect([seat(), match.state.turns.now.turn]).toEqual(['heron', 4])
  match.advanceTo(match.now + 30_000) // both have let the time run out
  expect(end().reason).toBe('more-lilies')
  for (const each of ['otter', 'heron']) match.submit(each, 'rounds.rematch', {})
  match.advanceTo(match.now + 3000)
  expect([match.state.phases.now.bout, seat()]).toEqual([2, 'heron'])
  expect(match.state.pond.cells.all().filter(({ holder }) => holder !== undefined)).toEqual([])
})
