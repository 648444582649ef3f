import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRulebook, minutes } from 'zinc-referee'
import { lastStanding, mostAtTime, mostRounds, rounds, surrender, teams, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { bookWith, SEATS, teamsMatch } from '../fixtures/teams-mode.ts'

test('TM1, TM11: who joins goes to the team with the fewest seats, level ones to the lowest index', () => {
  expect(teamsMatch({ seats: 5 }).teamsOf()).toEqual([0, 1, 0, 1, 0])
  expect(teamsMatch({ seats: 7, settings: { count: 3 } }).teamsOf()).toEqual([0, 1, 2, 0, 1, 2, 0])
})

test('a late joiner fills the team that is short; of two equally short the one that scored less', () => {
  const { match, team } = teamsMatch()
  match.report('moves.earn', { seat: 'otter', amount: 5 })
  match.direct('roster.join', { seat: 'coot', name: 'Coot' })
  expect(team('coot')).toBe(1)
  match.direct('roster.join', { seat: 'pike', name: 'Pike' })
  expect(team('pike')).toBe(0)
})

test.each([
  ['lobby', { ok: false, code: 'not-now' }],
  ['break', { ok: true }],
] as const)(
  'TM: where teams may be switched in the %s, a choice in a break gives %o, and none in play',
  (switching, inBreak) => {
    const book = defineRulebook({
      name: 'crews',
      seats: { min: 2, max: 4 },
      rules: [
        teams({ count: 2, switching }),
        rounds({ length: minutes(1), count: 2, breakTime: 5000 }),
        verdict({ when: [mostAtTime.decides('round'), mostRounds] }),
      ],
    })
    const { match } = playMatch(book, ['otter', 'heron', 'vole'])
    const choose = () => match.submit('vole', 'teams.choose', { team: 1 })
    expect(choose()).toMatchObject({ code: 'not-now' })
    match.advanceTo(match.now + minutes(1))
    expect([match.view('vole').phases.now.phase, choose()]).toEqual(['break', inBreak])
    expect(match.view('vole').teams.side['vole']?.team).toBe(inBreak.ok ? 1 : 0)
  },
)

test('captains pick in turn, back and forth; who is left goes where it is needed most when play begins', () => {
  const { match } = teamsMatch({ start: false, seats: 6, settings: { pick: 'captains' } })
  const pick = (by: string, seat: string) => match.submit(by, 'teams.pick', { seat })
  const side = (seat: string) => match.view('spectator').teams.side[seat]
  expect(SEATS.slice(0, 3).map((seat) => side(seat)?.picked)).toEqual([true, true, false])
  expect(pick('vole', 'newt')).toMatchObject({ code: 'not-your-turn', details: { seat: 'otter' } })
  const offered = match.options('otter', 'teams.pick').map((option) => Object(option).seat)
  expect(offered).toEqual(['coot', 'newt', 'pike', 'vole'])
  expect(match.submit('vole', 'teams.choose', { team: 1 })).toMatchObject({ code: 'captains-pick' })
  expect(pick('otter', 'pike')).toEqual({ ok: true })
  expect(pick('heron', 'pike')).toMatchObject({ code: 'picked' })
  expect(pick('heron', 'vole')).toEqual({ ok: true })
  expect(match.view('otter').teams.draft.captain).toBe('heron') // back and forth
  match.submit('heron', 'roster.leave', {})
  expect(match.view('otter').teams.draft.captain).toBe('vole') // its lowest seat is captain now
  match.direct('phases.start', {})
  match.advanceTo(3000)
  expect(['otter', 'pike', 'vole', 'newt', 'coot'].map((seat) => [seat, side(seat)?.team])).toEqual([
    ['otter', 0],
    ['pike', 0],
    ['vole', 1],
    ['newt', 1],
    ['coot', 0],
  ])
  expect(pick('otter', 'coot')).toMatchObject({ code: 'already-started' })
})

test('who is not picked yet is on nobody’s side, and sees nothing of one', () => {
  const { match } = teamsMatch({ start: false, seats: 3, settings: { pick: 'captains' } })
  const mates = (seat: string) => Object.keys(match.view(seat).fray.plans)
  expect([mates('otter'), mates('vole')]).toEqual([['otter'], ['vole']])
})

test('at random: to one of the smallest teams, whichever', () => {
  const team = (seed: string) => {
    const { match } = teamsMatch({ seats: 2, settings: { pick: 'random' }, seed })
    return [0, 1].map((at) => match.view('spectator').teams.side[SEATS[at] ?? '']?.team)
  }
  const drawn = Array.from({ length: 20 }, (_, at) => team(`fair-${at}`))
  for (const teams of drawn) expect([...teams].sort()).toEqual([0, 1])
  expect(new Set(drawn.map(([first]) => first)).size).toBe(2)
})

test('TM3: in play nobody changes teams', () => {
  const { match } = teamsMatch({ seats: 4 })
  expect(match.submit('otter', 'teams.choose', { team: 1 })).toMatchObject({ code: 'not-now' })
  expect(match.submit('otter', 'teams.trade', { other: 'heron' })).toMatchObject({ code: 'not-now' })
})

test('TM2: a switch that makes teams too unequal is refused; two who both ask for it trade places', () => {
  const { match, team } = teamsMatch({ start: false })
  expect(match.submit('otter', 'teams.choose', { team: 1 })).toMatchObject({ code: 'uneven' })
  expect(match.submit('otter', 'teams.choose', { team: 2 })).toMatchObject({ code: 'bad-input' })
  expect(match.submit('otter', 'teams.trade', { other: 'vole' })).toMatchObject({ code: 'same-team' })
  match.submit('otter', 'teams.trade', { other: 'heron' })
  expect([team('otter'), team('heron')]).toEqual([0, 1])
  match.submit('heron', 'teams.trade', { other: 'otter' })
  expect([team('otter'), team('heron')]).toEqual([1, 0])
  match.submit('newt', 'roster.leave', {})
  expect(match.submit('vole', 'teams.choose', { team: 1 })).toEqual({ ok: true })
})

test('TM3: in live play nobody switches', () => {
  expect(teamsMatch().match.submit('otter', 'teams.choose', { team: 1 }).ok).toBe(false)
})

test('TM4: at the start the latest joiners of the largest team move to the smallest until they differ by no more than allowed', () => {
  const { match, teamsOf } = teamsMatch({
    seats: 6,
    start: false,
    settings: { balance: 'at-start', maxDifference: 2 },
  })
  match.submit('heron', 'teams.choose', { team: 0 })
  for (const seat of ['newt', 'pike']) match.submit(seat, 'roster.leave', {})
  expect(match.direct('phases.start', {})).toEqual({ ok: true })
  expect(teamsOf()).toEqual([0, 0, 0, undefined, 0, undefined])
  match.advanceTo(3000)
  expect(teamsOf()).toEqual([0, 0, 0, undefined, 1, undefined])
})

test('TM5: points stay with the team in which they were earned', () => {
  const { match } = teamsMatch()
  match.report('moves.earn', { seat: 'otter', amount: 3 })
  match.report('moves.earn', { seat: 'heron', amount: 2 })
  match.submit('otter', 'roster.leave', {})
  expect(match.view('spectator').teams.sums.score).toEqual([3, 2])
})

test('TM6, TM8: a blow at a team-mate is refused and changes nothing; one at oneself always lands', () => {
  const { match, hit, health } = teamsMatch()
  const before = match.hash()
  expect(hit('vole', 'otter')).toMatchObject({ code: 'friendly-fire' })
  expect(match.hash()).toBe(before)
  expect(hit('otter', 'otter')).toEqual({ ok: true })
  expect(health('otter')).toBe(70)
})

test('TM7: in part, or back at who struck, as a blow at oneself', () => {
  const part = teamsMatch({ settings: { friendlyFire: 'reduced' } })
  part.hit('vole', 'otter', 25)
  expect(part.health('vole')).toBe(88) // a half of 25, rounded down
  const back = teamsMatch({ settings: { friendlyFire: 'back' } })
  back.hit('vole', 'otter', 100)
  expect([back.health('vole'), back.health('otter')]).toEqual([100, 0])
  expect(back.match.state.credit.tally.of('vole')).toMatchObject({ kills: 0, deaths: 0 })
})

test('CR4: bringing a team-mate down is no kill and no streak, and costs; foes that hurt it still assist', () => {
  const { match, hit } = teamsMatch({ settings: { friendlyFire: 'on' } })
  hit('vole', 'heron', 40)
  hit('vole', 'otter', 60)
  expect(match.state.credit.tally.of('otter')).toMatchObject({ kills: 0, streak: 0 })
  expect(match.state.scores.sums.of('otter').score).toBe(-2)
  expect(match.state.credit.tally.of('heron').assists).toBe(1)
})

test('TM10, VE9: a team whose seats have all left forfeits, and all of the other team win; one that is only absent does not', () => {
  const { match, end } = teamsMatch()
  match.direct('roster.absent', { seat: 'heron' })
  match.submit('newt', 'roster.leave', {})
  expect(end().kind).toBeNull()
  match.advanceTo(match.now + 60_000)
  expect(end()).toMatchObject({ kind: 'win', winners: ['otter', 'vole'], reason: 'forfeit' })
})

test('when time is up the team with the higher sum wins, and level teams draw', () => {
  const { match, end } = teamsMatch()
  match.report('moves.earn', { seat: 'heron', amount: 5 })
  match.report('moves.earn', { seat: 'otter', amount: 3 })
  match.report('moves.earn', { seat: 'vole', amount: 3 })
  match.advanceTo(303_000)
  expect(end()).toMatchObject({ kind: 'win', winners: ['otter', 'vole'] })
  const level = teamsMatch()
  level.match.advanceTo(303_000)
  expect(level.end()).toMatchObject({ kind: 'draw', winners: ['otter', 'vole', 'heron', 'newt'] })
})

test('the last team standing wins with all its seats that are in play', () => {
  const { hit, end } = teamsMatch({ lives: 1 }, bookWith(lastStanding, mostAtTime))
  hit('otter', 'heron', 100)
  hit('heron', 'vole', 100)
  expect(end().kind).toBeNull()
  hit('newt', 'vole', 100)
  expect(end()).toMatchObject({ kind: 'win', winners: ['vole'], reason: 'last-standing' })
})

test('what a side may see is its team’s, and a late joiner sees it at once', () => {
  const { match } = teamsMatch()
  match.submit('otter', 'fray.plan', { plan: 'to the weir' })
  const seen = (viewer: string) => match.view(viewer).fray.plans['otter']?.plan
  expect(['otter', 'vole', 'heron', 'spectator'].map(seen)).toEqual([
    'to the weir',
    'to the weir',
    undefined,
    undefined,
  ])
})

test('impossible settings are refused with the rule and the setting', () => {
  expect(() => teamsMatch({ settings: { count: 1 } })).toThrow(/'teams'.*count/)
  expect(() => teamsMatch({ settings: { friendlyPart: 1.5 } })).toThrow(/'teams'.*friendlyPart/)
})

test('laws a, b: after a balance teams differ by no more than allowed, and every seat has one team', () => {
  const change = fc.record({ seat: fc.constantFrom(...SEATS), team: fc.nat(2), leaves: fc.boolean() })
  fc.assert(
    fc.property(
      fc.array(change, { maxLength: 12 }),
      fc.integer({ min: 1, max: 3 }),
      (changes, maxDifference) => {
        const { match } = teamsMatch({
          seats: 7,
          start: false,
          settings: { count: 3, maxDifference, balance: 'at-start' },
        })
        for (const { seat, team, leaves } of changes)
          if (match.seats.length > 3 && leaves) match.submit(seat, 'roster.leave', {})
          else match.submit(seat, 'teams.choose', { team })
        match.direct('phases.start', {})
        match.advanceTo(3000)
        const sizes = [0, 1, 2].map(
          (team) => match.seats.filter((seat) => match.state.teams.side.of(seat).team === team).length,
        )
        expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(maxDifference)
        expect(sizes.reduce((sum, each) => sum + each, 0)).toBe(match.seats.length)
        expect(match.faults).toEqual([])
      },
    ),
  )
})

test('VE15: a side gives up when all of it that are here want to: of two the other wins', () => {
  const { match, end } = teamsMatch({ seats: 4 }, bookWith(mostAtTime, surrender))
  const giveUp = (seat: string) => match.submit(seat, 'verdict.surrender', {})
  for (const viewer of ['vole', 'heron', 'spectator']) match.addViewer(viewer)
  match.flush()
  giveUp('otter')
  expect(match.flush().flatMap(({ viewer, notices }) => notices.map(({ name }) => [viewer, name]))).toEqual([
    ['vole', 'verdict.wants-to-give-up'],
  ])
  expect(end().kind).toBeNull()
  match.direct('roster.absent', { seat: 'vole' })
  expect(end()).toMatchObject({ kind: 'win', winners: ['heron', 'newt'], reason: 'surrender' })
})

test('VE15: of more than two sides the one that gives up is out, and play goes on', () => {
  const { match, end } = teamsMatch({ seats: 3, settings: { count: 3 } }, bookWith(mostAtTime, surrender))
  match.submit('otter', 'verdict.surrender', {})
  expect([match.state.roster.seats.of('otter').sidelined, end().kind]).toEqual([true, null])
  match.submit('heron', 'verdict.surrender', {})
  expect(end()).toMatchObject({ kind: 'win', winners: ['vole'], reason: 'surrender' })
})

test('nobody can give up where the verdict does not list it', () => {
  expect(teamsMatch().match.submit('otter', 'verdict.surrender', {})).toMatchObject({
    code: 'cannot-surrender',
  })
})
