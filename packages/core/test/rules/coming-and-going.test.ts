import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRulebook, minutes } from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'
import { book, crews, inTheYard, rules, seats } from '../fixtures/yard-mode.ts'

test('RO7: who left comes back in the same round to all it had, and no better', () => {
  const { match, at, hit, earn, leave, join, body, row } = inTheYard()
  earn('otter')
  hit('otter', 30)
  at(1000)
  leave('otter')
  expect(join('another', 'otter')).toEqual({ ok: true })
  expect(match.seats).toEqual(['otter', 'heron', 'vole'])
  expect([row('otter')?.presence, body('otter').health, match.state.scores.sums.of('otter').score]).toEqual([
    'here',
    70,
    1,
  ])
  expect(match.state.vitals.lives.of('otter').life).toBe(1)
  expect(match.submit('otter', 'moves.wave', {}, { life: 1 })).toEqual({ ok: true })
})

test('RO7: down when it left, it waits again, without a further life; in a later round it begins a life as all did', () => {
  const { match, at, hit, leave, join, body } = inTheYard()
  const left = () => match.view('spectator').respawn.lives['otter']?.left
  hit('otter', 100)
  at(2000)
  leave('otter')
  at(10_000)
  join('otter')
  expect([body('otter').down, left(), match.view('spectator').respawn.back['otter']?.due]).toEqual([
    true,
    4,
    13_000,
  ])
  at(13_000)
  expect([body('otter').down, left()]).toEqual([false, 4])
  hit('otter', 60)
  leave('otter')
  at(minutes(1) + 7000)
  join('otter')
  expect([body('otter').health, left()]).toEqual([100, 4])
})

test('RO7, RO8: not where the mode says so, not without room; with a team that is full now it stays in its own', () => {
  const never = inTheYard({ roster: { comeback: 'no' } })
  never.leave('otter')
  expect(never.join('otter')).toMatchObject({ code: 'left' })
  const full = inTheYard()
  full.leave('otter')
  for (const seat of ['newt', 'coot']) full.join(seat)
  expect(full.join('otter')).toMatchObject({ code: 'match-full' })
  const { leave, join, team } = inTheYard({}, crews)
  leave('heron')
  join('newt')
  expect(team('newt')).toBe(1)
  join('heron')
  expect(team('heron')).toBe(1)
})

test('RO9: a return at the very end of the grace is too late: left first, then back as one who had left', () => {
  const { match, at, join } = inTheYard()
  match.addViewer('spectator')
  match.direct('roster.absent', { seat: 'otter' })
  at(60_000)
  match.flush()
  const before = match.now
  match.direct('roster.absent', { seat: 'heron' })
  match.advanceTo(before + 60_000)
  match.flush()
  join('heron')
  expect(match.flush().flatMap(({ notices }) => notices.map(({ name }) => name))).toEqual([
    'roster.came-back',
  ])
})

test('who is sent off is told why, nobody else; it may not come back in this match, or bout, or at all as the mode says', () => {
  const { match, kick, join } = inTheYard()
  for (const viewer of ['otter', 'heron']) match.addViewer(viewer)
  expect(kick('otter', 'otter')).toMatchObject({ code: 'bad-input' }) // RO11
  match.flush()
  kick('otter')
  const told = match
    .flush()
    .flatMap(({ viewer, notices }) => notices.map(({ name, cells }) => [viewer, name, cells['why']]))
  expect(told.filter(([, name]) => name !== 'roster.joined')).toEqual(
    expect.arrayContaining([
      ['otter', 'roster.kicked', 'splashing'],
      ['heron', 'roster.left', 'kicked'],
    ]),
  )
  expect(told.filter(([viewer, , why]) => viewer === 'heron' && why === 'splashing')).toEqual([])
  expect(kick('otter')).toMatchObject({ code: 'left' })
  expect(join('otter')).toMatchObject({ code: 'barred' })
  const mild = inTheYard({ roster: { barFor: 'none' } })
  mild.kick('otter')
  expect(mild.join('otter')).toEqual({ ok: true })
})

test('RO5: late joiners can be refused', () => {
  expect(inTheYard({ roster: { lateJoin: 'refuse' } }).join('newt')).toMatchObject({ code: 'late' })
})

test('a bot takes over the whole seat of who leaves in play, and hands it back when its player joins again', () => {
  const { match, earn, leave, join, hit, body, row } = inTheYard({ roster: { botsFill: true } })
  earn('otter')
  hit('otter', 30)
  leave('otter')
  expect([row('otter'), body('otter').health, match.seats]).toEqual([
    expect.objectContaining({ bot: true, presence: 'here' }),
    70,
    ['otter', 'heron', 'vole'],
  ])
  expect(match.submit('otter', 'moves.wave', {})).toEqual({ ok: true })
  join('x', 'otter')
  expect([row('otter')?.bot, body('otter').health, match.state.scores.sums.of('otter').score]).toEqual([
    false,
    70,
    1,
  ])
  match.direct('roster.absent', { seat: 'heron' })
  match.advanceTo(match.now + 60_000)
  expect(row('heron')).toMatchObject({ bot: true, presence: 'here' })
})

test('RO15: ready marks clear when a setting is changed before play, or stay', () => {
  const lobby = (given: object) => {
    const { match } = playMatch(book, ['otter', 'heron'], { start: false, settings: { roster: given } })
    match.submit('otter', 'roster.ready', {})
    match.direct('match.set', { rule: 'vitals', settings: { max: 80 } })
    return match.view('spectator').roster.seats['otter']?.ready
  }
  expect([lobby({}), lobby({ readyAfterChange: 'keep' })]).toEqual([false, true])
})

test('PH4, PH8: who un-readies in the countdown stops it, other marks stay; at its end it is too late', () => {
  const { match } = playMatch(book, ['otter', 'heron'], { start: false })
  for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
  match.advanceTo(2999)
  match.submit('otter', 'roster.unready', {})
  expect([match.state.phases.now.phase, match.state.roster.seats.of('heron').ready]).toEqual(['lobby', true])
  match.submit('otter', 'roster.ready', {})
  match.advanceTo(2999 + 3000)
  expect(match.submit('otter', 'roster.unready', {})).toMatchObject({ code: 'already-started' })
})

test('PH15: the authority abandons a bout in any phase, or stops a countdown', () => {
  const { match } = inTheYard()
  expect(match.direct('phases.cancel', {})).toMatchObject({ code: 'already-started' })
  expect(match.direct('phases.abandon', {})).toEqual({ ok: true })
  expect(match.view('spectator').verdict.end).toMatchObject({
    kind: 'none',
    reason: 'abandoned',
    winners: [],
  })
  expect(match.direct('phases.abandon', {})).toMatchObject({ code: 'over' })
  const early = playMatch(book, ['otter', 'heron'], { start: false }).match
  expect(early.direct('phases.cancel', {})).toMatchObject({ code: 'not-started' })
  for (const seat of early.seats) early.submit(seat, 'roster.ready', {})
  expect(early.direct('phases.cancel', {})).toEqual({ ok: true })
  expect(early.state.phases.now.phase).toBe('lobby')
  early.direct('phases.start', {})
  early.direct('phases.abandon', {})
  early.advanceTo(10_000)
  expect(early.view('spectator').verdict.end).toMatchObject({ kind: 'none', reason: 'abandoned' })
})

test('law d: leaving and coming back never makes better off, and laws b, c hold', () => {
  const deed = fc.record({
    what: fc.constantFrom('hit', 'earn', 'leave', 'join', 'absent'),
    seat: fc.constantFrom('otter', 'heron', 'vole', 'newt'),
    amount: fc.integer({ min: 1, max: 120 }),
    wait: fc.integer({ min: 0, max: 4000 }),
  })
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 30 }), (deeds) => {
      const { match, hit, earn, leave, join, body } = inTheYard({}, book, ['otter', 'heron', 'vole', 'newt'])
      const numbers = () => match.state.roster.seats
      const order = match.seats.map((seat) => numbers().of(seat).number)
      const at = (seat: string) => ({
        score: match.state.scores.sums.of(seat).score,
        health: body(seat).health,
        left: match.state.respawn.lives.of(seat).left ?? 0,
      })
      for (const { what, seat, amount, wait } of deeds) {
        match.advanceTo(match.now + wait)
        if (what === 'hit') hit(seat, amount)
        if (what === 'earn') earn(seat)
        if (what === 'absent') match.direct('roster.absent', { seat })
        if (what === 'leave' && match.seats.length > 2) {
          const before = at(seat)
          if (!leave(seat).ok) continue
          join(seat)
          expect(at(seat)).toEqual(before)
        }
        if (what === 'join') join(seat)
        expect(['otter', 'heron', 'vole', 'newt'].map((each) => numbers().of(each).number)).toEqual(order)
      }
      expect(match.faults).toEqual([])
    }),
    { numRuns: 60 },
  )
})

test('RO11: who is sent off is told why, wherever the match stands; whoever gets its id later is told nothing of it', () => {
  for (const start of [false, true]) {
    const { match } = playMatch(defineRulebook({ name: 'yard', seats, rules }), ['otter', 'heron', 'vole'], {
      start,
    })
    match.addViewer('heron')
    match.flush()
    match.direct('roster.kick', { seat: 'heron', why: 'splashing' })
    if (!start) match.direct('roster.join', { seat: 'heron', name: 'Another', player: 'another' })
    const told = match.flush().filter(({ viewer }) => viewer === 'heron')
    expect(told.flatMap(({ notices }) => notices.map(({ name }) => name))).toContain('roster.kicked')
    if (start) continue
    expect(match.addViewer('heron').notices.filter(({ name }) => name === 'roster.kicked')).toEqual([])
    expect(match.flush().filter(({ viewer }) => viewer === 'heron')).toEqual([])
  }
})
