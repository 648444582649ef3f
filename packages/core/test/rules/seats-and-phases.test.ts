import { expect, test } from 'vitest'
import { beginMatch, defineRule, defineRulebook, list, single, text } from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'
import { at, fight, hit, news, skirmish } from '../fixtures/fight-mode.ts'

const lobby = (...seats: string[]) => playMatch(skirmish, seats, { start: false }).match
const join = (
  match: ReturnType<typeof lobby>,
  seat: string,
  how: { name?: string; player?: string; bot?: boolean } = {},
) => match.direct('roster.join', { seat, name: how.name ?? seat, ...how })

test('RO1: a player who is here already gets the same seat again, and nothing is reset', () => {
  const { match } = fight()
  match.addViewer('spectator')
  hit(match, 'otter', 'heron')
  expect(join(match, 'another-id', { player: 'otter' })).toEqual({ ok: true })
  expect(match.seats).toEqual(['otter', 'heron', 'vole'])
  expect(match.state.vitals.body.of('otter').health).toBe(75)
  expect(news(match, 'roster.returned')).toEqual([]) // it was never away
  match.direct('roster.absent', { seat: 'otter' })
  join(match, 'otter')
  expect(news(match, 'roster.returned')).toHaveLength(1)
})

test('RO2: two seats may have the same name; ids differ', () => {
  const match = lobby()
  expect([join(match, 'a', { name: 'Otter' }), join(match, 'b', { name: 'Otter' })]).toEqual([
    { ok: true },
    { ok: true },
  ])
  expect(Object.values(match.view('spectator').roster.seats).map(({ name }) => name)).toEqual([
    'Otter',
    'Otter',
  ])
})

test.each([
  ['', 'empty'],
  ['   ', 'only spaces'],
  ['ab\u0007c', 'a control character'],
  ['x'.repeat(25), 'too long'],
])('RO3: the name %j is refused', (name) => {
  const match = lobby()
  expect(join(match, 'a', { name })).toMatchObject({ ok: false, code: 'bad-name' })
  expect(match.seats).toEqual([])
})

test('RO3: a name is trimmed and composed', () => {
  const match = lobby()
  join(match, 'a', { name: '  Zoe\u0308 ' })
  expect(match.state.roster.seats.of('a').name).toBe('Zo\u00eb')
})

test('RO4: a full match refuses; but the lowest bot hands its seat over, and only player and name change', () => {
  const match = lobby('otter')
  for (const bot of ['b1', 'b2', 'b3']) join(match, bot, { bot: true })
  expect(join(match, 'b4', { bot: true })).toMatchObject({ ok: false, code: 'match-full' })
  const before = match.view('spectator').roster.seats['b1']
  expect(join(match, 'heron', { name: 'Heron' })).toEqual({ ok: true })
  expect(match.view('spectator').roster.seats['b1']).toEqual({
    ...before,
    name: 'Heron',
    bot: false,
    ready: false,
  })
  for (const player of ['newt', 'coot']) join(match, player)
  expect(join(match, 'pike')).toMatchObject({ ok: false, code: 'match-full' })
})

test('RO5: who joins in live play gets a seat and a life at once', () => {
  const { match } = fight()
  expect(join(match, 'newt')).toEqual({ ok: true })
  expect(match.view('newt').vitals.body['newt']?.health).toBe(100)
  expect(match.state.vitals.lives.of('newt').life).toBe(1)
  expect(match.submit('newt', 'moves.wave', {})).toEqual({ ok: true })
})

test('RO13: when everyone leaves in live, the verdict is none in the step of the last leave', () => {
  const { match } = fight({}, ['otter', 'heron'])
  match.reportAll('moves.hit', [])
  match.submit('otter', 'roster.leave', {})
  expect(match.state.verdict.end).toMatchObject({ kind: 'win', winners: ['heron'], reason: 'forfeit' })
  const alone = playMatch(skirmish, ['otter', 'heron'])
  for (const seat of ['otter', 'heron']) alone.match.direct('roster.absent', { seat })
  alone.match.advanceTo(63_000)
  expect(alone.match.state.verdict.end).toMatchObject({ kind: 'win', reason: 'forfeit' })
})

test('an absent seat acts again only when it is back, and leaves when its grace is over', () => {
  const { match } = fight()
  match.direct('roster.absent', { seat: 'otter' })
  expect(match.submit('otter', 'moves.wave', {})).toMatchObject({ code: 'absent' })
  join(match, 'otter')
  expect(match.submit('otter', 'moves.wave', {})).toEqual({ ok: true })
  match.direct('roster.absent', { seat: 'otter' })
  match.advanceTo(match.now + 60_000)
  expect(match.state.roster.seats.of('otter').presence).toBe('left')
  expect(match.submit('otter', 'moves.wave', {})).toEqual({
    ok: false,
    code: 'left',
    details: { seat: 'otter' },
  })
  expect(match.direct('roster.join', { seat: 'otter', name: 'Other', player: 'p2' })).toMatchObject({
    code: 'seat-taken',
    details: { seat: 'otter' },
  })
})

test('PH1: a second start is refused; one countdown only', () => {
  const match = lobby('otter', 'heron')
  expect(match.direct('phases.start', {})).toEqual({ ok: true })
  expect(match.direct('phases.start', {})).toMatchObject({ code: 'already-starting' })
  match.advanceTo(3000)
  expect(match.direct('phases.start', {})).toMatchObject({ code: 'already-started' })
  expect(match.state.phases.now).toMatchObject({ phase: 'live', bout: 1 })
})

test('PH2: a start with too few is refused and says how many are needed', () => {
  expect(lobby('otter').direct('phases.start', {})).toMatchObject({ code: 'too-few', details: { needed: 2 } })
})

test('PH3: it starts by itself when all here are ready, and not before', () => {
  const match = lobby('otter', 'heron', 'vole')
  for (const seat of ['otter', 'heron'] as const) match.submit(seat, 'roster.ready', {})
  expect(match.state.phases.now.phase).toBe('lobby')
  match.submit('vole', 'roster.ready', {})
  expect(match.state.phases.now).toMatchObject({ phase: 'countdown', until: 3000 })
  const part = playMatch(skirmish, ['otter', 'heron', 'vole'], {
    start: false,
    settings: { phases: { readyShare: 0.6 } },
  }).match
  for (const seat of ['otter', 'heron'] as const) part.submit(seat, 'roster.ready', {})
  expect(part.state.phases.now.phase).toBe('countdown')
})

test('PH5: a countdown with too few left is cancelled at once and begins again only when enough are ready again', () => {
  const match = lobby('otter', 'heron')
  for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
  match.advanceTo(1000)
  match.submit('heron', 'roster.leave', {})
  expect(match.state.phases.now).toMatchObject({ phase: 'lobby', until: undefined })
  expect(match.seats).toEqual(['otter'])
  expect(match.state.roster.seats.of('otter').ready).toBe(true)
  match.advanceTo(10_000)
  expect(match.state.phases.now.phase).toBe('lobby')
  join(match, 'vole')
  match.submit('vole', 'roster.ready', {})
  expect(match.state.phases.now).toMatchObject({ phase: 'countdown', until: 13_000 })
})

test('PH4, PH5, PH9: a paused countdown that ends early leaves no pause behind, and the next one counts down', () => {
  const ends: ((match: ReturnType<typeof lobby>) => void)[] = [
    (match) => match.submit('heron', 'roster.leave', {}),
    (match) => match.submit('heron', 'roster.unready', {}),
    (match) => match.direct('phases.cancel', {}),
  ]
  for (const end of ends) {
    const match = lobby('otter', 'heron')
    for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
    match.advanceTo(1000)
    match.direct('phases.pause', {})
    end(match)
    expect(match.state.phases.now).toMatchObject({ phase: 'lobby', paused: false })
    match.direct('roster.join', { seat: 'heron', name: 'Heron' })
    for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
    match.advanceTo(60_000)
    expect(match.state.phases.now.phase).toBe('live')
  }
})

test('PH10: a countdown of 0 is live before the next input of the same ms, and both changes are told', () => {
  const match = beginMatch(skirmish, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
  match.addViewer('spectator')
  for (const seat of ['otter', 'heron']) join(match, seat)
  for (const seat of ['otter', 'heron']) match.submit(seat, 'roster.ready', {})
  expect(match.submit('otter', 'moves.wave', {})).toEqual({ ok: true })
  expect(match.now).toBe(0)
  expect(news(match, 'phases.changed').map(({ to }) => to)).toEqual(['countdown', 'live'])
})

test('a pause holds play time: what remains of a round and of a respawn stays', () => {
  const { match } = fight()
  hit(match, 'otter', 'heron', 100)
  at(match, 1000)
  expect(match.direct('phases.pause', {}, { referee: 'Heron' })).toEqual({ ok: true })
  expect(match.direct('phases.pause', {})).toMatchObject({ code: 'already-paused' })
  expect(hit(match, 'vole', 'heron')).toMatchObject({ code: 'paused' })
  match.advanceTo(100_000)
  expect(match.state.vitals.body.of('otter').down).toBe(true)
  match.direct('phases.resume', {})
  match.advanceTo(101_999)
  expect(match.state.vitals.body.of('otter').down).toBe(true)
  match.advanceTo(102_000)
  expect(match.state.vitals.body.of('otter').down).toBe(false)
  expect(match.direct('phases.resume', {})).toMatchObject({ code: 'not-paused' })
})

test('RD1, RD2, RD3: a round is extended while it runs, shortened to now, and never reopened', () => {
  const { match } = fight()
  expect(match.direct('rounds.extend', { by: 30_000 })).toEqual({ ok: true })
  expect(match.view('otter').rounds.now.ends).toBe(330_000)
  at(match, 300_000)
  expect(match.state.phases.now.phase).toBe('live')
  match.direct('rounds.extend', { by: -60_000 })
  expect(hit(match, 'otter', 'heron')).toMatchObject({ code: 'over' })
  expect(match.now).toBe(303_000)
  expect(match.direct('rounds.extend', { by: 1 })).toMatchObject({ code: 'round-over' })
})

test('RD14: a rematch begins when all who are here want it, bots going along; scores and lives begin again', () => {
  const { match } = fight()
  match.report('moves.earn', { seat: 'otter', amount: 5 })
  at(match, 300_000)
  match.direct('roster.absent', { seat: 'vole' })
  match.direct('roster.join', { seat: 'newt', name: 'Newt', bot: true })
  match.submit('otter', 'rounds.rematch', {})
  expect(match.state.phases.now.phase).toBe('over')
  match.submit('heron', 'rounds.rematch', {})
  expect(match.state.phases.now.phase).toBe('countdown')
  match.advanceTo(match.now + 3000)
  expect(match.state.phases.now).toMatchObject({ phase: 'live', bout: 2 })
  expect(match.state.scores.sums.of('otter').score).toBe(0)
  expect(match.state.verdict.end.kind).toBeUndefined()
  expect(match.state.vitals.lives.of('otter').life).toBe(1)
})

test('match.seats is the same for a rule and from outside: who has left is only among allSeats', () => {
  const counting = defineRule({
    name: 'counting',
    state: { seen: single({ seats: list(text(), []) }) },
    facts: {
      count: {
        input: {},
        handle(match) {
          match.own.seen.seats = match.seats
        },
      },
    },
  })
  const { match } = playMatch(
    defineRulebook({ name: 'count', seats: { min: 2, max: 3 }, rules: [counting] }),
    ['otter', 'heron', 'vole'],
  )
  match.submit('heron', 'roster.leave', {})
  match.report('counting.count', {})
  expect(match.seats).toEqual(['otter', 'vole'])
  expect(match.state.counting.seen.seats).toEqual(match.seats)
  expect(match.allSeats).toEqual(['otter', 'heron', 'vole'])
})
