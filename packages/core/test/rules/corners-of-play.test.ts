import { expect, test } from 'vitest'
import { declareRule, defineRule, defineRulebook, flag, int, minutes, seatRef, seconds } from 'zinc-referee'
import { Replica } from 'zinc-referee/replica'
import {
  allDone,
  areas,
  areasOf,
  boostsOf,
  condition,
  credit,
  errands,
  parity,
  respawn,
  rolesOf,
  roster,
  scores,
  teams,
  verdict,
  vitals,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { fight, hit } from '../fixtures/fight-mode.ts'
import { goal, seats } from '../fixtures/goal-mode.ts'
import { moves } from '../fixtures/moves.ts'

test('RE20, CR19: by command of a rule a seat goes down, protected or not; nobody is credited, and it is back as ever', () => {
  const book = defineRulebook({
    name: 'yard',
    seats,
    rules: [vitals, scores, credit, respawn({ protectFor: 9000 }), moves],
  })
  const { match } = playMatch(book, ['otter', 'heron'])
  match.report('moves.faint', { seat: 'otter' })
  match.advanceTo(match.now + 3000)
  match.addViewer('spectator')
  match.flush()
  match.report('moves.hit', { target: 'heron', by: 'otter', amount: 30 })
  match.report('moves.faint', { seat: 'heron' })
  expect(match.flush()[0]?.notices.find(({ name }) => name === 'credit.given')?.cells).toMatchObject({
    seat: 'heron',
    killer: null,
    kind: 'rule',
    assists: [],
  })
  expect(match.report('moves.faint', { seat: 'heron' })).toMatchObject({ code: 'target-down' })
  match.advanceTo(match.now + 3000)
  expect(match.state.vitals.body.of('heron').down).toBe(false)
})

test('RE13: a due that a rule moves to the past is now, in a step of its own right after', () => {
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
    defineRulebook({ name: 'yard', seats, rules: [vitals, scores, respawn, hurry, moves] }),
    ['otter', 'heron'],
  )
  match.report('moves.faint', { seat: 'otter' })
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
        handle: (match, { seat, team }) => match.use(teams).assign({ seat, team }),
      },
    },
  })
  const book = defineRulebook({
    name: 'yard',
    seats,
    rules: [teams({ count: 2 }), vitals, scores, credit({ points: { kill: 1, assist: 1 } }), change, moves],
  })
  const { match } = playMatch(book, ['otter', 'heron', 'vole', 'newt'])
  match.report('moves.hit', { target: 'otter', by: 'heron', amount: 60 })
  match.direct('change.side', { seat: 'heron', team: 0 })
  expect(match.report('moves.hit', { target: 'otter', by: 'heron', amount: 10 })).toMatchObject({
    code: 'friendly-fire',
  })
  match.report('moves.hit', { target: 'otter', by: 'newt', amount: 40 })
  expect(match.state.credit.tally.of('heron').assists).toBe(1)
  match.report('moves.earn', { seat: 'newt', amount: 5 })
  match.direct('change.side', { seat: 'newt', team: 0 })
  // Heron's assist was earned in team 0 already, Newt's kill and five in team 1.
  expect(match.view('spectator').teams.sums.score).toEqual([1, 6])
})

test('VI22: who hurts itself is hurt, and that counts for nobody else', () => {
  const { match } = fight()
  match.report('moves.hit', { target: 'otter', by: 'otter', amount: 60 })
  hit(match, 'otter', 'heron', 40)
  expect(match.state.credit.tally.of('heron')).toMatchObject({ kills: 1 })
  expect(match.state.credit.tally.of('otter')).toMatchObject({ assists: 0, deaths: 1 })
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
  const { match } = playMatch(defineRulebook({ name: 'pond', seats, rules: [vitals, scores, pond, moves] }), [
    'otter',
    'heron',
  ])
  const go = (seat: string, x: number) => match.report('areas.at', { seat, x, y: 0 })
  const sees = (viewer: string, seat: string) => match.view(viewer).areas.spots[seat]?.x !== undefined
  go('otter', 0)
  go('heron', 40)
  match.report('moves.faint', { seat: 'otter' })
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
    defineRulebook({ name: 'yard', seats, rules: [vitals, scores, charms, greedy, moves] }),
    ['otter', 'heron'],
  )
  const hash = match.hash()
  expect(match.report('moves.hit', { target: 'otter', by: 'heron', amount: 5 })).toMatchObject({
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
        handle: (match, { seat }) => match.use(tide).give({ seat, kind: 'turned' }),
      },
    },
    facts: {
      caught: {
        input: {},
        handle(match) {
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
  const own = declareRule({ name: 'own', needs: [verdict, roster, errands] }).does({
    directives: {
      end: {
        input: { seat: seatRef(), errand: flag(false) },
        handle(match, { seat, errand }) {
          match.use(verdict).claim({ winners: [seat], reason: 'own' })
          if (errand)
            match.use(errands).progress({ seat, errand: match.use(errands).open()[0] ?? '', amount: 1 })
        },
      },
    },
  })
  const ending = (order: 'errands' | 'parity', errand: boolean) => {
    const ends = [allDone.wonBy(secret.camp('brewer')), parity(secret.camp('spoiler'), 'more')]
    const book = defineRulebook({
      name: 'brew',
      seats,
      rules: [
        secret,
        errands({ list: [{ kind: 'stave' }] }),
        verdict({ when: order === 'errands' ? ends : ends.toReversed() }),
        own,
      ],
    })
    const { match } = playMatch(book, ['otter', 'heron', 'vole'])
    match.direct('own.end', { seat: 'otter', errand })
    return match.view('spectator').verdict.end.reason
  }
  expect([ending('errands', true), ending('errands', false)]).toEqual(['all-done', 'own'])
})

test('VE18: the verdict stands when its winners leave', () => {
  const { match } = playMatch(goal, ['otter', 'heron'])
  match.report('moves.earn', { seat: 'otter', amount: 5 })
  match.submit('otter', 'roster.leave', {})
  expect(match.view('heron').verdict.end).toMatchObject({ kind: 'win', winners: ['otter'] })
})

test('VE19: a condition that throws is a fault of its step, and is judged again at the next settling', () => {
  const touchy = condition({
    name: 'touchy',
    atTime: false,
    judge(_, { sides }) {
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
    defineRulebook({ name: 'yard', seats, rules: [vitals, scores, verdict({ when: [touchy] }), moves] }),
    ['otter', 'heron'],
  )
  expect(match.report('moves.earn', { seat: 'otter', amount: 3 })).toMatchObject({ code: 'fault' })
  expect(match.state.scores.sums.of('otter').score).toBe(0)
  match.report('moves.earn', { seat: 'otter', amount: 4 })
  expect(match.view('otter').verdict.end).toMatchObject({ reason: 'touchy' })
})

test('CT10: a client whose clock is ahead shows 0:00 and waits; it never jumps up by more than the correction', () => {
  const { match } = fight()
  const replica = new Replica({ at: match.now, view: match.view('otter') }, 0)
  const ends = match.view('otter').rounds.now.ends ?? 0
  expect(replica.formatRemaining(ends, 'play', minutes(5) - 1)).toBe('0:01')
  expect(replica.formatRemaining(ends, 'play', minutes(5) + seconds(9))).toBe('0:00')
})

test('a replica follows a server whose time stood still, keeps the least delayed update, and forgets old notices', () => {
  const clock = { at: 0, runs: true }
  const clocks = { match: clock, phase: clock, play: clock, turn: clock }
  const replica = new Replica({ view: { clocks }, at: 0 }, 1000)
  const at = (server: number, client: number) => {
    replica.update(
      {
        at: server,
        notices: [{ name: 'n', at: server, until: server + 10_000, cells: {} }],
      },
      client,
    )
    return replica.now(client)
  }
  expect([at(1000, 2000), at(1800, 3000), at(3000, 4000)]).toEqual([1000, 2000, 3000]) // one came 200 ms late
  // For five seconds the server's time stands still: in the end the replica is behind as much.
  for (let client = 9000; client <= 40_000; client += 1000) at(client - 6000, client)
  expect(replica.now(40_000)).toBe(34_000)
  expect(replica.standing(40_000)).toHaveLength(10)
  for (let n = 0; n < 20_000; n++) at(34_000 + n * 10, 40_000 + n * 10)
  expect(replica.standing(240_000)).toHaveLength(999)
})
