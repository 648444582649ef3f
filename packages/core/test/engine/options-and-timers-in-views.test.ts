import { expect, test } from 'vitest'
import {
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  only,
  owner,
  perSeat,
  refuse,
  seatRef,
  single,
  table,
} from 'zinc-referee'
import { inPhase } from 'zinc-referee/rules'
import { playMatch, ViewCopies } from 'zinc-referee/testing'

const lamps = defineRule({
  name: 'lamps',
  state: {
    oil: perSeat({ left: int(2).seenBy(owner) }),
    quay: single({ lit: int(0).seenBy(everyone), secret: int(0) }),
  },
  timers: {
    burn: { clock: 'match', seenBy: everyone, fire() {} },
    wick: { clock: 'match', seenBy: owner, fire() {} },
    plan: { clock: 'match', fire() {} },
  },
  actions: {
    light: {
      offered: true,
      input: { drops: int() },
      options: () => [3, 1, 2].map((drops) => ({ drops })),
      decide(match, seat, { drops }) {
        const oil = match.own.oil.of(seat)
        if (oil.left < drops) return refuse('no-oil')
        oil.left -= drops
        match.own.quay.lit += 1
        match.timers.start('burn', { key: seat, in: drops * 1000 })
        match.timers.start('wick', { key: seat, in: 500 })
        match.timers.start('plan', { key: seat, in: 900 })
      },
    },
  },
  directives: {
    hide: {
      input: { value: int() },
      handle(match, { value }) {
        match.own.quay.secret = value
      },
    },
  },
})
const book = defineRulebook({ name: 'lamps', seats: { min: 1, max: 2 }, rules: [lamps] })

function open() {
  const match = beginMatch(book, { seed: 'fair-1' })
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  match.direct('phases.start', {})
  match.advanceTo(3000)
  const copies = new ViewCopies(match)
  copies.addViewer('otter', 'heron', 'spectator')
  const flush = () => {
    const updates = copies.flush()
    expect(copies.differences()).toEqual([])
    return updates
  }
  return { match, flush }
}

test('offered options stand in the own view, sorted, and nowhere else; what is offered is accepted', () => {
  const { match, flush } = open()
  expect(match.view('otter').lamps.options).toEqual({ light: [{ drops: 1 }, { drops: 2 }] })
  expect(match.view('spectator').lamps.options).toBeUndefined()
  expect(match.submit('otter', 'lamps.light', { drops: 1 })).toEqual({ ok: true })
  flush()
  expect(match.view('otter').lamps.options).toEqual({ light: [{ drops: 1 }] })
  match.direct('phases.pause', {})
  flush()
  expect(match.view('otter').lamps.options).toEqual({ light: [] })
})

test('a timer that is seen stands in the views of those who may see it, until it has fired', () => {
  const { match, flush } = open()
  match.submit('otter', 'lamps.light', { drops: 2 })
  flush()
  expect(match.view('otter').lamps.timers).toEqual({ burn: { otter: 5000 }, wick: { otter: 3500 } })
  expect(match.view('heron').lamps.timers).toEqual({ burn: { otter: 5000 }, wick: {} })
  match.advanceTo(3500)
  flush()
  expect(match.view('otter').lamps.timers?.wick).toEqual({})
})

test('what changes no option and no timer that is seen sends nothing', () => {
  const { match, flush } = open()
  flush()
  match.direct('lamps.hide', { value: 3 })
  expect(flush()).toEqual([])
})

test('a timer that runs for a row stands under the id that a viewer knows, and not at all where it sees no such row', () => {
  const candles = defineRule({
    name: 'candles',
    state: {
      lit: table({ holder: seatRef() }).seenWhen({ holder: (candle) => only(candle.holder) }),
    },
    timers: { out: { clock: 'match', seenBy: everyone, fire() {} } },
    directives: {
      light: {
        input: { holder: seatRef() },
        handle: (match, { holder }) =>
          match.timers.start('out', { key: match.own.lit.add({ holder }).id, in: 5000 }),
      },
    },
  })
  const match = beginMatch(defineRulebook({ name: 'candles', seats: { min: 1, max: 2 }, rules: [candles] }), {
    seed: 'fair-1',
  })
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  match.direct('candles.light', { holder: 'otter' })
  const { lit, timers } = match.view('otter').candles
  expect(timers?.out).toEqual({ [Object.keys(lit)[0] ?? '']: 5000 })
  expect(match.view('heron').candles.timers?.out).toEqual({})
})

test('a viewer that is opened again begins afresh: what its view contains is not sent again, others are told', () => {
  const jars = defineRule({
    name: 'jars',
    state: { jars: table({ n: int(0).seenBy(everyone) }) },
    events: { filled: { n: int().seenBy(everyone) } },
    facts: {
      fill: {
        input: {},
        handle(match) {
          for (const { id } of match.own.jars.all()) match.own.jars.remove(id)
          const { n } = match.own.jars.add({ n: match.own.jars.all().length + 1 })
          match.emit('filled', { n })
        },
      },
    },
  })
  const { match } = playMatch(defineRulebook({ name: 'jars', seats: { min: 2, max: 2 }, rules: [jars] }), [
    'otter',
    'heron',
  ])
  for (const viewer of ['otter', 'heron']) match.addViewer(viewer)
  match.report('jars.fill', {})
  match.flush()
  match.report('jars.fill', {})
  const { view, notices } = match.addViewer('otter')
  expect(JSON.parse(view)).toEqual(match.view('otter'))
  expect(notices.filter(({ name }) => name === 'jars.filled')).toHaveLength(2)
  expect(match.flush().map(({ viewer }) => viewer)).toEqual(['heron'])
  match.report('jars.fill', {})
  expect(match.flush().map(({ viewer }) => viewer)).toEqual(['otter', 'heron'])
})

test('an event cannot be announced by what only looks: options that try are a fault, and nobody is notified', () => {
  const bell = defineRule({
    name: 'bell',
    events: { rung: { n: int().seenBy(everyone) } },
    actions: {
      ring: {
        when: inPhase('lobby'),
        input: { n: int() },
        options(match) {
          match.emit('rung', { n: 1 })
          return [{ n: 1 }]
        },
        decide() {},
      },
    },
  })
  const book = defineRulebook({ name: 'bells', seats: { min: 1, max: 2 }, rules: [bell] })
  const match = beginMatch(book, { seed: 'fair-1' })
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  match.addViewer('otter')
  expect(match.options('otter', 'bell.ring')).toEqual([])
  expect(match.faults.map(({ handler }) => handler)).toEqual(['bell options ring'])
  expect(match.flush()).toEqual([])
})

test('notices of one step are sorted by what they say: numbers by their value, not by their digits', () => {
  const bell = defineRule({
    name: 'bell',
    events: { rung: { n: int().seenBy(everyone) } },
    facts: {
      peal: {
        when: inPhase('lobby'),
        input: {},
        handle(match) {
          for (const n of [100, 9, 20]) match.emit('rung', { n })
        },
      },
    },
  })
  const book = defineRulebook({ name: 'bells', seats: { min: 1, max: 2 }, rules: [bell] })
  const match = beginMatch(book, { seed: 'fair-1' })
  match.addViewer('spectator')
  match.report('bell.peal', {})
  const [update] = match.flush()
  expect(update?.notices.map(({ cells }) => cells['n'])).toEqual([9, 20, 100])
  match.advanceTo(6000)
  expect(match.snapshot().notices).toBeUndefined()
})
