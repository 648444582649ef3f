import { expect, test } from 'vitest'
import { defineRule, int, list, maybe, refuse, single, text } from 'zinc-referee'
import { begin } from '../fixtures/begin-with.ts'

const bells = defineRule({
  name: 'bells',
  state: { tower: single({ heard: list(text(), []) }) },
  timers: {
    lapse: { clock: 'match', band: 'lapse', fire: (match, key) => ring(match, `lapse ${key}`) },
    inner: { clock: 'match', band: 'inner', fire: (match, key) => ring(match, `inner ${key}`) },
    outer: { clock: 'match', band: 'outer', fire: (match, key) => ring(match, `outer ${key}`) },
    effect: {
      clock: 'match',
      fire(match, key) {
        ring(match, `effect ${key}`)
        if (key === 'chain') match.timers.start('lapse', { in: 0, key: 'chained' })
      },
    },
    beat: {
      clock: 'match',
      fire: (match) => {
        ring(match, `beat ${match.time.match}`)
        if (match.time.match === 200) throw new Error('missed')
      },
    },
    endless: { clock: 'match', fire: (match) => match.timers.start('endless', { in: 0 }) },
    cooldown: { clock: 'match' },
  },
  directives: {
    start: {
      input: { timer: text(), at: int(0), every: maybe(int()), key: text('') },
      handle(match, { timer, at, every, key }) {
        match.timers.start(timer as 'lapse', every === undefined ? { at, key } : { every, key })
      },
    },
    shift: {
      input: { by: int() },
      handle(match, { by }) {
        match.timers.postpone('outer', by)
      },
    },
    ask: {
      input: {},
      handle: (match) =>
        refuse('asked', { runs: match.timers.runs('cooldown'), left: match.timers.left('cooldown') }),
    },
  },
})
function ring(match: any, what: string) {
  match.own.tower.heard = [...match.own.tower.heard, what]
}

test('timers of one instant fire by band, then by order of starting; each with its due as now', () => {
  const match = begin(bells)
  for (const [timer, at] of [
    ['effect', 100],
    ['outer', 100],
    ['inner', 100],
    ['lapse', 100],
    ['lapse', 99],
  ] as const)
    match.direct('bells.start', { timer, at, key: `${at}` })
  match.direct('bells.start', { timer: 'effect', at: 100, key: 'chain' })
  match.direct('bells.shift', { by: 0 })
  expect(match.nextDue).toBe(99)
  match.advanceTo(500)
  expect(match.state.bells.tower.heard).toEqual([
    'lapse 99',
    'lapse 100',
    'inner 100',
    'outer 100',
    'effect 100',
    'effect chain',
    'lapse chained',
  ])
})

test('a repeating timer does not drift, and a fault does not stop its beat', () => {
  const match = begin(bells)
  match.direct('bells.start', { timer: 'beat', every: 100 })
  match.advanceTo(450)
  expect(match.state.bells.tower.heard).toEqual(['beat 100', 'beat 300', 'beat 400'])
  expect(match.nextDue).toBe(500)
  expect(match.faults).toMatchObject([{ at: 200, handler: 'bells timer beat' }])
})

test('timers that start each other at one ms for ever end as a fault, not as a hang', () => {
  const match = begin(bells)
  match.direct('bells.start', { timer: 'endless', at: 5 })
  match.advanceTo(10)
  expect(match.faults[0]?.error).toMatchObject({ code: 'ZR_MATCH_CHAIN' })
  expect(match.now).toBe(10)
})

test('a timer without a handler is a cooldown that is only asked for', () => {
  const match = begin(bells)
  match.direct('bells.start', { timer: 'cooldown', at: 300 })
  match.advanceTo(100)
  expect(match.direct('bells.ask', {})).toMatchObject({ details: { runs: true, left: 200 } })
  match.advanceTo(300)
  expect(match.direct('bells.ask', {})).toMatchObject({ details: { runs: false, left: 0 } })
})

test('advancing in parts is the same as at once, and an idle match sends nothing', () => {
  const [whole, parts] = [begin(bells), begin(bells)]
  for (const match of [whole, parts]) match.direct('bells.start', { timer: 'beat', every: 70 })
  whole.advanceTo(1000)
  for (let t = 0; t <= 1000; t += 13) parts.advanceTo(Math.min(t, 1000))
  parts.advanceTo(1000)
  expect(parts.hash()).toBe(whole.hash())
  whole.addViewer('spectator')
  whole.advanceTo(1001)
  expect(whole.flush()).toEqual([])
})

test('a timer may repeat every ms, and not more often', () => {
  const match = begin(bells)
  expect(match.direct('bells.start', { timer: 'beat', every: 1 })).toEqual({ ok: true })
  match.advanceTo(3)
  expect(match.state.bells.tower.heard).toEqual(['beat 1', 'beat 2', 'beat 3'])
  expect(match.direct('bells.start', { timer: 'beat', every: 0 })).toMatchObject({ code: 'fault' })
  expect(String(match.faults.at(-1)?.error)).toMatch(/'beat' was to repeat every 0 ms. .*at least 1 ms/)
})
