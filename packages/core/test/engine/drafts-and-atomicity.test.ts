import { expect, test } from 'vitest'
import {
  amount,
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  refuse,
  single,
  table,
  text,
  time,
} from 'zinc-referee'
import { inPhase, scores } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { begin } from '../fixtures/begin-with.ts'

const purse = defineRule({
  name: 'purse',
  state: { money: single({ coins: int(0).seenBy(everyone), secret: int(0) }) },
  drafts: { pay: { price: amount(10).between(0, 1000), kind: text('toll') } },
  events: { paid: { price: int() } },
  apply: {
    pay(match, { price }) {
      match.own.money.coins += price
      match.emit('paid', { price })
    },
  },
  directives: {
    pay: {
      input: { price: int(10), kind: text('toll') },
      handle: (match, input) => match.resolve('pay', input),
    },
    price: {
      input: { price: int(10) },
      handle: (match, { price }) => refuse('priced', { ...match.weigh('pay', { price }) }),
    },
  },
})
const amend = (name: string, how: (draft: any) => any) =>
  defineRule({ name, needs: [purse], amend: { 'purse.pay': (_match, draft) => how(draft) } })

test('amendments commute: the result does not depend on the order of the rules', () => {
  const rules = [
    amend('a', (d) => d.price.add(5)),
    amend('b', (d) => d.price.times(1.5)),
    amend('c', (d) => d.price.times(0.5)),
    amend('d', (d) => d.price.atMost(90)),
  ]
  for (const order of [rules, [...rules].reverse()]) {
    const match = begin(purse, ...order)
    match.direct('purse.pay', { price: 20 })
    expect(match.state.purse.money.coins).toBe(18)
  }
})

test('a factor is multiplied exactly: 100 × 1.15 is 115, and atMost beats atLeast', () => {
  const exact = begin(
    purse,
    amend('a', (d) => d.price.times(1.15)),
  )
  exact.direct('purse.pay', { price: 100 })
  expect(exact.state.purse.money.coins).toBe(115)
  const bounded = begin(
    purse,
    amend('a', (d) => d.price.atLeast(50)),
    amend('b', (d) => d.price.atMost(40)),
  )
  expect(bounded.direct('purse.price', { price: 1 })).toMatchObject({
    code: 'priced',
    details: { price: 40 },
  })
  expect(bounded.state.purse.money.coins).toBe(0)
})

test('an amendment refuses with its own code, or runs something only when the draft is applied', () => {
  const spent = defineRule({
    name: 'token',
    needs: [purse],
    state: { left: single({ tokens: int(1) }) },
    amend: {
      'purse.pay'(match, draft) {
        if (match.own.left.tokens === 0) return refuse('no-token')
        draft.whenApplied((later) => {
          later.own.left.tokens -= 1
        })
        return undefined
      },
    },
  })
  const match = begin(purse, spent)
  expect(match.direct('purse.pay', { price: -1 })).toMatchObject({ code: 'bad-input' })
  expect(match.state.token.left.tokens).toBe(1)
  expect(match.direct('purse.pay', {})).toEqual({ ok: true })
  expect(match.state.token.left.tokens).toBe(0)
  expect(match.direct('purse.pay', {})).toMatchObject({ code: 'no-token' })
})

test('an amendment that writes is a fault, and nothing was paid', () => {
  const match = begin(
    purse,
    defineRule({
      name: 'thief',
      needs: [purse],
      state: { hoard: single({ coins: int(0) }) },
      amend: {
        'purse.pay'(m) {
          m.own.hoard.coins += 1
        },
      },
    }),
  )
  expect(match.direct('purse.pay', {})).toMatchObject({ code: 'fault' })
  expect(match.state.purse.money.coins).toBe(0)
  expect(match.faults[0]).toMatchObject({ handler: 'thief amend purse.pay', during: 'purse.pay' })
})

test('a throw takes the whole step back, even where a rule catches it; the match goes on', () => {
  const shaky = defineRule({
    name: 'shaky',
    needs: [purse],
    state: { notes: table({ n: int() }), seen: single({ last: int(0).seenBy(everyone) }) },
    timers: { later() {} },
    directives: {
      fall: {
        input: { how: text() },
        handle(match, { how }) {
          match.own.notes.add({ n: 1 })
          match.timers.start('later', { in: 5 })
          match.chance('x').int(1, 6)
          match.own.seen.last = 7
          match.use(purse).pay({})
          try {
            if (how === 'cell') match.own.seen.last = Number.NaN
            if (how === 'draft') match.use(purse).pay({ price: 1.5 })
            if (how === 'timer') match.timers.start('later', { in: 0.5 })
            if (how === 'chance') match.chance('x').int(6, 1)
          } catch {}
          if (how === 'throw') throw new Error('fell')
        },
      },
    },
    on: {
      'purse.paid'(_match, { price }) {
        if (price === 13) throw new Error('unlucky')
      },
    },
  })
  const match = begin(purse, shaky)
  match.addViewer('spectator')
  match.flush()
  const before = match.hash()
  for (const how of ['cell', 'draft', 'timer', 'chance', 'throw']) {
    expect(match.direct('shaky.fall', { how }), how).toMatchObject({ ok: false, code: 'fault' })
    expect(match.hash()).toBe(before)
    expect(match.nextDue).toBeUndefined()
    expect(match.flush()).toEqual([])
  }
  expect(match.direct('purse.pay', { price: 13 })).toMatchObject({ code: 'fault' })
  expect(match.hash()).toBe(before)
  expect(match.direct('shaky.fall', { how: 'not at all' })).toEqual({ ok: true })
  expect(match.faults).toHaveLength(6)
})

test('a fact among several that writes, emits and refuses leaves nothing; those beside it stay', () => {
  const drop = defineRule({
    name: 'drop',
    needs: [purse],
    state: { last: single({ coins: int(0), at: time() }) },
    events: { dropped: { coins: int(), at: time() } },
    facts: {
      coins: {
        when: inPhase('lobby'),
        input: { coins: int(), at: time() },
        handle(match, { coins }) {
          match.own.last.coins += coins
          match.emit('dropped', { coins })
          return coins > 5 ? refuse('too-many') : undefined
        },
      },
    },
  })
  const match = begin(purse, drop)
  match.addViewer('server')
  const rulings = match.reportAll('drop.coins', [{ coins: 2 }, { coins: 9 }, { coins: 3 }])
  expect(rulings).toEqual([{ ok: true }, { ok: false, code: 'too-many' }, { ok: true }])
  expect(match.state.drop.last.coins).toBe(5)
  const dropped = match.flush()[0].events.filter(({ name }: any) => name === 'drop.dropped')
  expect(dropped.map(({ cells }: any) => cells.coins)).toEqual([2, 3])
})

test('a draft may have cells of any name, in either way of making its class', () => {
  for (const generateCode of [true, false]) {
    const dip = defineRule({
      name: 'dip',
      state: { sum: single({ paid: int(0) }) },
      drafts: { pay: { ok: int(), code: amount().between(0, 9), class: text('') } },
      apply: {
        pay(match, { ok, code }) {
          match.own.sum.paid += ok * 100 + code
        },
      },
      directives: {
        go: { input: { n: int() }, handle: (match, { n }) => match.resolve('pay', { ok: 1, code: n }) },
      },
    })
    const more = defineRule({
      name: 'more',
      needs: [dip],
      amend: { 'dip.pay': (_match, draft) => draft.code.add(draft.ok) },
    })
    const book = defineRulebook({ name: 'b', seats: { min: 1, max: 1 }, rules: [dip, more], generateCode })
    const match = beginMatch(book, { seed: 'x' })
    expect(match.direct('dip.go', { n: 4 })).toEqual({ ok: true })
    expect(match.state.dip.sum.paid).toBe(105)
    expect(match.direct('dip.go', { n: 12 })).toMatchObject({ code: 'bad-input' })
  }
})

test('a call or draft that was taken off its rule is a fault that says how to call it', () => {
  const shop = defineRule({
    name: 'shop',
    needs: [scores],
    facts: {
      call: {
        input: {},
        handle(match) {
          const { of } = match.use(scores)
          of('otter')
        },
      },
      draft: {
        input: {},
        handle(match) {
          const { give } = match.use(scores)
          return give({ seat: 'otter', amount: 1, reason: 'gift' })
        },
      },
    },
  })
  const { match } = playMatch(
    defineRulebook({ name: 'shop', seats: { min: 1, max: 2 }, rules: [scores, shop] }),
    ['otter'],
  )
  for (const [fact, name] of [
    ['shop.call', 'of'],
    ['shop.draft', 'give'],
  ] as const) {
    expect(match.report(fact, {})).toMatchObject({ code: 'fault' })
    expect(String(match.faults.at(-1)?.error)).toContain(
      `'${name}' of rule 'scores' was called by itself. Call it on what match.use gives: match.use(scores).${name}(…)`,
    )
  }
})
