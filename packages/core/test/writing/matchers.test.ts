import { expect, test } from 'vitest'
import {
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  owner,
  perSeat,
  refuse,
  seatRef,
  seconds,
} from 'zinc-referee'
import { inPhase } from 'zinc-referee/rules'
import {
  cutScenario,
  playMatch,
  type RefereeMatchers,
  refereeMatchers,
  runScenario,
} from 'zinc-referee/testing'
import { code } from '../fixtures/error-code.ts'

declare module 'vitest' {
  interface Matchers<T> extends RefereeMatchers<T> {}
}
expect.extend(refereeMatchers)

const stall = defineRule({
  name: 'stall',
  state: { purses: perSeat({ coins: int(3).seenBy(owner), sold: int(0).seenBy(everyone) }) },
  events: { sold: { seat: seatRef().seenBy(everyone), n: int().seenBy(owner) } },
  timers: {
    rent: (match, seat) => void Object.assign(match.own.purses.of(seat), { coins: 0 }),
  },
  actions: {
    sell: {
      when: inPhase('live'),
      input: { n: int() },
      decide(match, seat, { n }) {
        const purse = match.own.purses.of(seat)
        if (n > purse.coins) return refuse('too-few', { coins: purse.coins })
        purse.coins -= n
        purse.sold += n
        match.emit('sold', { seat, n })
        if (!match.timers.runs('rent', seat)) match.timers.start('rent', { in: seconds(3), key: seat })
      },
    },
  },
  facts: {
    paid: {
      when: inPhase('live'),
      input: { seat: seatRef(), n: int() },
      handle(match, { seat, n }) {
        if (n === 0) return refuse('nothing-paid')
        match.own.purses.of(seat).coins += n
      },
    },
  },
})
const book = defineRulebook({ name: 'stall', seats: { min: 2, max: 2 }, rules: [stall] })
const play = () => playMatch(book, ['otter', 'heron'])
const why = (check: () => void): string => {
  try {
    check()
  } catch (error) {
    return (error as Error).message
  }
  return 'nothing'
}

test('rulings, views and notices are checked by name; time passes by words', () => {
  const game = play()
  const { match, advance } = game
  const sell = (n: number) => match.submit('otter', 'stall.sell', { n })
  expect(sell(2)).toBeAccepted()
  expect(sell(2)).toBeRefused('too-few', { coins: 1 })
  expect(sell(2)).not.toBeRefused('too-few', { coins: 2 })
  expect(sell(2)).not.toBeAccepted()
  expect(match).toShow('otter', { 'stall.purses.otter.coins': 1, 'stall.purses.otter.sold': 2 })
  expect(game).toShow('heron', { 'stall.purses.otter.sold': 2 })
  expect(match).toHide('heron', 'stall.purses.otter.coins', 'stall.none')
  expect(match).not.toHide('otter', 'stall.purses.otter.coins')
  expect(match).toTell('otter', 'stall.sold', { n: 2 })
  expect(match).not.toTell('heron', 'stall.sold', { n: 2 })
  expect(match).toTell('heron', 'stall.sold')
  expect(match.viewers).toEqual([])
  advance('3s')
  expect(match).toShow('otter', { 'stall.purses.otter.coins': 0 })
  advance('0:04.500')
  expect(match).not.toTell('heron', 'stall.sold')
  expect(match.now).toBe(3000 + 7500)
  expect(code(() => advance('soon'))).toBe('ZR_TIME_NOT_WHOLE')
})

test('what differs is said: what was expected beside what was found', () => {
  const { match } = play()
  const ruling = match.submit('otter', 'stall.sell', { n: 9 })
  expect(why(() => expect(ruling).toBeAccepted())).toBe(
    'It should be accepted, and is refused with too-few {"coins":3}.',
  )
  expect(why(() => expect(ruling).toBeRefused('sold-out', { n: 1 }))).toBe(
    'It should be refused with sold-out {"n":1}, and is refused with too-few {"coins":3}.',
  )
  expect(why(() => expect(match).toShow('heron', { 'stall.purses.otter.coins': 3 }))).toBe(
    'The view of heron differs:\n  stall.purses.otter.coins\n    expected   3\n    found      nothing',
  )
  expect(why(() => expect(match).toHide('otter', 'stall.purses.otter.coins'))).toMatch(/expected {3}nothing/)
  expect(why(() => expect(match).toTell('heron', 'stall.sold'))).toBe(
    'heron should be told stall.sold {}; its notices are: none.',
  )
  match.addViewer('heron')
  expect(code(() => expect(match).toTell('heron', 'stall.sold'))).toBe('ZR_MATCH_MISUSED')
})

test('a record is cut into a scenario up to a moment, which gives the same; what no scenario can say is refused', () => {
  const { match, advance, record } = play()
  match.submit('otter', 'stall.sell', { n: 9 })
  match.reportAll('stall.paid', [
    { seat: 'otter', n: 4 },
    { seat: 'heron', n: 0 },
  ])
  advance('1.5s')
  match.submit('otter', 'stall.sell', { n: 5 })
  advance('9s')
  match.submit('heron', 'stall.sell', { n: 1 })
  const cut = cutScenario(book, record(), { at: 4600 })
  expect(cut).toMatchObject({
    scenario: 'stall up to 0:04.500',
    seats: ['otter', 'heron'],
    lobby: true,
    seed: 'fair-1',
  })
  expect(cut.settings).toBeUndefined()
  expect(cut.steps.slice(2)).toEqual([
    { at: '0:03', act: 'stall.sell', seat: 'otter', input: { n: 9 }, refused: 'too-few' },
    {
      at: '0:03',
      report: 'stall.paid',
      inputs: [
        { seat: 'otter', n: 4 },
        { seat: 'heron', n: 0 },
      ],
      refused: [null, 'nothing-paid'],
    },
    { at: '0:04.500', act: 'stall.sell', seat: 'otter', input: { n: 5 }, ...cut.steps.at(-1) },
  ])
  expect(cut.steps.at(-1)?.shows).toEqual({
    otter: { 'stall.purses.otter.coins': 2, 'stall.purses.otter.sold': 5 },
    heron: { 'stall.purses.otter.sold': 5 },
  })
  expect(runScenario(book, cut).unmet).toEqual([])
  expect(
    runScenario(book, {
      ...cut,
      steps: [...cut.steps.slice(0, 3), { ...cut.steps[3], refused: [null, null] }],
    }).unmet,
  ).toHaveLength(1)
  expect(cutScenario(book, record(), { line: 4, scenario: 'two sit down' }).scenario).toBe('two sit down')
  const hex: string[] = []
  const bytes = beginMatch(book, { seed: new Uint8Array(32), record: (line) => hex.push(line) })
  bytes.direct('roster.join', { seat: 'otter', name: 'Otter' })
  expect(code(() => cutScenario(book, hex.join('\n')))).toBe('ZR_RECORD_NO_SCENARIO')
})
