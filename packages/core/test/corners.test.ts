import { expect, test } from 'vitest'
import {
  declareRule,
  defineRule,
  defineRulebook,
  flag,
  int,
  minutes,
  seatRef,
  seconds,
  single,
} from 'zinc-referee'
import { Replica } from 'zinc-referee/replica'
import {
  allDone,
  areas,
  areasOf,
  boostsOf,
  condition,
  credit,
  firstTo,
  mostAtTime,
  parity,
  respawn,
  rolesOf,
  roster,
  rounds,
  scores,
  tasks,
  teams,
  verdict,
  vitals,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { fight, hit, skirmish } from './skirmish.ts'

const seats = { min: 2, max: 4 }
const lobby = (...names: string[]) => playMatch(skirmish, names, { start: false }).match
const yard = defineRule({
  name: 'yard',
  needs: [vitals, scores, roster],
  facts: {
    fell: { input: { seat: seatRef() }, hear: (match, { seat }) => match.use(vitals).bringDown(seat) },
    hit: {
      input: { target: seatRef(), by: seatRef(), amount: int() },
      hear: (match, blow) => match.use(vitals).hurt(blow),
    },
    earn: {
      input: { seat: seatRef(), amount: int() },
      hear: (match, { seat, amount }) => match.use(scores).give({ seat, amount, reason: 'earned' }),
    },
    /** There and back in one step. */
    flash: {
      input: { seat: seatRef() },
      hear(match, { seat }) {
        match.use(scores).give({ seat, amount: 9, reason: 'up' })
        return match.use(scores).give({ seat, amount: -9, reason: 'down' })
      },
    },
    out: { input: { seat: seatRef() }, hear: (match, { seat }) => match.use(roster).putOut(seat, 'home') },
  },
})

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

const goal = defineRulebook({
  name: 'goal',
  seats,
  rules: [rounds({ length: minutes(1) }), vitals, scores, verdict({ when: [firstTo(5), mostAtTime] }), yard],
})
test('RD12, VE2, VE3: time up comes before a goal at that ms; both at the goal, the higher wins, level they share; there and back is no claim', () => {
  const late = playMatch(goal, ['otter', 'heron']).match
  late.advanceTo(63_000)
  expect(late.report('yard.earn', { seat: 'otter', amount: 5 })).toMatchObject({ code: 'over' })
  const both = (one: number, other: number) => {
    const { match } = playMatch(goal, ['otter', 'heron'])
    match.reportAll('yard.earn', [
      { seat: 'otter', amount: one },
      { seat: 'heron', amount: other },
    ])
    return match.view('spectator').verdict.end
  }
  expect(both(5, 6)).toMatchObject({ kind: 'win', winners: ['heron'] })
  expect(both(5, 5)).toMatchObject({ kind: 'draw', winners: ['otter', 'heron'] })
  const { match } = playMatch(goal, ['otter', 'heron'])
  match.report('yard.flash', { seat: 'otter' })
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

test('RE20, CR19: by command of a rule a seat goes down, protected or not; nobody is credited, and it is back as ever', () => {
  const book = defineRulebook({
    name: 'yard',
    seats,
    rules: [vitals, scores, credit, respawn({ protectFor: 9000 }), yard],
  })
  const { match } = playMatch(book, ['otter', 'heron'])
  match.report('yard.fell', { seat: 'otter' })
  match.advanceTo(match.now + 3000)
  match.open('spectator')
  match.flush()
  match.report('yard.hit', { target: 'heron', by: 'otter', amount: 30 })
  match.report('yard.fell', { seat: 'heron' })
  expect(match.flush()[0]?.notices.find(({ name }) => name === 'credit.given')?.cells).toMatchObject({
    seat: 'heron',
    killer: null,
    kind: 'rule',
    assists: [],
  })
  expect(match.report('yard.fell', { seat: 'heron' })).toMatchObject({ code: 'target-down' })
  match.advanceTo(match.now + 3000)
  expect(match.state.vitals.body.of('heron').down).toBe(false)
})

test('RE13: a due that a rule moves to the past is now, in the next step', () => {
  const hurry = defineRule({
    name: 'hurry',
    needs: [respawn],
    amend: {
      'respawn.schedule'(_, draft) {
        draft.after.add(-1_000_000)
      },
    },
  })
  const { match } = playMatch(
    defineRulebook({ name: 'yard', seats, rules: [vitals, scores, respawn, hurry, yard] }),
    ['otter', 'heron'],
  )
  match.report('yard.fell', { seat: 'otter' })
  expect(match.state.vitals.body.of('otter').down).toBe(true)
  match.advanceTo(match.now)
  expect([match.state.vitals.body.of('otter').down, match.state.vitals.lives.of('otter').life]).toEqual([
    false,
    2,
  ])
})

test('CR14, TM9, SC4: a blow is judged when it lands, friend or foe as they were then; points stay where they were earned', () => {
  const change = defineRule({
    name: 'change',
    needs: [teams],
    directives: {
      side: {
        input: { seat: seatRef(), team: int() },
        obey: (match, { seat, team }) => match.use(teams).assign({ seat, team }),
      },
    },
  })
  const book = defineRulebook({
    name: 'yard',
    seats,
    rules: [teams({ count: 2 }), vitals, scores, credit({ points: { kill: 1, assist: 1 } }), change, yard],
  })
  const { match } = playMatch(book, ['otter', 'heron', 'vole', 'newt'])
  match.report('yard.hit', { target: 'otter', by: 'heron', amount: 60 })
  match.direct('change.side', { seat: 'heron', team: 0 })
  expect(match.report('yard.hit', { target: 'otter', by: 'heron', amount: 10 })).toMatchObject({
    code: 'friendly-fire',
  })
  match.report('yard.hit', { target: 'otter', by: 'newt', amount: 40 })
  expect(match.state.credit.tally.of('heron').assists).toBe(1)
  match.report('yard.earn', { seat: 'newt', amount: 5 })
  match.direct('change.side', { seat: 'newt', team: 0 })
  // Heron's assist was earned in team 0 already, Newt's kill and five in team 1.
  expect(match.view('spectator').teams.sums.score).toEqual([1, 6])
})

test('VI22: who hurts itself is hurt, and that counts for nobody else', () => {
  const { match } = fight()
  match.report('moves.hit', { target: 'otter', by: 'otter', amount: 60 })
  hit(match, 'otter', 'heron', 40)
  expect(match.state.credit.tally.of('heron')).toMatchObject({ kills: 1 })
  expect(match.state.credit.tally.of('otter')).toMatchObject({ assists: 0, downs: 1 })
})

test('RL9: the only one of a camp that is told sees itself only', () => {
  const secret = rolesOf({ brewer: {}, spoiler: { count: 1, tellCamp: true } })
  const { match } = playMatch(defineRulebook({ name: 'yard', seats, rules: [secret] }), [
    'otter',
    'heron',
    'vole',
  ])
  for (const seat of match.seats) expect(Object.keys(match.view(seat).roles.seats)).toEqual([seat])
})

test('AR12, AR14: who is down sees from where it fell; near is near both ways, after any teleport', () => {
  const pond = areasOf({ near: 50, far: 60, jump: 100 })
  const { match } = playMatch(defineRulebook({ name: 'pond', seats, rules: [vitals, scores, pond, yard] }), [
    'otter',
    'heron',
  ])
  const go = (seat: string, x: number) => match.report('areas.at', { seat, x, y: 0 })
  const sees = (viewer: string, seat: string) => match.view(viewer).areas.spots[seat]?.x !== undefined
  go('otter', 0)
  go('heron', 40)
  match.report('yard.fell', { seat: 'otter' })
  expect([sees('otter', 'heron'), sees('heron', 'otter')]).toEqual([true, true])
  go('heron', 400)
  expect([sees('otter', 'heron'), sees('heron', 'otter')]).toEqual([false, false])
  go('heron', 55) // a jump: between near and far it is not seen
  expect([sees('otter', 'heron'), sees('heron', 'otter')]).toEqual([false, false])
  go('heron', 50)
  expect([sees('otter', 'heron'), sees('heron', 'otter')]).toEqual([true, true])
  expect(areas.name).toBe('areas')
})

test('BO10: an amendment may not give a boost: it is a fault, and nothing happens', () => {
  const charms = boostsOf({ bell: { lasts: 1000 } })
  const greedy = defineRule({
    name: 'greedy',
    needs: [charms, vitals],
    amend: {
      'vitals.hurt'(match, { target }) {
        match.use(charms).give({ seat: target, kind: 'bell' })
      },
    },
  })
  const { match } = playMatch(
    defineRulebook({ name: 'yard', seats, rules: [vitals, scores, charms, greedy, yard] }),
    ['otter', 'heron'],
  )
  const hash = match.hash()
  expect(match.report('yard.hit', { target: 'otter', by: 'heron', amount: 5 })).toMatchObject({
    code: 'fault',
  })
  expect(match.hash()).toBe(hash)
})

test('BO8, BO9: hunters swapped twice stay swapped until the longer one ends, and are as ever at that ms', () => {
  const tide = boostsOf({ turned: { lasts: 8000 } })
  const hunt = defineRule({
    name: 'hunt',
    needs: [tide],
    directives: {
      turn: {
        input: { seat: seatRef() },
        obey: (match, { seat }) => match.use(tide).give({ seat, kind: 'turned' }),
      },
    },
    facts: {
      caught: {
        input: {},
        hear(match) {
          if (!match.seats.some((seat) => match.use(tide).has(seat, 'turned'))) throw new Error('as ever')
        },
      },
    },
  })
  const { match } = playMatch(defineRulebook({ name: 'hunt', seats, rules: [tide, hunt] }), [
    'otter',
    'heron',
  ])
  const turned = () => match.report('hunt.caught', {}).ok
  match.direct('hunt.turn', { seat: 'otter' })
  match.advanceTo(3000 + 5000)
  match.direct('hunt.turn', { seat: 'heron' })
  match.advanceTo(3000 + 8000)
  expect(turned()).toBe(true)
  match.advanceTo(3000 + 12_999)
  expect(turned()).toBe(true)
  match.advanceTo(3000 + 13_000)
  expect(turned()).toBe(false)
})

test('VE0, VE12: of two endings in one step the first listed names the reason; a claim of a rule comes after those', () => {
  const secret = rolesOf({ brewer: {}, spoiler: { count: 1 } })
  const own = declareRule({ name: 'own', needs: [verdict, roster, tasks] }).does({
    directives: {
      end: {
        input: { seat: seatRef(), task: flag(false) },
        obey(match, { seat, task }) {
          match.use(verdict).claim({ winners: [seat], reason: 'own' })
          if (task) match.use(tasks).progress({ seat, task: match.use(tasks).open()[0] ?? '', amount: 1 })
        },
      },
    },
  })
  const ending = (order: 'tasks' | 'parity', task: boolean) => {
    const ends = [allDone.wonBy(secret.camp('brewer')), parity(secret.camp('spoiler'), 'more')]
    const book = defineRulebook({
      name: 'brew',
      seats,
      rules: [
        secret,
        tasks({ list: [{ kind: 'stave' }] }),
        verdict({ when: order === 'tasks' ? ends : ends.toReversed() }),
        own,
      ],
    })
    const { match } = playMatch(book, ['otter', 'heron', 'vole'])
    match.direct('own.end', { seat: 'otter', task })
    return match.view('spectator').verdict.end.reason
  }
  expect([ending('tasks', true), ending('tasks', false)]).toEqual(['all-done', 'own'])
})

test('VE18: the verdict stands when its winners leave', () => {
  const { match } = playMatch(goal, ['otter', 'heron'])
  match.report('yard.earn', { seat: 'otter', amount: 5 })
  match.submit('otter', 'roster.leave', {})
  expect(match.view('heron').verdict.end).toMatchObject({ kind: 'win', winners: ['otter'] })
})

test('VE19: a condition that throws is a fault of its step, and is judged again at the next settling', () => {
  const touchy = condition({
    name: 'touchy',
    atTime: false,
    judge({ sides }) {
      const most = Math.max(...sides.map(({ score }) => score))
      if (most === 3) throw new Error('three is bad luck')
      return most > 3
        ? {
            winners: sides.filter(({ score }) => score === most).flatMap((side) => side.seats),
            reason: 'touchy',
          }
        : undefined
    },
  })
  const { match } = playMatch(
    defineRulebook({ name: 'yard', seats, rules: [vitals, scores, verdict({ when: [touchy] }), yard] }),
    ['otter', 'heron'],
  )
  expect(match.report('yard.earn', { seat: 'otter', amount: 3 })).toMatchObject({ code: 'fault' })
  expect(match.state.scores.sums.of('otter').score).toBe(0)
  match.report('yard.earn', { seat: 'otter', amount: 4 })
  expect(match.view('otter').verdict.end).toMatchObject({ reason: 'touchy' })
})

test('CT10: a client whose clock is ahead shows 0:00 and waits; it never jumps up by more than the correction', () => {
  const { match } = fight()
  const replica = new Replica({ at: match.now, view: match.view('otter') }, 0)
  const ends = match.view('otter').rounds.now.ends ?? 0
  expect(replica.left(ends, 'play', minutes(5) - 1)).toBe('0:01')
  expect(replica.left(ends, 'play', minutes(5) + seconds(9))).toBe('0:00')
})
