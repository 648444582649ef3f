import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, seatRef, single } from 'zinc-referee'
import {
  type Condition,
  condition,
  firstTo,
  mostAtTime,
  mostRounds,
  rounds,
  scores,
  verdict,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole']
const earning = defineRule({
  name: 'earning',
  needs: [scores],
  facts: {
    earn: {
      input: { seat: seatRef(), amount: int() },
      handle: (match, { seat, amount }) => match.use(scores).give({ seat, amount, reason: 'earned' }),
    },
  },
})
/** What a condition says when it is asked: nothing, all, one of them, or who leads. */
const opinions = ['nothing', 'all', 'one', 'leader', 'nobody'] as const
type Opinion = (typeof opinions)[number]

function judging(name: string, always: Opinion, atTime: Opinion): Condition {
  return condition({
    name,
    atTime: true,
    judge(_, { sides, timeUp }) {
      const said = timeUp ? atTime : always
      const seats = sides.flatMap((side) => side.seats)
      const best = Math.max(...sides.map(({ score }) => score))
      const leaders = sides.filter(({ score }) => score === best)
      if (said === 'all') return { winners: seats, reason: name }
      if (said === 'nobody') return { winners: [], reason: name }
      if (said === 'one') return { winners: seats.slice(0, 1), reason: name }
      return said === 'leader' && leaders.length === 1
        ? { winners: leaders[0]?.seats ?? [], reason: name }
        : undefined
    },
  })
}

const judge = fc.record({
  /** Before time is up a condition seldom has an opinion. */
  always: fc.constantFrom<Opinion>('nothing', 'nothing', 'nothing', 'leader'),
  atTime: fc.constantFrom(...opinions),
  round: fc.boolean(),
})
const shape = fc.record({
  count: fc.integer({ min: 1, max: 3 }),
  bestOf: fc.boolean(),
  suddenEnd: fc.boolean(),
  overtime: fc.constantFrom(null, 3000),
  overtimes: fc.integer({ min: 1, max: 2 }),
  breakTime: fc.constantFrom(0, 500),
})
const earned = fc.array(
  fc.record({ seat: fc.constantFrom(...SEATS), amount: fc.integer({ min: -2, max: 3 }), wait: fc.nat(4000) }),
  { maxLength: 12 },
)

test('whatever the conditions say, every bout ends, once, with what was said or a draw', () => {
  fc.assert(
    fc.property(fc.array(judge, { minLength: 1, maxLength: 3 }), shape, earned, (judges, how, scored) => {
      // Without a limit a sudden end goes on as long as a condition calls all level.
      fc.pre(!(how.suddenEnd && how.overtime === null && judges.some(({ atTime }) => atTime === 'all')))
      const conditions = judges.map(({ always, atTime, round }, n) =>
        judging(`said-${n}`, always, atTime).decides(round && how.count > 1 ? 'round' : 'bout'),
      )
      const nobody = judging('none', 'nothing', 'nothing')
      const book: any = defineRulebook({
        name: 'fair',
        seats: { min: 2, max: 3 },
        rules: [
          rounds({ length: 5000, ...how }),
          scores,
          verdict({
            when: how.count > 1 ? [...conditions, nobody.decides('round'), mostRounds] : conditions,
          }),
          earning,
        ],
      } as any)
      const { match, replay }: any = playMatch(book, SEATS)
      match.addViewer('spectator')
      match.flush()
      for (const { wait, ...earn } of scored) {
        match.advanceTo(match.now + wait)
        match.report('earning.earn', earn)
      }
      // A sudden end without a limit goes on until one leads: so somebody does.
      match.advanceTo(match.now + 20_000)
      match.report('earning.earn', { seat: 'vole', amount: 1000 })
      for (let n = 0; n < 6; n++) {
        match.advanceTo(match.now + 20_000)
        match.report('earning.earn', { seat: 'vole', amount: 1 })
      }
      const { phases, verdict: ended } = match.view('spectator')
      expect([phases.now.phase, match.faults]).toEqual(['over', []])
      expect(ended.end.kind).not.toBeNull()
      const told = match.flush().flatMap(({ notices }: any) => notices)
      expect(told.filter(({ name }: any) => name === 'verdict.reached')).toHaveLength(1)
      expect(replay().differs).toBeUndefined()
    }),
    { numRuns: 120 },
  )
})

test('time up and no opinion: the next condition is asked, then overtime, and then it is drawn', () => {
  const none = judging('none', 'nothing', 'nothing')
  const end = (when: Condition[], how: object = {}): unknown[] => {
    const book: any = defineRulebook({
      name: 'fair',
      seats: { min: 2, max: 3 },
      rules: [rounds({ length: 5000, ...how }), scores, verdict({ when }), earning],
    } as any)
    const { match }: any = playMatch(book, SEATS)
    match.advanceTo(3000 + 5000)
    const { overtime } = match.view('otter').rounds.now
    match.advanceTo(60_000)
    const { kind, winners, reason } = match.view('otter').verdict.end
    return [overtime, kind, winners.length, reason]
  }
  expect(end([none, judging('one', 'nothing', 'one')])).toEqual([0, 'win', 1, 'one'])
  expect(end([none])).toEqual([0, 'draw', 3, 'time-up'])
  expect(end([none], { overtime: 3000 })).toEqual([1, 'draw', 3, 'time-up'])
  expect(end([none], { suddenEnd: true, overtime: 3000 })).toEqual([1, 'draw', 3, 'time-up'])
  expect(end([none], { suddenEnd: true })).toEqual([0, 'draw', 3, 'time-up'])
  expect(end([judging('leads', 'nothing', 'leader')], { suddenEnd: true, overtime: 3000 })).toEqual([
    1,
    'draw',
    3,
    'time-up',
  ])
})

test('a condition reads the rules that it needs, is judged when any of their state changes, and changes nothing', () => {
  const ledger = defineRule({
    name: 'ledger',
    state: { book: single({ pages: int(0) }) },
    calls: {
      pages: (match) => match.own.book.pages,
      tear(match) {
        match.own.book.pages -= 1
      },
    },
    facts: {
      written: {
        input: {},
        handle(match) {
          match.own.book.pages += 1
        },
      },
    },
  })
  /** Reads the ledger only through this one. */
  const desk = defineRule({
    name: 'desk',
    needs: [ledger],
    calls: { isFull: (match) => match.use(ledger).pages() > 1 },
  })
  const full = condition({
    name: 'full',
    needs: [desk],
    judge: (match, { sides: [first] }) =>
      match.use(desk).isFull() ? { winners: first?.seats ?? [], reason: 'full' } : undefined,
  })
  const torn = condition({
    name: 'torn',
    needs: [ledger],
    judge(match) {
      if (match.use(ledger).pages() === 1) match.use(ledger).tear()
      return undefined
    },
  })
  const seats = { min: 2, max: 3 }
  const book = (when: Condition[], rules: readonly (typeof ledger | typeof desk)[] = [ledger, desk]) =>
    defineRulebook({ name: 'office', seats, rules: [...rules, verdict({ when })] })
  const { match, replay } = playMatch(book([full]), SEATS)
  expect(match.report('ledger.written', {}).ok).toBe(true)
  expect(match.view('otter')['verdict']).toMatchObject({ end: { kind: null } })
  match.report('ledger.written', {})
  expect(match.view('otter')['verdict']).toMatchObject({ end: { winners: ['otter'], reason: 'full' } })
  expect(replay().differs).toBeUndefined()

  const { match: tearing } = playMatch(book([torn]), SEATS)
  expect(tearing.report('ledger.written', {})).toMatchObject({ code: 'fault' })
  expect(tearing.faults[0]?.error).toMatchObject({ code: 'ZR_STATE_CLOSED' })
  expect(() => book([full], [])).toThrow(/desk/)
})

test('a condition of the bout counts the points of all rounds; a round that nobody judges ends without a winner', () => {
  const bout = [rounds({ length: 5000, count: 3, breakTime: 1000 }), scores, earning] as const
  const both = { name: 'both', seats: { min: 2, max: 3 } } as const
  const judged = defineRulebook({
    ...both,
    rules: [...bout, verdict({ when: [mostRounds, firstTo(3), mostAtTime.decides('round')] })],
  })
  const { match } = playMatch(judged, SEATS)
  match.report('earning.earn', { seat: 'otter', amount: 2 })
  match.advanceTo(match.now + 6000)
  match.report('earning.earn', { seat: 'otter', amount: 1 })
  expect(match.view('spectator').verdict.end).toMatchObject({ winners: ['otter'], reason: 'goal-reached' })

  const { match: open } = playMatch(defineRulebook({ ...both, rules: bout }), SEATS)
  open.addViewer('spectator')
  open.report('earning.earn', { seat: 'otter', amount: 2 })
  open.advanceTo(open.now + 5000)
  const ended = open.flush().flatMap(({ notices }) => notices.filter(({ name }) => name === 'rounds.ended'))
  expect(ended.map(({ cells }) => cells)).toMatchObject([{ round: 1, winners: [], why: 'time-up' }])
})
