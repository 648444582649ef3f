import fc from 'fast-check'
import { expect, test } from 'vitest'
import { minutes } from 'zinc-referee'
import { lastStanding, mostAtTime, parity, rolesOf, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { book, bookWith, brewing, camps, SEATS } from '../fixtures/brew-mode.ts'

test('law a: the roles dealt are those of the table, whatever the number of seats', () => {
  const dealt = (count: number) => {
    const { match } = brewing({}, [...SEATS, 'moth', 'pike'].slice(0, count))
    return match.view('spectator').roles.table.counts
  }
  expect([4, 5, 6].map(dealt)).toEqual([
    { brewer: 3, taster: 1 },
    { brewer: 3, spoiler: 1, taster: 1 },
    { brewer: 3, spoiler: 2, taster: 1 },
  ])
})

test('a role is seen by its owner and, where it says so, by its camp; nobody sees one before it is dealt', () => {
  const { role, holders, match } = brewing()
  const [one, other] = holders('spoiler')
  const [brewer] = holders('brewer')
  expect([role(one, other), role(one, one), role(one, brewer), role(one, 'spectator')]).toEqual([
    'spoiler',
    'spoiler',
    undefined,
    undefined,
  ])
  expect(role(brewer, one)).toBeUndefined()
  const lobby = playMatch(book, SEATS, { start: false }).match as any
  expect(lobby.view('otter').roles.seats).toEqual({})
  expect(match.faults).toEqual([])
})

test('RL1: with too few seats the start is refused, with the counts; nothing is cut in silence', () => {
  const many = rolesOf({ brewer: {}, spoiler: { count: 3 } })
  const { match } = playMatch(bookWith(verdict({ when: [mostAtTime] }), many), ['otter', 'heron'], {
    start: false,
  }) as any
  expect(match.direct('phases.start', {})).toMatchObject({
    code: 'bad-counts',
    details: { seats: 2, roles: 3 },
  })
  match.direct('roster.join', { seat: 'vole', name: 'Vole' })
  expect(match.direct('phases.start', {})).toEqual({ ok: true })
  match.submit('vole', 'roster.leave', {})
  expect(match.view('otter').phases.now.phase).toBe('lobby')
})

test('RL2: special roles go to those who had them least, over rounds and rematches', () => {
  const fair = rolesOf({ brewer: {}, spoiler: { count: 1 } })
  const of = bookWith(verdict({ when: [mostAtTime, lastStanding] }), fair)
  const seats = SEATS.slice(0, 3)
  const { match, holders } = brewing({ assign: 'fewest-before' }, seats, of)
  const had: string[] = []
  for (let bout = 0; bout < 6; bout++) {
    had.push(...holders('spoiler'))
    match.advanceTo(match.now + minutes(1))
    for (const seat of seats) match.submit(seat, 'rounds.rematch', {})
    match.advanceTo(match.now + 3000)
  }
  for (const seat of seats) expect(had.filter((each) => each === seat).length).toBe(2)
})

test('RL3: a late joiner is plain, and the counts tell nothing of it', () => {
  const { match, role } = brewing()
  const counts = match.view('otter').roles.table.counts
  match.direct('roster.join', { seat: 'moth', name: 'Moth' })
  expect([role('moth'), role('moth', 'otter'), match.view('otter').roles.table.counts]).toEqual([
    'brewer',
    undefined,
    counts,
  ])
})

test('RL4, RL5: a swap tells both owners and nobody else; who was a mate before sees it no more', () => {
  const { match, role, holders } = brewing()
  const [one, mate] = holders('spoiler')
  const [brewer, third] = holders('brewer')
  for (const viewer of [one, mate, brewer, third, 'spectator']) match.addViewer(viewer)
  match.flush()
  match.report('brew.swap', { one, other: brewer })
  const told = match.flush()
  expect(told.map((update: any) => update.viewer).sort()).toEqual([one, mate, brewer].sort())
  const notices = told.flatMap((update: any) =>
    update.notices.map(({ name, cells }: any) => [update.viewer, name, cells.role]),
  )
  expect(notices).toEqual(
    expect.arrayContaining([
      [one, 'roles.swapped', 'brewer'],
      [brewer, 'roles.swapped', 'spoiler'],
    ]),
  )
  expect(notices).toHaveLength(2)
  expect([role(one, mate), role(brewer, mate), role(mate, one), role(mate, brewer)]).toEqual([
    undefined,
    'spoiler',
    undefined,
    'spoiler',
  ])
})

test('RL6: swaps act in their order, each on what the one before has left', () => {
  const { match, role } = brewing()
  const before = Object.fromEntries(SEATS.map((seat) => [seat, role(seat)]))
  match.reportAll('brew.swap', [
    { one: 'otter', other: 'heron' },
    { one: 'heron', other: 'vole' },
  ])
  expect([role('otter'), role('heron'), role('vole')]).toEqual([
    before['heron'],
    before['vole'],
    before['otter'],
  ])
})

test("RL7: what only another role may do is not one's own", () => {
  const { match, holders } = brewing()
  const [spoiler] = holders('spoiler')
  const [brewer] = holders('brewer')
  expect(match.submit(spoiler, 'brew.sour', {})).toEqual({ ok: true })
  expect(match.submit(brewer, 'brew.sour', {})).toEqual({ ok: false, code: 'not-yours' })
  expect([spoiler, brewer].map((seat) => match.options(seat, 'brew.sour'))).toEqual([[{}], []])
})

test.each([
  ['out', { revealOnOut: true }, (match: any, seat: string) => match.report('moves.out', { seat }), true],
  ['out', {}, (match: any, seat: string) => match.report('moves.out', { seat }), false],
  [
    'leaving',
    { revealOnLeave: true },
    (match: any, seat: string) => match.submit(seat, 'roster.leave', {}),
    true,
  ],
  ['leaving', {}, (match: any, seat: string) => match.submit(seat, 'roster.leave', {}), false],
  ['the end', {}, (match: any) => match.advanceTo(match.now + minutes(1)), true],
  ['the end', { revealAtEnd: false }, (match: any) => match.advanceTo(match.now + minutes(1)), false],
] as const)('RL8: at %s with %o', (_what, settings, happens, seen) => {
  const { match, role, holders } = brewing(settings)
  const [brewer] = holders('brewer')
  happens(match, brewer)
  expect(role(brewer, 'spectator')).toBe(seen ? 'brewer' : undefined)
})

test('VE11: the secret camp wins as soon as it is as many as the others; without it the others win', () => {
  const few = brewing()
  const [one, other] = few.holders('spoiler')
  const brewers = few.match.seats.filter((seat: string) => ![one, other].includes(seat))
  few.out(brewers[0])
  expect(few.end().kind).toBeNull()
  few.out(brewers[1])
  expect(few.end()).toMatchObject({
    kind: 'win',
    reason: 'parity',
    winners: few.match.seats.filter((seat: string) => [one, other].includes(seat)),
  })
  const none = brewing()
  const spoilers = none.holders('spoiler')
  const [gone] = none.holders('brewer')
  none.out(gone)
  for (const seat of spoilers) none.out(seat)
  const winners = none.match.seats.filter((seat: string) => !spoilers.includes(seat))
  expect(none.end()).toMatchObject({ kind: 'win', reason: 'parity', winners })
  expect(winners).toContain(gone)
})

test('time up is won by the camp that it says', () => {
  const { match, holders, end } = brewing()
  const spoilers = holders('spoiler')
  match.advanceTo(match.now + minutes(1))
  expect(end()).toMatchObject({ kind: 'win', reason: 'time-up', winners: spoilers })
})

test('by weight: a list goes by how many have it already; roles are dealt again each round where they shall be', () => {
  const pond = rolesOf({ minnow: { weight: 5 }, pike: { weight: [1000, 1000, 0] } })
  const counts = (seed: string) =>
    brewing({}, SEATS, bookWith(verdict({ when: [mostAtTime] }), pond), seed).holders('pike').length
  for (const seed of ['fair-1', 'fair-2', 'fair-3']) expect(counts(seed)).toBe(2)
})

test.each([
  [{ brewer: { count: 1 } }, /all roles have a count/],
  [{ brewer: {}, taster: {} }, /'brewer' and 'taster' have no count/],
  [{ brewer: {}, spoiler: { count: -1 } }, /'count' of 'spoiler'/],
  [{ brewer: {}, spoiler: { count: { 5: 1.5 } } }, /'count' of 'spoiler'/],
  [{ minnow: { weight: 0 }, pike: { weight: [0, 0] } }, /'weight' are 0/],
  [{ minnow: { weight: -1 } }, /'weight' of 'minnow'/],
  [{}, /no role/],
])('kinds that cannot be fail where they are made: %o', (kinds, says) => {
  expect(() => rolesOf(kinds as any)).toThrow(says)
})

test('a verdict by camps wants roles in the rulebook', () => {
  expect(() => bookWith(verdict({ when: camps }))).toThrow(/'verdict' needs 'roles'/)
})

test('law c: each seat is as likely to get each role (chi squared, fixed seeds)', () => {
  const fair = rolesOf({ brewer: {}, spoiler: { count: 1 } })
  const of = bookWith(verdict({ when: [mostAtTime] }), fair)
  const seats = SEATS.slice(0, 4)
  const times = new Map(seats.map((seat) => [seat, 0]))
  for (let run = 0; run < 400; run++) {
    const [spoiler] = brewing({}, seats, of, `fair-${run}`).holders('spoiler')
    times.set(spoiler, (times.get(spoiler) ?? 0) + 1)
  }
  const chi = [...times.values()].reduce((sum, count) => sum + (count - 100) ** 2 / 100, 0)
  expect(chi).toBeLessThan(21.1)
})

test('law b, G3: two unseen roles exchanged change no byte of what a third one gets, before, at or after the exchange', () => {
  const move = fc.record({ what: fc.constantFrom('wait', 'out', 'leave'), at: fc.nat(5) })
  fc.assert(
    fc.property(fc.array(move, { maxLength: 6 }), fc.nat(20), (moves, seed) => {
      const runs = [false, true].map((isExchanged) => {
        const { match, holders } = brewing({}, SEATS, book, `fair-${seed}`)
        const [viewer, brewer] = holders('brewer')
        const [taster] = holders('taster')
        const opened = match.addViewer(viewer).view
        if (isExchanged) match.report('brew.swap', { one: brewer, other: taster })
        const sent = [opened]
        for (const { what, at } of moves) {
          match.advanceTo(match.now + 1000)
          const seat = SEATS[at]
          if (seat === viewer) continue
          if (what === 'out') match.report('moves.out', { seat })
          if (what === 'leave') match.submit(seat, 'roster.leave', {})
          if (match.view(viewer).verdict.end.kind !== null) break
          sent.push(JSON.stringify(match.flush().filter((update: any) => update.viewer === viewer)))
        }
        return sent
      })
      expect(runs[0]).toEqual(runs[1])
    }),
    { numRuns: 40 },
  )
})

test.each([
  ['plain', 'brewer', false],
  ['none', undefined, true],
] as const)(
  'RL12: with lateRole: %s, a late joiner is %s, and counts for parity or not',
  (lateRole, role, isOver) => {
    const duo = rolesOf({ brewer: {}, spoiler: { count: 1 } })
    const of = bookWith(verdict({ when: [parity(duo.camp('spoiler')), mostAtTime] }), duo)
    const { match, holders, role: seen } = brewing({ lateRole }, SEATS.slice(0, 3), of)
    const [brewer] = holders('brewer')
    match.direct('roster.join', { seat: 'egret', name: 'Egret' })
    expect(seen('egret', 'egret')).toBe(role)
    match.submit(brewer, 'roster.leave', {})
    expect(match.state.phases.now.phase === 'over').toBe(isOver)
  },
)
