import { expect, test } from 'vitest'
import {
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  list,
  maybe,
  minutes,
  owner,
  replayRecord,
  rowOf,
  single,
  table,
} from 'zinc-referee'
import { condition, pilesOf, roster, rounds, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { code } from '../fixtures/error-code.ts'

const seats = { min: 1, max: 2 }
const bookOf = (...rules: any[]) => defineRulebook({ name: 'stall', seats, rules } as any) as any

const shelf = defineRule({
  name: 'shelf',
  state: {
    row: single({ jars: list(int(), []).seenBy(everyone) }),
    jars: table({ size: int().seenBy(everyone) }),
  },
  timers: { dusting: { clock: 'match', seenBy: everyone, fire() {} } },
  events: { broken: { jar: rowOf('jars').seenBy(everyone), pence: int().seenBy(everyone) } },
  facts: {
    put: {
      input: { jars: list(int()), price: int().between(0, 99) },
      handle(match, { jars }) {
        match.own.row.jars = jars
        match.timers.start('dusting', { in: 500 })
      },
    },
    price: { input: { pence: int().between(0, 99) }, handle() {} },
    break: {
      input: {},
      handle: (match) => match.emit('broken', { jar: match.own.jars.add({ size: 3 }).id, pence: 7 }),
    },
  },
})
const clock = defineRule({
  name: 'clock',
  timers: { strike: { clock: 'match', seenBy: everyone, fire() {} } },
  facts: { wind: { input: {}, handle: (match) => match.timers.start('strike', { in: 900 }) } },
})

test('of a list that changes in its middle only that is sent', () => {
  const { match } = playMatch(bookOf(shelf), ['otter']) as any
  const put = (...jars: number[]) => {
    match.report('shelf.put', { jars, price: 1 })
    const [update] = match.flush()
    return JSON.parse(update.patch).filter(({ path }: any) => path.startsWith('/shelf/row'))
  }
  match.addViewer('spectator')
  const long = [
    1000, 1001, 1002, 1003, 1004, 1005, 1006, 1007, 1008, 1009, 1010, 1011, 1012, 1013, 1014, 1015, 1016,
  ]
  const many = [...long, ...long, ...long].map((n, at) => n * 1_000_000_000 + at)
  put(...many)
  const at = '/shelf/row/jars'
  expect(put(...many.with(2, 7).with(3, 8))).toEqual([
    { op: 'replace', path: `${at}/2`, value: 7 },
    { op: 'replace', path: `${at}/3`, value: 8 },
  ])
  expect(put(...many.with(2, 7).with(3, 8).toSpliced(4, 0, 9, 10))).toEqual([
    { op: 'add', path: `${at}/4`, value: 9 },
    { op: 'add', path: `${at}/5`, value: 10 },
  ])
})

test('a number beyond its bounds is refused, alone in an input and beside others', () => {
  const { match } = playMatch(bookOf(shelf), ['otter']) as any
  const codes = [-1, 100, 99].map((pence) => match.report('shelf.price', { pence }).code)
  expect(codes).toEqual(['bad-input', 'bad-input', undefined])
  expect(match.report('shelf.put', { jars: [], price: 100 }).code).toBe('bad-input')
})

test('each rule has its own timers in the view', () => {
  const { match } = playMatch(bookOf(shelf, clock), ['otter']) as any
  match.report('shelf.put', { jars: [], price: 1 })
  match.report('clock.wind', {})
  const { shelf: one, clock: other } = match.view('spectator')
  expect([Object.keys(one.timers), Object.keys(other.timers)]).toEqual([['dusting'], ['strike']])
})

test('a snapshot keeps notices without the rows that they name', () => {
  const { match } = playMatch(bookOf(shelf), ['otter']) as any
  match.report('shelf.break', {})
  const broken = match.snapshot().notices.filter(({ name }: any) => name === 'shelf.broken')
  expect(broken.map(({ cells }: any) => cells)).toEqual([{ pence: 7 }])
})

test('an event for an owner needs the seat that owns it', () => {
  const lone = defineRule({ name: 'lone', events: { rung: { times: int().seenBy(owner) } } } as any)
  expect(code(() => bookOf(lone))).toBe('ZR_RULE_EVENT_WITHOUT_OWNER')
})

test('a condition that says nothing of time up does not decide a timed round', () => {
  const never = condition({ name: 'never', judge: () => undefined })
  expect(code(() => bookOf(rounds({ length: minutes(1) }), verdict({ when: [never] })))).toBe(
    'ZR_RULEBOOK_NO_TIME_CONDITION',
  )
})

test('as many cards can be drawn as lie in the deck and in what refills it', () => {
  const cards = pilesOf('cards', int(), { deck: 'deck', heap: 'top' }, { refill: { deck: 'heap' } })
  const table = defineRule({
    name: 'table',
    needs: [cards, roster],
    facts: {
      draw: {
        input: { count: int() },
        handle: (match, { count }) => match.use(cards).draw({ seat: 'otter', from: 'deck', count }),
      },
    },
    setUp(match) {
      match.use(cards).fill('deck', [1, 2])
      match.use(cards).fill('heap', [3, 4, 5])
    },
  })
  const { match } = playMatch(bookOf(cards({ short: 'refuse' }), table), ['otter']) as any
  const hand = () =>
    Object.values<any>(match.view('otter').cards.cards).filter(({ place }) => place === 'hand').length
  const draws = [6, 4].map((count) => match.report('table.draw', { count }).code)
  expect(draws).toEqual(['pile-empty', undefined])
  expect(hand()).toBe(4)
})

test('an id, life, turn or time that is not a whole number is refused, and the record replays', () => {
  const lines: string[] = []
  const book = bookOf(shelf)
  const match = beginMatch(book, { seed: 'fair-1', record: (line: string) => lines.push(line) }) as any
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  const wrong = [Number.NaN, Number.POSITIVE_INFINITY, 1.5, null, 'q']
  const codes = wrong.flatMap((each) => [
    match.submit('otter', 'roster.ready', {}, { life: each }).code,
    match.submit('otter', 'roster.ready', {}, { turn: each }).code,
    match.report('shelf.break', {}, { at: each }).code,
    match.reportAll('shelf.break', [{}], { at: each })[0].code,
    ...(each === 'q' ? [] : [match.submit('otter', 'roster.ready', {}, { id: each }).code]),
  ])
  expect(new Set(codes)).toEqual(new Set(['bad-input']))
  match.close()
  expect(replayRecord(book, lines.join('\n')).differs).toBeUndefined()
})

test('a null inside a list, or inside lists in a list, is nothing to the rule that hears of it', () => {
  const heard: unknown[] = []
  const input = { rows: list(list(maybe(int()))), best: maybe(list(maybe(int()))) }
  const read = { input, handle: (_: unknown, { rows, best }: any) => void heard.push(rows, best) }
  const board = defineRule({ name: 'board', facts: { read } })
  const { match } = playMatch(bookOf(board), ['otter']) as any
  expect(match.report('board.read', { rows: [[1, null], []], best: [null, 2] })).toEqual({ ok: true })
  expect(match.report('board.read', { rows: [], best: null })).toEqual({ ok: true })
  expect(heard).toEqual([[[1, undefined], []], [undefined, 2], [], undefined])
  for (const rows of [[null], 7]) expect(match.report('board.read', { rows }).code).toBe('bad-input')
})
