import { expect, test } from 'vitest'
import {
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  json,
  type Ruling,
  resumeMatch,
  rowOf,
  single,
  table,
  text,
} from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'
import { z } from 'zod'
import { begin } from '../fixtures/begin-with.ts'
import { code } from '../fixtures/error-code.ts'
import { at, fight, hit, type SkirmishMatch, skirmish } from '../fixtures/fight-mode.ts'

const seats = { min: 2, max: 4 }

const refusals: [string, string, (match: SkirmishMatch) => Ruling][] = [
  ['an unknown action', 'unknown-action', (m) => m.submit('otter', 'moves.fly' as 'moves.wave', {})],
  [
    'a fact handed in as an action',
    'unknown-action',
    (m) => m.submit('otter', 'moves.hit' as 'moves.wave', {}),
  ],
  ['an unknown fact', 'unknown-action', (m) => m.report('moves.flown' as 'moves.hit', { target: 'otter' })],
  ['an input that is no object', 'bad-input', (m) => m.submit('otter', 'moves.plan', 'north' as never)],
  ['a missing cell', 'bad-input', (m) => m.submit('otter', 'moves.plan', {} as never)],
  ['a cell of another kind', 'bad-input', (m) => m.submit('otter', 'moves.plan', { plan: 3 } as never)],
  [
    'a cell that is not there',
    'bad-input',
    (m) => m.submit('otter', 'moves.plan', { plan: 'x', extra: 1 } as never),
  ],
  [
    'a number out of its bounds',
    'bad-input',
    (m) => m.submit('otter', 'moves.aim', { at: 'heron', times: 4 }),
  ],
  ['a fraction', 'bad-input', (m) => hit(m, 'otter', 'heron', 1.5)],
  ['a seat that is not there', 'unknown-seat', (m) => m.submit('oter', 'moves.wave', {})],
  ['a target that is not there', 'no-such-target', (m) => m.submit('otter', 'moves.aim', { at: 'hero' })],
  ['a fact about a seat that is not there', 'no-such-target', (m) => hit(m, 'hero', 'otter')],
  [
    'a join with a taken id',
    'seat-taken',
    (m) => m.direct('roster.join', { seat: 'otter', name: 'Other', player: 'p2' }),
  ],
  [
    'a join with an id kept for spectators',
    'bad-input',
    (m) => m.direct('roster.join', { seat: 'spectator-9', name: 'Eve' }),
  ],
]
test.each(refusals)('%s is refused as %s, with a fix, and nothing changes', (_what, wanted, ask) => {
  const { match } = fight()
  match.addViewer('spectator')
  match.flush()
  const before = match.hash()
  const ruling = ask(match)
  expect(ruling).toMatchObject({ ok: false, code: wanted })
  expect(!ruling.ok && match.explain(ruling)).toMatch(/\. \S/)
  expect(match.hash()).toBe(before)
  expect(match.flush()).toEqual([])
  expect(match.faults).toEqual([])
})

test('before the start, while down, after leaving, after the end, after the close: each its own code', () => {
  const waiting = beginMatch(skirmish, { seed: 'fair-1' })
  for (const seat of ['otter', 'heron']) waiting.direct('roster.join', { seat, name: seat })
  expect(waiting.submit('otter', 'moves.wave', {})).toMatchObject({ code: 'not-started' })
  const { match } = fight()
  hit(match, 'otter', 'heron', 100)
  at(match, 1)
  expect(match.submit('otter', 'voice.shout', {})).toMatchObject({ code: 'down' })
  match.submit('vole', 'roster.leave', {})
  expect(match.submit('vole', 'moves.wave', {})).toMatchObject({ code: 'left' })
  expect(hit(match, 'vole', 'heron')).toMatchObject({ code: 'not-in-play' })
  at(match, 300_000)
  expect(match.submit('heron', 'moves.wave', {})).toMatchObject({ code: 'over' })
  match.close()
  expect(match.submit('heron', 'moves.wave', {})).toMatchObject({ code: 'closed' })
  expect(hit(match, 'heron', 'otter')).toMatchObject({ code: 'closed' })
})

test('the same id twice is decided once and answered twice; for something else it is refused', () => {
  const { match } = fight()
  const first = match.submit('otter', 'moves.plan', { plan: 'north' }, { id: 7 })
  const before = match.hash()
  expect(match.submit('otter', 'moves.plan', { plan: 'north' }, { id: 7 })).toEqual(first)
  expect(match.submit('otter', 'moves.plan', { plan: 'south' }, { id: 7 })).toMatchObject({
    code: 'id-reused',
    details: { id: 7 },
  })
  expect(match.hash()).toBe(before)
  expect(match.submit('heron', 'moves.plan', { plan: 'south' }, { id: 7 })).toEqual({ ok: true })
})

test('an id that came with what no action takes is remembered, too; rows do not tell two inputs apart', () => {
  const stall = defineRule({
    name: 'stall',
    state: { tins: table({ n: int(0).seenBy(everyone) }) },
    actions: { take: { input: { tin: rowOf('tins'), much: int() }, decide() {} } },
  })
  const match = begin(stall)
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  const take = (id: number, tin: string, much: unknown) =>
    match.submit('otter', 'stall.take', { tin, much }, { id }).code
  const first = [take(1, 'a', 'lots'), take(1, 'a', 'lots'), take(1, 'a', 'more')].join(' ')
  const second = [take(2, 'a', 1), take(2, 'b', 1), take(2, 'b', 2)].join(' ')
  expect([first, second]).toEqual([
    'bad-input bad-input id-reused',
    'no-such-target no-such-target id-reused',
  ])
})

test('a client that counts has its last 32 rulings again, and an older number is stale; of texts the last 64 count', () => {
  const { match, replay } = playMatch(counting, ['otter', 'heron'])
  const count = (id: string | number) => match.submit('otter', 'counting.count', {}, { id })
  const counted = () => match.state.counting.sum.n
  for (let id = 1; id <= 40; id++) count(id)
  expect([count(40), count(9), counted()]).toEqual([{ ok: true }, { ok: true }, 40])
  expect([count(8), count(1), counted()]).toMatchObject([{ code: 'stale-id' }, { code: 'stale-id' }, 40])
  expect(match.submit('heron', 'counting.count', {}, { id: 1 })).toEqual({ ok: true })
  for (let n = 0; n < 70; n++) count(`tap-${n}`)
  expect([count('tap-69'), count('tap-6'), counted()]).toEqual([{ ok: true }, { ok: true }, 111])
  expect([count('tap-5'), counted()]).toEqual([{ ok: true }, 112]) // decided again
  const resumed = resumeMatch(counting, JSON.parse(JSON.stringify(match.snapshot())))
  expect(resumed.submit('otter', 'counting.count', {}, { id: 8 })).toMatchObject({ code: 'stale-id' })
  expect(resumed.submit('otter', 'counting.count', {}, { id: 40 })).toEqual({ ok: true })
  expect(resumed.state.counting.sum.n).toBe(112)
  expect(replay().differs).toBeUndefined()
})

test('what is too long, too deep or no way to come is refused, and nothing throws', () => {
  const { match, replay }: any = playMatch(counting, ['otter', 'heron'])
  let deep: unknown = 1
  for (let n = 0; n < 20_000; n++) deep = [deep]
  const submit = (input: unknown, how?: unknown) => match.submit('otter', 'counting.say', input, how).code
  const words = (text: string) => ({ text, more: null })
  expect(submit(words('reed'))).toBeUndefined()
  expect(submit(words('x'.repeat(65_537)))).toBe('bad-input')
  expect(submit({ text: 'reed', more: deep })).toBe('bad-input')
  expect(submit({ text: deep, more: null }, { id: 3 })).toBe('bad-input')
  expect(submit({ text: 'reed', more: { a: undefined, b: [1] } })).toBeUndefined()
  expect(submit(words('reed'), null)).toBeUndefined()
  expect(submit(words('reed'), { id: {} })).toBe('bad-input')
  expect(submit(words('reed'), { id: 'x'.repeat(129) })).toBe('bad-input')
  expect(match.report('counting.none', {}, null).code).toBe('unknown-action')
  for (const odd of [undefined, null, 7, {}, ['counting.say']]) {
    expect(match.submit('otter', odd, {}).code).toBe('unknown-action')
    expect(match.submit(odd, 'counting.say', words('reed')).code).toBe('unknown-seat')
    expect([match.report(odd, {}).code, match.reportAll(odd, [{}])[0].code]).toEqual(
      Array(2).fill('unknown-action'),
    )
    expect(match.direct(odd, {}).code).toBe('unknown-action')
  }
  expect(match.faults).toEqual([])
  expect(replay().differs).toBeUndefined()
})

test('time that goes back, or is no whole number, is an error and changes nothing', () => {
  const { match } = fight()
  expect(code(() => match.advanceTo(2999))).toBe('ZR_MATCH_TIME_BACK')
  expect(code(() => match.advanceTo(3000.5))).toBe('ZR_TIME_NOT_WHOLE')
  expect(match.now).toBe(3000)
})

const counting = defineRulebook({
  name: 'counting',
  seats: { min: 1, max: 2 },
  rules: [
    defineRule({
      name: 'counting',
      state: { sum: single({ n: int(0) }), last: single({ more: json(z.any(), null), text: text('') }) },
      actions: {
        count: {
          input: {},
          decide(match) {
            match.own.sum.n += 1
          },
        },
        say: {
          input: { text: text(), more: json(z.any()) },
          decide(match, _, said) {
            Object.assign(match.own.last, said)
          },
        },
      },
    }),
  ],
})

test('a handler that hands an input to its own match is a fault', () => {
  let handle: any
  const loop = defineRule({
    name: 'loop',
    directives: { go: { input: {}, handle: () => handle.direct('loop.go', {}) } },
  })
  handle = beginMatch(defineRulebook({ name: 'b', seats, rules: [loop] }), { seed: 'x' })
  expect(handle.direct('loop.go', {})).toMatchObject({ code: 'fault' })
  expect(handle.faults[0].error.code).toBe('ZR_MATCH_REENTERED')
})

test('a rule brings the texts of its codes; a code without one is shown as it is', () => {
  const gate = defineRule({
    name: 'gate',
    refusals: { 'gate-shut': 'The gate is shut. Wait for high tide.' },
  })
  const { match } = playMatch(defineRulebook({ name: 'lock', seats: { min: 1, max: 2 }, rules: [gate] }), [
    'otter',
  ])
  const said = (code: string) => match.explain({ ok: false, code })
  expect([said('gate-shut'), said('own-raft')]).toEqual([
    'The gate is shut. Wait for high tide.',
    'The rules of this mode refuse it: own-raft.',
  ])
  expect(match.describe().rules.find(({ name }) => name === 'gate')?.refusals).toHaveProperty('gate-shut')
})
