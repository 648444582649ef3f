import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, minutes, type RuleLike } from 'zinc-referee'
import {
  allDone,
  errands,
  mostAtTime,
  parity,
  rolesOf,
  rounds,
  scores,
  teams,
  verdict,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const SEATS = ['otter', 'heron', 'vole', 'newt']
const secret = rolesOf({ brewer: {}, spoiler: { count: 1 } })
/** Who hurries does twice as much. */
const haste = defineRule({
  name: 'haste',
  needs: [errands],
  amend: {
    'errands.progress'(_, progress) {
      if (progress.seat === 'heron') progress.amount.times(2)
    },
  },
})
const bookWith = (...rules: RuleLike[]) =>
  defineRulebook({
    name: 'cellar',
    seats: { min: 2, max: 8 },
    rules: [rounds({ length: minutes(5), count: 2, breakTime: 5000 }), scores, moves, ...rules],
  } as any) as any
const ends = [allDone, mostAtTime.decides('round'), mostAtTime]
const shared = bookWith(errands, verdict({ when: ends }))
const crews = bookWith(errands, teams, verdict({ when: ends }))
const hasty = bookWith(errands, haste, verdict({ when: ends }))
const pretending = bookWith(
  secret,
  errands({ uncounted: secret.camp('spoiler') }),
  verdict({ when: [allDone.wonBy(secret.camp('brewer')), ...ends, parity(secret.camp('spoiler'), 'more')] }),
)
const kinds = (...names: string[]) => names.map((kind) => ({ kind }))

function cellared(settings: object, of = shared, seats: readonly string[] = SEATS, seed = 'fair-1') {
  const { match } = playMatch(of, seats, { settings: { errands: settings }, seed }) as { match: any }
  const all = () => match.state.errands.rows.all()
  const open = () => all().filter((row: any) => row.closedAt === undefined)
  return {
    match,
    open,
    at: (play: number) => match.advanceTo(3000 + play),
    own: (seat: string) => all().filter((row: any) => row.to === seat),
    work: (seat: string, row: { id: string }, amount = 1) =>
      match.report('errands.progress', { seat, errand: row.id, amount }),
    shown: () => match.view('spectator').errands.shown,
    end: () => match.view('spectator').verdict.end,
  }
}

test('TA1, TA2: progress beyond the need is lost; who comes second at one ms is told that it is done', () => {
  const { open, work, shown, match } = cellared({
    list: [{ kind: 'stave', need: 3 }, { kind: 'hoop' }],
    points: 2,
  })
  const [stave] = open()
  work('otter', stave, 2)
  expect(work('heron', stave, 5)).toEqual({ ok: true })
  expect(work('otter', stave)).toMatchObject({ code: 'errand-done' })
  expect([
    shown(),
    match.state.scores.sums.of('heron').score,
    match.state.scores.sums.of('otter').score,
  ]).toEqual([{ done: 3, of: 4 }, 2, 0])
  expect(match.state.errands.tally.of('heron').done).toBe(1)
})

test('counted for the side: its points are the points of who finished it', () => {
  const { open, work, match } = cellared({ list: kinds('stave', 'hoop', 'bung'), points: 1 }, crews)
  const [stave, hoop] = open()
  work('otter', stave)
  work('vole', hoop)
  expect(match.view('spectator').teams.sums.score).toEqual([2, 0])
})

test('amendments change how much is done', () => {
  const { open, work, shown } = cellared({ list: [{ kind: 'stave', need: 5 }] }, hasty)
  work('heron', open()[0], 2)
  expect(shown()).toEqual({ done: 4, of: 5 })
})

test('TA3: nobody can pretend at errands that are everyone’s: the start says so', () => {
  const { match } = playMatch(pretending, SEATS, { settings: { errands: { list: kinds('stave') } } }) as any
  expect(match.view('otter').phases.now.phase).toBe('lobby')
  expect(match.faults.at(-1)).toMatchObject({
    handler: 'errands setUp',
    error: { code: 'ZR_SETTING_INVALID' },
  })
})

test('TA3: who only pretends gets the same rulings and the same views of its own; the total does not move', () => {
  const { match, own, work, shown } = cellared({ list: kinds('stave', 'hoop', 'bung'), each: 2 }, pretending)
  const [spoiler] = SEATS.filter((seat) => match.state.roles.seats.of(seat).role === 'spoiler') as [string]
  const brewers = SEATS.filter((seat) => seat !== spoiler)
  expect(shown()).toEqual({ done: 0, of: 6 })
  match.addViewer(spoiler)
  match.flush()
  expect(work(spoiler, own(spoiler)[0])).toEqual({ ok: true })
  expect(shown()).toEqual({ done: 0, of: 6 })
  const rows = match.view(spoiler).errands.rows
  expect(
    Object.values(rows)
      .map(({ done }: any) => done)
      .sort(),
  ).toEqual([0, 1])
  expect(match.flush()[0].notices.map(({ name, cells }: any) => [name, cells.real])).toEqual([
    ['errands.done', undefined],
  ])
  expect(Object.keys(match.view(brewers[0]).errands.rows).some((id) => id in rows)).toBe(false)
  expect(work(brewers[0] as string, own(spoiler)[1])).toMatchObject({ code: 'no-such-target' })
})

test('TA4: without any errand all is never done', () => {
  const { end, at } = cellared({ list: [] })
  at(60_000)
  expect(end().kind).toBeNull()
})

test('TA5: what a leaver has not done leaves the total, and all the others done is a win in that step; shared, it goes to who has fewest left', () => {
  const { match, own, work, end, shown } = cellared({ list: kinds('stave', 'hoop'), each: 1 }, pretending)
  const brewers = SEATS.filter((seat) => match.state.roles.seats.of(seat).role === 'brewer')
  for (const seat of brewers.slice(1)) work(seat, own(seat)[0])
  expect([shown(), end().kind]).toEqual([{ done: 2, of: 3 }, null])
  match.submit(brewers[0], 'roster.leave', {})
  expect(end()).toMatchObject({ kind: 'win', reason: 'all-done', winners: brewers.slice(1) })

  const sharing = cellared({ list: kinds('stave', 'hoop'), each: 1, leaverErrands: 'share' })
  sharing.work('heron', sharing.own('heron')[0])
  sharing.match.submit('otter', 'roster.leave', {})
  expect(sharing.own('heron').length).toBe(2)
  expect(sharing.shown()).toEqual({ done: 1, of: 4 })
})

test.each(['drop', 'share', 'keep'] as const)(
  'TA5, %s: from who leaves nobody can tell whether it only pretended',
  (leaverErrands) => {
    const seen = (role: string) => {
      const { match, work, own } = cellared(
        { list: kinds('stave', 'hoop'), each: 2, leaverErrands },
        pretending,
        [...SEATS, 'newt', 'coot'],
      )
      const roleOf = (seat: string) => match.state.roles.seats.of(seat).role
      const seat = match.seats.findLast((each: string) => roleOf(each) === role)
      work(seat, own(seat)[0])
      const others = match.seats.filter((each: string) => each !== seat && roleOf(each) === 'brewer')
      const look = () => [
        match.view('spectator').errands.shown.of,
        ...others.slice(0, 2).map((each: string) => own(each).length),
      ]
      const before = look()
      match.submit(seat, 'roster.leave', {})
      return look().map((count: number, at: number) => count - before[at])
    }
    expect(seen('spoiler')).toEqual(seen('brewer'))
  },
)

test('TA6: at its deadline an errand is over before it can be done at that very ms', () => {
  const { open, work, at } = cellared({ list: [{ kind: 'stave', within: 5000 }] })
  const [stave] = open()
  at(5000)
  expect(work('otter', stave)).toMatchObject({ code: 'errand-expired' })
})

test('TA7: so many at once, at free places; the list used up nothing spawns; again, no kind comes twice running', () => {
  const { open, work, end } = cellared({
    list: kinds('stave', 'hoop', 'bung'),
    spawn: 'in-order',
    atOnce: 2,
    places: ['mill', 'lock'],
  })
  expect(open().map(({ kind }: any) => kind)).toEqual(['stave', 'hoop'])
  expect(new Set(open().map(({ place }: any) => place))).toEqual(new Set(['mill', 'lock']))
  const [stave] = open()
  work('otter', stave)
  expect(open().map(({ kind }: any) => kind)).toEqual(['hoop', 'bung'])
  for (const row of open()) work('otter', row)
  expect([open().length, end().reason]).toEqual([0, 'all-done'])

  const again = cellared({ list: kinds('stave', 'hoop', 'bung'), spawn: 'random', again: true })
  const seen: string[] = []
  for (let turn = 1; turn <= 30; turn++) {
    const [row] = again.open()
    seen.push(row.kind)
    again.at(turn)
    again.work('otter', row)
    expect(again.work('heron', row)).toMatchObject({ code: 'errand-done' })
  }
  expect(seen.every((kind, at) => kind !== seen[at - 1])).toBe(true)
  expect([new Set(seen).size, again.end().kind, again.match.state.errands.rows.all().length]).toEqual([
    3,
    null,
    2,
  ])
})

test('TA8: fifths are rounded down, full only when all is done; in breaks only, it stands still in between', () => {
  const { open, work, shown } = cellared({
    list: [{ kind: 'stave', need: 9 }, { kind: 'hoop' }],
    shown: 'fifths',
  })
  work('otter', open()[0], 9)
  expect(shown()).toEqual({ done: 4, of: 5 })
  const quiet = cellared({ list: [{ kind: 'stave', need: 9 }], shown: 'in-breaks' })
  quiet.work('otter', quiet.open()[0], 3)
  expect(quiet.shown()).toEqual({ done: 0, of: 9 })
  quiet.at(minutes(5))
  expect(quiet.shown()).toEqual({ done: 3, of: 9 })
})

test('TA9: progress can be taken back down to nothing; a done errand stays done', () => {
  const { open, work, shown } = cellared({ list: [{ kind: 'stave', need: 3 }, { kind: 'hoop' }] })
  const [stave] = open()
  work('otter', stave, 2)
  work('otter', stave, -5)
  expect(shown().done).toBe(0)
  work('otter', stave, 3)
  expect(work('otter', stave, -1)).toMatchObject({ code: 'errand-done' })
})

test('all done, nobody on a side: all in play win together', () => {
  const { open, work, end } = cellared({ list: kinds('stave') })
  work('otter', open()[0])
  expect(end()).toMatchObject({ kind: 'win', winners: SEATS, reason: 'all-done' })
})

test('laws a to c: done lies within need, what is left to do is what real errands have left, and each errand is done once', () => {
  const deed = fc.record({
    what: fc.constantFrom('work', 'work', 'work', 'leave', 'out'),
    seat: fc.constantFrom(...SEATS),
    nth: fc.nat(5),
    amount: fc.integer({ min: -2, max: 3 }),
    wait: fc.integer({ min: 0, max: 900 }),
  })
  const settings = fc.record({
    each: fc.constantFrom(null, 2),
    spawn: fc.constantFrom('all', 'in-order', 'random'),
    leaverErrands: fc.constantFrom('drop', 'share', 'keep'),
    places: fc.constantFrom([], ['mill', 'lock']),
  })
  fc.assert(
    fc.property(fc.array(deed, { maxLength: 30 }), settings, (deeds, given) => {
      const list = [{ kind: 'stave', need: 3 }, { kind: 'hoop', need: 2, within: 5000 }, { kind: 'bung' }]
      const { match, work } = cellared({ ...given, list }, given.each === null ? shared : pretending)
      const finished = new Map<string, number>()
      const begun = match.state.errands.total.of
      for (const { what, seat, nth, amount, wait } of deeds) {
        match.advanceTo(match.now + wait)
        const rows = match.state.errands.rows.all()
        const row = rows[nth % Math.max(1, rows.length)]
        const before = row && { ...row }
        if (what === 'work' && row !== undefined && work(seat, row, amount).ok) {
          const after = match.state.errands.rows.get(row.id)
          if (after?.done === after?.need && before.done < before.need)
            finished.set(row.id, (finished.get(row.id) ?? 0) + 1)
        }
        if (what === 'leave' && match.seats.length > 2) match.submit(seat, 'roster.leave', {})
        if (what === 'out') match.report('moves.out', { seat })
        const { done, of, hidden } = match.state.errands.total
        const now = match.state.errands.rows.all()
        for (const each of now) expect(each.done >= 0 && each.done <= each.need).toBe(true)
        const real = now.filter((each: any) => each.real)
        const left = real.reduce((sum: number, each: any) => sum + each.need - each.done, 0)
        if (given.each === null)
          expect(done).toBe(real.reduce((sum: number, each: any) => sum + each.done, 0))
        else {
          expect(of + hidden).toBe(begun) // what is shown says nothing of who has left
          if (given.leaverErrands === 'share') expect(of - done).toBeLessThanOrEqual(left)
          else expect(of - done).toBe(left)
        }
      }
      for (const times of finished.values()) expect(times).toBe(1)
      expect(match.faults).toEqual([])
    }),
    { numRuns: 80 },
  )
})
