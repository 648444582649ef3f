import { expect, test } from 'vitest'
import {
  amount,
  beginMatch,
  chanceFrom,
  declareRule,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  list,
  type MatchOf,
  maybe,
  nobody,
  num,
  owner,
  perSeat,
  type RuleLike,
  refuse,
  seatRef,
  single,
  table,
  text,
} from 'zinc-referee'
import { inPhase } from 'zinc-referee/rules'

/** A rule whose facts and directives can be called at once: its inputs do not wait for live play. */
const book = (...rules: RuleLike[]) =>
  defineRulebook({ name: 'workshop', seats: { min: 1, max: 3 }, rules } as any)
const begin = (...rules: RuleLike[]) => beginMatch(book(...rules), { seed: 'fair-1' }) as any

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
      obey: (match, input) => match.resolve('pay', input),
    },
    price: {
      input: { price: int(10) },
      obey: (match, { price }) => refuse('priced', { ...match.weigh('pay', { price }) }),
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
        obey(match, { how }) {
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
  match.open('spectator')
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
      obey(match, { timer, at, every, key }) {
        match.timers.start(timer as 'lapse', every === undefined ? { at, key } : { every, key })
      },
    },
    shift: {
      input: { by: int() },
      obey(match, { by }) {
        match.timers.shift('outer', by)
      },
    },
    ask: {
      input: {},
      obey: (match) =>
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
  whole.open('spectator')
  whole.advanceTo(1001)
  expect(whole.flush()).toEqual([])
})

const shape = declareRule({
  name: 'ledge',
  timers: ['fall'],
  state: {
    crew: perSeat({
      open: int(0).seenBy(everyone),
      own: int(0).seenBy(owner),
      none: int(0).seenBy(nobody),
      quiet: int(0),
      share: num(0.5).seenBy(everyone),
    }),
    things: table({ name: text().seenBy(everyone), hidden: int(0) }),
  },
  events: { told: { seat: seatRef().seenBy(everyone), purse: int().seenBy(owner), under: int() } },
})
function set(match: MatchOf<typeof shape>, seat: string, n: number) {
  const row = match.own.crew.of(seat)
  row.open = n
  row.own = n
  row.none = n
  row.quiet = n
}
const ledge = shape.does({
  actions: {
    set: {
      when: inPhase('lobby'),
      input: { n: int() },
      decide(match, seat, { n }) {
        set(match, seat, n)
      },
    },
  },
  directives: {
    tell: {
      input: { seat: seatRef() },
      obey: (match, { seat }) => match.emit('told', { seat, purse: 3, under: 4 }),
    },
    add: {
      input: { name: text(), drop: flag(false) },
      obey(match, { name, drop }) {
        const row = match.own.things.add({ name })
        if (drop) match.own.things.remove(row.id)
      },
    },
    drop: {
      input: { name: text() },
      obey(match, { name }) {
        for (const { id } of match.own.things.where({ name })) match.own.things.remove(id)
      },
    },
  },
  timers: { fall() {} },
})

test('a cell is in a view only where a sight was declared, and only for those it names', () => {
  const match = begin(ledge)
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  match.submit('otter', 'ledge.set', { n: 5 })
  expect(match.view('otter').ledge.crew).toEqual({
    otter: { open: 5, own: 5, share: 0.5 },
    heron: { open: 0, share: 0.5 },
  })
  expect(match.view('spectator').ledge.crew).toEqual({
    otter: { open: 5, share: 0.5 },
    heron: { open: 0, share: 0.5 },
  })
  expect(match.view('heron').roster.seats.otter).not.toHaveProperty('player')
})

test('viewers who see the same get the same string; rows appear and vanish as whole operations', () => {
  const match = begin(ledge)
  for (const viewer of ['spectator-1', 'spectator-2']) match.open(viewer)
  match.direct('ledge.add', { name: 'reed "1"/~' })
  match.direct('ledge.add', { name: 'gone at once', drop: true })
  const [one, two] = match.flush()
  expect(one.patch).toBe(two.patch)
  expect(JSON.parse(one.patch)).toMatchObject([{ op: 'add', value: { name: 'reed "1"/~' } }])
  match.direct('ledge.drop', { name: 'reed "1"/~' })
  expect(JSON.parse(match.flush()[0].patch)).toMatchObject([{ op: 'remove' }])
  expect(match.view('spectator-1').ledge.things).toEqual({})
})

test('a notice reaches those who may know it, each with what they may know, and ends after 6 s', () => {
  const match = begin(ledge)
  for (const seat of ['otter', 'heron']) match.direct('roster.join', { seat, name: seat })
  for (const viewer of ['otter', 'heron']) match.open(viewer)
  match.flush()
  match.direct('ledge.tell', { seat: 'otter' })
  const notices = Object.fromEntries(match.flush().map((update: any) => [update.viewer, update.notices]))
  expect(notices['otter']).toEqual([
    { name: 'ledge.told', at: 0, until: 6000, cells: { seat: 'otter', purse: 3 } },
  ])
  expect(notices['heron']).toEqual([{ name: 'ledge.told', at: 0, until: 6000, cells: { seat: 'otter' } }])
  match.advanceTo(5999)
  expect(match.open('spectator').notices.at(-1)).toMatchObject({ name: 'ledge.told' })
  match.advanceTo(6000)
  match.flush()
  expect(match.open('spectator').notices).toEqual([])
})

test('chance: each purpose has its own stream, bounds are inclusive, and shuffles are even', () => {
  const dice = chanceFrom('fair-1', 'dice')
  const seen = new Set(Array.from({ length: 200 }, () => dice.int(1, 6)))
  expect([...seen].sort()).toEqual([1, 2, 3, 4, 5, 6])
  expect(chanceFrom('fair-1', 'dice').shuffle([1, 2, 3, 4, 5])).toEqual(
    chanceFrom('fair-1', 'dice').shuffle([1, 2, 3, 4, 5]),
  )
  expect(chanceFrom('fair-1', 'deal').shuffle([1, 2, 3, 4, 5, 6, 7])).not.toEqual(
    chanceFrom('fair-1', 'dice').shuffle([1, 2, 3, 4, 5, 6, 7]),
  )
  const counts = new Map<string, number>()
  for (let n = 0; n < 24_000; n++) {
    const order = dice.shuffle(['a', 'b', 'c', 'd']).join('')
    counts.set(order, (counts.get(order) ?? 0) + 1)
  }
  const square = [...counts.values()].reduce((sum, count) => sum + (count - 1000) ** 2 / 1000, 0)
  expect(counts.size).toBe(24)
  expect(square).toBeLessThan(57.1) // χ² with 23 degrees, 1 in 10,000
})
