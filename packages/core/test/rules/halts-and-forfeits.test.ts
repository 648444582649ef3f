import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, list, maybe, minutes, seatRef } from 'zinc-referee'
import {
  mostAtTime,
  mostRounds,
  phases,
  rounds,
  scores,
  surrender,
  teams,
  turnStep,
  turns,
  verdict,
  vitals,
  zones,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const SEATS = ['otter', 'heron', 'vole', 'newt']
const act = turnStep('act')

/** Calls of the rules that no input of theirs makes. */
const pier = defineRule({
  name: 'pier',
  needs: [vitals, zones, phases, turns],
  actions: { stay: { when: act, input: {}, decide() {} } },
  facts: {
    volley: {
      input: { targets: list(seatRef()) },
      handle(match, { targets }) {
        match.use(vitals).hurtAll(targets.map((target) => ({ target, amount: 100 })))
      },
    },
    expose: {
      input: { seat: seatRef() },
      handle: (match, { seat }) => match.use(vitals).endProtection(seat),
    },
    freeze: {
      input: { ms: maybe(int()) },
      handle: (match, { ms }) => match.use(phases).freeze('whistle', ms),
    },
  },
  on: { 'phases.live-began': (match) => match.use(turns).arrange(['vole', 'otter']) },
})
const rules = [
  rounds({ length: minutes(2), count: 2 }),
  scores,
  vitals,
  zones({ names: ['bell'], needed: 1000, scoreEvery: 1000 }),
  turns({ steps: [act] }),
  moves,
  pier,
  verdict({ when: [surrender, mostAtTime.decides('round'), mostRounds] }),
] as const
const alone = defineRulebook({ name: 'pier', seats: { min: 2, max: 4 }, rules })
const crews = defineRulebook({
  name: 'crews',
  seats: { min: 2, max: 4 },
  rules: [...rules, teams({ count: 2 })],
})

function onThePier(settings: object = {}, seats = SEATS, of: typeof alone | typeof crews = alone) {
  const { match, replay } = playMatch(of as typeof alone, seats, { settings })
  const start = match.now
  return {
    match,
    replay,
    at: (ms: number) => match.advanceTo(start + ms),
    leave: (seat: string) => match.submit(seat, 'roster.leave', {}),
    join: (seat: string, name = seat) => match.direct('roster.join', { seat, name }),
    now: () => match.view('spectator').phases.now,
    end: () => match.view('spectator').verdict.end,
    body: (seat: string) => match.state.vitals.body.of(seat),
  }
}

test('PH16: how long a freeze lasts is in the view, unless a rule ends it', () => {
  const { match, at, now } = onThePier()
  match.report('pier.freeze', { ms: 2000 })
  const { thaws } = now()
  at(500)
  expect([now().frozen, thaws]).toEqual([true, match.now - 500 + 2000])
  at(2000)
  expect([now().frozen, now().thaws]).toEqual([false, null])
  match.report('pier.freeze', {})
  expect([now().frozen, now().thaws]).toEqual([true, null])
})

test('PH17: a seat takes its pauses, each for its time at most, and only it or the referee ends one before', () => {
  const { match, at, now, leave, replay } = onThePier({ phases: { seatPauses: 1, pauseFor: 5000 } })
  const take = (seat: string) => match.submit(seat, 'phases.take-pause', {})
  const stop = (seat: string) => match.submit(seat, 'phases.end-pause', {})
  const code = (ruling: ReturnType<typeof take> | ReturnType<typeof stop>) => (ruling.ok ? 'ok' : ruling.code)
  expect(code(take('otter'))).toBe('ok')
  expect(now()).toMatchObject({ paused: true, pausedBy: 'otter', pauses: { otter: 1 } })
  expect([code(take('heron')), code(stop('heron'))]).toEqual(['already-paused', 'not-paused'])
  at(4999)
  expect(now().paused).toBe(true)
  at(5000)
  expect(now()).toMatchObject({ paused: false, pausedBy: null, pausedUntil: null })
  expect(code(take('otter'))).toBe('no-pause-left')
  take('heron')
  expect([code(stop('heron')), now().paused]).toEqual(['ok', false])
  take('vole')
  match.direct('phases.resume', {})
  take('newt')
  at(9000)
  leave('newt')
  expect(now()).toMatchObject({ paused: true, pausedBy: 'newt' })
  match.direct('phases.abandon', {})
  at(20_000)
  expect(now()).toMatchObject({ phase: 'over', paused: false, pausedBy: null })
  expect([match.faults, replay().differs]).toEqual([[], undefined])
})

test('VE20: the last side waits before it wins by forfeit; whoever is back in time ends the wait', () => {
  const { at, leave, join, end } = onThePier({ verdict: { forfeitAfter: 3000 } }, ['otter', 'heron'])
  leave('heron')
  at(2999)
  expect(end().kind).toBeNull()
  join('heron')
  at(10_000)
  leave('heron')
  at(12_999)
  expect(end().kind).toBeNull()
  at(13_000)
  expect(end()).toMatchObject({ kind: 'win', winners: ['otter'], reason: 'forfeit' })
})

test('VE21: a bout that is forfeited before it has been played long enough does not count', () => {
  const kinds = [4999, 5000].map((ms) => {
    const { at, leave, end } = onThePier({ verdict: { tooShort: 5000 } }, ['otter', 'heron'])
    at(ms)
    leave('heron')
    return [end().kind, end().reason]
  })
  expect(kinds).toEqual([
    ['none', 'too-short'],
    ['win', 'forfeit'],
  ])
})

test('VE22: a side gives up when enough of it have asked to', () => {
  const { match, end } = onThePier({ verdict: { giveUpShare: 0.5 } }, SEATS, crews)
  const team = (seat: string) => (match.view('spectator') as any).teams.side[seat].team
  const [first = ''] = SEATS.filter((seat) => team(seat) === 0)
  match.submit(first, 'verdict.surrender', {})
  expect(end()).toMatchObject({ kind: 'win', reason: 'surrender' })
})

test('TM12: with emptyTeam go-on, play goes on against an empty team', () => {
  const { match, leave, end } = onThePier({ teams: { emptyTeam: 'go-on' } } as object, SEATS, crews)
  const team = (seat: string) => (match.view('spectator') as any).teams.side[seat].team
  for (const seat of SEATS.filter((each) => team(each) === 0)) leave(seat)
  expect(end().kind).toBeNull()
})

test('VI29, VI30: blows of a list fall together; protection ends when a rule says so', () => {
  const { match, body } = onThePier()
  match.report('pier.volley', { targets: ['otter', 'heron'] })
  expect(['otter', 'heron', 'vole'].map((seat) => body(seat).down)).toEqual([true, true, false])
  match.report('moves.shield', { seat: 'vole', ms: 9000 })
  match.report('moves.hit', { target: 'vole', by: 'newt', amount: 10 })
  expect(body('vole').health).toBe(100)
  match.report('pier.expose', { seat: 'vole' })
  match.report('moves.hit', { target: 'vole', by: 'newt', amount: 10 })
  expect([body('vole').health, match.view('otter').vitals.body['vole']?.protectedUntil]).toEqual([90, null])
})

test('VI31: health and shield come back by their own amount and interval', () => {
  const { match, at, body } = onThePier({
    vitals: {
      shield: 20,
      shieldRate: 5,
      shieldEvery: 200,
      shieldDelay: 1000,
      regenRate: 3,
      regenEvery: 500,
      regenDelay: 1000,
    },
  })
  match.report('moves.hit', { target: 'otter', amount: 40 })
  at(999)
  expect([body('otter').health, body('otter').shield]).toEqual([80, 0])
  at(1600)
  expect([body('otter').health, body('otter').shield]).toEqual([86, 20])
})

test('TU38, TU39: an order that is arranged before the first cycle; a round that ends when all have passed', () => {
  const { match } = onThePier({ turns: { allPass: 'end-round' } })
  const seats: unknown[] = []
  for (let n = 0; n < 4; n++) {
    const { seat } = match.view('spectator').turns.now
    seats.push(seat)
    match.submit(seat ?? '', 'turns.pass', {})
  }
  expect(seats).toEqual(['vole', 'otter', 'heron', 'newt'])
  match.advanceTo(match.now + 1)
  expect(match.view('spectator').rounds.now.round).toBe(2)
})

test('RD22: the referee begins the next bout, and nothing before this one is over', () => {
  const { match, now } = onThePier()
  expect(match.direct('rounds.again', {})).toMatchObject({ code: 'not-over' })
  match.direct('phases.abandon', {})
  expect(match.direct('rounds.again', {})).toEqual({ ok: true })
  expect(now().phase).toBe('countdown')
})

test('RO18: who gives no name gets the lowest free number', () => {
  const { match, leave, join } = onThePier({ roster: { nameless: 'Guest' } }, ['otter', 'heron'])
  const name = (seat: string) => match.view('spectator').roster.seats[seat]?.name
  join('vole', ' ')
  join('newt', '')
  expect([name('vole'), name('newt')]).toEqual(['Guest 1', 'Guest 2'])
  leave('vole')
  join('coot', '')
  expect(name('coot')).toBe('Guest 3')
  expect(onThePier({}, ['otter', 'heron']).join('vole', '')).toMatchObject({ code: 'bad-name' })
})

test('ZO16: with contestedScores false, an owner gets nothing while its zone is contested', () => {
  const points = [true, false].map((contestedScores) => {
    const { match, at } = onThePier({ zones: { contestedScores } })
    match.report('zones.enter', { seat: 'otter', zone: 'bell' })
    at(2500)
    match.report('zones.enter', { seat: 'heron', zone: 'bell' })
    at(4500)
    return match.state.scores.sums.of('otter').score
  })
  expect(points).toEqual([3, 1])
})
