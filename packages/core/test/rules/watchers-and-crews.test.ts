import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, minutes, seatRef } from 'zinc-referee'
import {
  ballotOf,
  countVotes,
  credit,
  respawn,
  roster,
  rounds,
  scores,
  teams,
  vitals,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const prize = ballotOf('prize')
const booth = defineRule({
  name: 'booth',
  needs: [prize, roster],
  knows: [respawn],
  facts: {
    open: {
      input: {},
      handle: (match) => match.use(prize).open({ voters: [], candidates: match.use(roster).inPlay() }),
    },
    gift: {
      input: { seat: seatRef(), lives: int(1) },
      handle: (match, { seat, lives }) => match.use(respawn)?.give(seat, lives),
    },
  },
})
const base = [rounds({ length: minutes(5) }), vitals, scores, moves] as const
const rules = [
  ...base,
  credit,
  respawn({ after: 1000, protectFor: 0 }),
  prize({ time: 5000 }),
  booth,
] as const
const seats = { min: 2, max: 4 }
const fair = defineRulebook({ name: 'fair', seats, rules })
const crews = defineRulebook({ name: 'crews', seats, rules: [...rules, teams] }) as unknown as typeof fair
const FOUR = ['otter', 'heron', 'vole', 'newt']

function atTheFair(settings: object = {}, names = FOUR, book = fair, start = true) {
  const { match } = playMatch(book, names, { settings, start })
  const team = (seat: string): number => (match as any).state.teams.side.of(seat).team
  return {
    match,
    ask: (name: string, input: object) => match.direct(name as 'roster.join', input as never),
    say: (name: string, input: object) => match.report(name as 'moves.fell', input as never),
    wait: (ms: number) => match.advanceTo(match.now + ms),
    row: (seat: string) => match.view('spectator').roster.seats[seat],
    lives: (seat: string) => match.state.respawn.lives.of(seat).left,
    body: (seat: string) => match.state.vitals.body.of(seat),
    teams: () => match.seats.map(team).join(''),
  }
}

test('RO19: who watches is known, may not have a seat too, and stops watching when it gets one', () => {
  const { match, ask } = atTheFair({ roster: { barFor: 'match' } }, FOUR.slice(0, 3))
  const names = () => Object.values(match.view('spectator').roster.watchers).map(({ name }) => name)
  expect(ask('roster.watch', { player: 'p-toad', name: ' Toad ' })).toMatchObject({ ok: true })
  expect(ask('roster.watch', { player: 'p-toad', name: 'Old Toad' })).toMatchObject({ ok: true })
  expect(names()).toEqual(['Old Toad'])
  expect(JSON.stringify(match.view('spectator'))).not.toContain('p-toad')
  expect(ask('roster.watch', { player: 'otter', name: 'Otter' })).toMatchObject({ code: 'seated' })
  expect(ask('roster.watch', { player: 'p-coot', name: '' })).toMatchObject({ code: 'bad-name' })
  expect(ask('roster.unwatch', { player: 'p-coot' })).toMatchObject({ code: 'not-watching' })
  ask('roster.join', { seat: 'toad', name: 'Toad', player: 'p-toad' })
  expect(names()).toEqual([])
  ask('roster.kick', { seat: 'toad' })
  expect(ask('roster.watch', { player: 'p-toad', name: 'Toad' })).toMatchObject({ code: 'barred' })
})

test('RO20: with whenFull: watch, who finds no free seat watches', () => {
  const { match, ask } = atTheFair({ roster: { whenFull: 'watch' } })
  expect(ask('roster.join', { seat: 'coot', name: 'Coot' })).toMatchObject({ ok: true })
  expect([match.seats.length, Object.keys(match.view('spectator').roster.watchers).length]).toEqual([4, 1])
})

test.each([
  ['same-seat', 'heron', 1],
  ['new-seat', 'egret', 0],
] as const)('RO21: with %s, who comes back sits at %s', (comeback, seat, score) => {
  const { match, ask, say } = atTheFair({ roster: { comeback } }, FOUR.slice(0, 3))
  say('moves.earn', { seat: 'heron' })
  match.submit('heron', 'roster.leave', {})
  ask('roster.join', { seat: 'egret', name: 'Heron', player: 'heron' })
  expect(match.seats).toEqual(expect.arrayContaining([seat]))
  expect([match.seats.length, match.state.scores.sums.of(seat).score]).toEqual([3, score])
})

test('BA21: each player who watches has one vote, which counts only while it watches', () => {
  const { match, ask, say, wait } = atTheFair()
  const vote = (player: string, candidate: string) => say('prize.vote-of-watcher', { player, for: candidate })
  expect(vote('p-toad', 'otter')).toMatchObject({ code: 'ballot-closed' })
  say('booth.open', {})
  expect(vote('p-toad', 'otter')).toMatchObject({ code: 'not-watching' })
  for (const player of ['p-toad', 'p-coot', 'p-pike']) ask('roster.watch', { player, name: player })
  expect(vote('p-toad', 'nobody')).toMatchObject({ code: 'no-such-candidate' })
  for (const [player, candidate] of [
    ['p-toad', 'otter'],
    ['p-coot', 'heron'],
    ['p-toad', 'heron'],
    ['p-pike', 'otter'],
  ] as const)
    vote(player, candidate)
  ask('roster.unwatch', { player: 'p-pike' })
  wait(5000)
  expect(match.view('spectator').prize.result).toMatchObject({
    winners: ['heron'],
    totals: { heron: 2, otter: 0 },
  })
})

test('BA7, BA21: a vote from outside for a candidate that stands no more is not cast', () => {
  const of = { quorum: 0, threshold: 'over-half-cast', pick: 1 } as const
  const others = new Map([
    ['otter', 2],
    ['heron', 1],
    ['gone', 5],
  ])
  expect(countVotes([], ['otter', 'heron'], { voters: 0, weight: 0 }, of, others).elected).toEqual(['otter'])
})

test('RE22: lives by seat or by team, and who is out comes back when lives are given', () => {
  const { say, wait, lives, row, body } = atTheFair({ respawn: { lives: 2, livesBy: [1, 3], reclaim: true } })
  expect(FOUR.map(lives)).toEqual([1, 3, 2, 2])
  say('moves.fell', { seat: 'otter' })
  expect(row('otter')?.sidelined).toBe(true)
  say('booth.gift', { seat: 'heron' })
  expect(row('otter')?.sidelined).toBe(true)
  say('booth.gift', { seat: 'otter' })
  wait(0)
  expect([row('otter')?.sidelined, lives('otter'), lives('heron'), body('otter').health]).toEqual([
    false,
    1,
    4,
    100,
  ])
})

test('RE23: of a team that gets more returns, who has been out longest comes back first', () => {
  const settings = { teams: { balance: 'none' }, respawn: { livesBy: [1, 9], shared: true, reclaim: true } }
  const { match, say, row } = atTheFair(settings, FOUR, crews)
  for (const seat of ['vole', 'otter', 'otter']) {
    say('moves.fell', { seat })
    match.advanceTo(match.now + 1000)
  }
  say('moves.fell', { seat: 'vole' })
  const out = () => FOUR.filter((seat) => row(seat)?.sidelined)
  expect([out(), match.view('spectator').respawn.pool.left]).toEqual([['otter', 'vole'], { 0: 0, 1: 9 }])
  say('booth.gift', { seat: 'vole' })
  expect([out(), match.view('spectator').respawn.pool.left]).toEqual([['vole'], { 0: 0, 1: 9 }])
  // Who is out stays out when it leaves and comes back: it takes no return until one is given.
  match.submit('vole', 'roster.leave', {})
  say('booth.gift', { seat: 'otter' })
  match.direct('roster.join', { seat: 'vole', name: 'Vole' })
  expect([out(), match.view('spectator').respawn.pool.left]).toEqual([['vole'], { 0: 1, 1: 9 }])
})

test.each([
  [{ sizes: [1, 3] }, 4, '0111'],
  [{ sizes: [1, 3] }, 2, '01'],
  [{ sizes: [3, 1] }, 4, '0100'],
  [{}, 4, '0101'],
] as const)('TM13: with %j, %i seats sit at %s', (settings, seats, expected) => {
  const fourOf = atTheFair({ teams: settings }, FOUR.slice(0, seats), crews)
  expect(fourOf.teams()).toBe(expected)
})

test('TM13: nobody can choose a team that is as large as it is meant to be; balancing keeps to sizes', () => {
  const settings = { teams: { sizes: [1, 3], balance: 'at-start' } }
  const { match, teams: where } = atTheFair(settings, FOUR, crews, false)
  const choose = (seat: string, team: number) =>
    match.submit(seat, 'teams.choose' as 'moves.wave', { team } as never)
  expect(choose('vole', 0)).toMatchObject({ code: 'uneven', details: { most: 1 } })
  expect(choose('otter', 1)).toMatchObject({ code: 'uneven', details: { most: 3 } })
  match.direct('phases.start', {})
  match.advanceTo(match.now + 3000)
  expect(where()).toBe('0111')
})

test('TM14: a seat that changes teams in a round goes down, without credit, death or cost, and is back in its new team', () => {
  const settings = { teams: { switching: 'any', maxDifference: 4 }, respawn: { lives: 1 }, vitals: {} }
  const { match, say, wait, row, body, lives, teams: where } = atTheFair(settings, FOUR, crews)
  say('moves.hit', { target: 'vole', by: 'heron', amount: 60 })
  match.submit('vole', 'teams.choose' as 'moves.wave', { team: 1 } as never)
  expect([where(), body('vole').down, row('vole')?.sidelined, lives('vole')]).toEqual([
    '0111',
    true,
    false,
    1,
  ])
  expect([match.state.credit.tally.of('heron').kills, match.state.credit.tally.of('vole').deaths]).toEqual([
    0, 0,
  ])
  wait(1000)
  expect([body('vole').health, lives('vole')]).toEqual([100, 1])
})

test('TM15: a group stays in one team: it chooses and is moved as one, or not at all', () => {
  const six = [...FOUR]
  const { match, ask, teams: where } = atTheFair({ teams: { maxDifference: 2 } }, six, crews, false)
  expect(ask('teams.group', { seats: ['heron', 'vole'] })).toMatchObject({ ok: true })
  expect(where()).toBe('0111')
  const submit = (seat: string, action: string, input: object) =>
    match.submit(seat, action as 'moves.wave', input as never)
  expect(submit('otter', 'teams.trade', { other: 'heron' })).toMatchObject({ code: 'in-a-group' })
  expect(submit('vole', 'teams.choose', { team: 0 })).toMatchObject({ ok: true })
  expect(where()).toBe('0001')
  expect(submit('otter', 'teams.choose', { team: 1 })).toMatchObject({ ok: true })
  expect(where()).toBe('1001')
  match.direct('phases.start', {})
  match.advanceTo(match.now + 3000)
  expect(ask('teams.group', { seats: ['heron', 'newt'] })).toMatchObject({ code: 'not-now' })
})

test.each([
  ['stays', { ok: true }],
  ['safe', { code: 'target-absent' }],
] as const)('VI33: a body of an absent seat that %s', (absentBody, ruling) => {
  const { ask, say } = atTheFair({ vitals: { absentBody } })
  ask('roster.absent', { seat: 'vole' })
  expect(say('moves.hit', { target: 'vole', by: 'otter' })).toMatchObject(ruling)
  ask('roster.join', { seat: 'vole', name: 'Vole' })
  expect(say('moves.hit', { target: 'vole', by: 'otter' })).toMatchObject({ ok: true })
})

test.each([
  ['everyone', 'heron', 1],
  ['nobody', undefined, undefined],
  ['owner', undefined, undefined],
] as const)('CR20: with the feed seen by %s, a spectator is told of %s', (feedSeen, killer, known) => {
  const book = defineRulebook({ name: 'feed', seats, rules: [...base, credit({ feedSeen })] })
  const { match } = playMatch(book, FOUR)
  for (const viewer of ['spectator', 'otter']) match.addViewer(viewer)
  match.flush()
  match.report('moves.hit', { target: 'otter', by: 'heron', amount: 100 })
  const told = match
    .flush()
    .map(({ viewer, notices }) => [
      viewer,
      notices.find(({ name }) => name === 'credit.given')?.cells['killer'],
    ])
  expect(Object.fromEntries(told)).toEqual({
    spectator: killer,
    otter: feedSeen === 'nobody' ? undefined : 'heron',
  })
  const kills = (viewer: string) => match.view(viewer).credit.tally['heron']?.kills
  expect(kills('spectator')).toBe(known)
  expect(kills('heron')).toBe(feedSeen === 'nobody' ? undefined : 1)
})
