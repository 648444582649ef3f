import { expect, expectTypeOf, test } from 'vitest'
import {
  type AnyMatch,
  amount,
  beginAnyMatch,
  beginMatch,
  choice,
  declareRule,
  defineRule,
  defineRulebook,
  everyone,
  flag,
  int,
  type MatchOf,
  type NoticeFor,
  owner,
  perSeat,
  refuse,
  seatRef,
  seconds,
  single,
  table,
  text,
  type ViewFor,
} from 'zinc-referee'
import { credit, respawn, rounds, scores, vitals } from 'zinc-referee/rules'
import { z } from 'zod'

// Mistakes that the compiler must name, each at its own place. What is below `mistakes` is compiled, never run.

const clock = defineRule({
  name: 'clock',
  actions: {
    set: {
      decide(match, _seat, { n }) {
        match.own.hands.n = n
        match.timers.start('tick', { in: n })
      },
      input: z.object({ n: z.string().transform(Number) }),
    },
  },
  timers: {
    tick(match) {
      match.own.hands.n += 1
    },
  },
  state: {
    hands: single({ n: int(0).seenBy(everyone), hidden: int(0) }),
    crew: perSeat({ cargo: int(0).seenBy(owner) }),
  },
})
const bellShape = declareRule({
  name: 'bell',
  needs: [clock],
  timers: ['ring'],
  state: { rope: single({ pulls: int(0) }) },
})
function pull(match: MatchOf<typeof bellShape>) {
  match.own.rope.pulls += 1
  match.timers.start('ring', { in: 5 })
  return refuse('worn-out', { pulls: match.own.rope.pulls })
}
const bell = bellShape.does({
  actions: {
    pull: {
      input: { hard: flag(false) },
      decide: (match, _seat, { hard }) => (hard ? pull(match) : undefined),
    },
  },
  timers: {
    ring(match) {
      match.own.rope.pulls = 0
    },
  },
})
const tower = defineRulebook({ name: 'tower', seats: { min: 1, max: 2 }, rules: [clock, bell] })

test('types flow by inference from the rules to the match', () => {
  const match = beginMatch(tower, { seed: 'x' })
  const pulled = match.submit('otter', 'bell.pull', {})
  if (!pulled.ok) expectTypeOf(pulled.code).extract<'worn-out'>().toEqualTypeOf<'worn-out'>()
  if (!pulled.ok && pulled.code === 'worn-out')
    expectTypeOf(pulled.details).toEqualTypeOf<{ pulls: number } | undefined>()
  if (!pulled.ok && pulled.code === 'bad-input')
    expectTypeOf(pulled.details).toEqualTypeOf<{ readonly issues: readonly string[] } | undefined>()
  expectTypeOf(match.submit<'clock.set'>)
    .parameter(2)
    .toEqualTypeOf<{ n: string }>()
  const view = match.view('spectator')
  expectTypeOf(view.clock.hands).toEqualTypeOf<{ readonly n: number }>()
  expectTypeOf(view.clock.crew['otter']).toEqualTypeOf<{ readonly cargo?: number } | undefined>()
  // Not listed, still there.
  expectTypeOf(view.phases.now.phase).toEqualTypeOf<'lobby' | 'countdown' | 'live' | 'break' | 'over'>()
  expectTypeOf(match.settings.phases.countdown).toEqualTypeOf<number>()
  expect(match.seats).toEqual([])
})

function mistakes() {
  // @ts-expect-error no seat is a first value: maybe(seatRef())
  single({ keeper: seatRef() })
  // @ts-expect-error the rows of a table have no owner
  defineRule({ name: 'r', state: { crates: table({ kind: text().seenBy(owner) }) } })
  // @ts-expect-error a draft without apply
  defineRule({ name: 'r', drafts: { pay: { price: amount() } } })
  // @ts-expect-error one of two drafts without apply
  defineRule({ name: 'r', drafts: { pay: { price: amount() }, take: { n: int() } }, apply: { pay() {} } })
  // @ts-expect-error apply for a draft that is not declared
  defineRule({ name: 'r', drafts: { pay: { price: amount() } }, apply: { pay() {}, pya() {} } })
  // @ts-expect-error the same in two steps
  declareRule({ name: 'r', drafts: { pay: { price: amount() } } }).does({})
  // @ts-expect-error a handler without needs
  defineRule({ name: 'r', on: { 'vitals.down'() {} } })
  // @ts-expect-error a misspelt amend key
  defineRule({ name: 'r', needs: [vitals], amend: { 'vitals.hrut': () => refuse('no') } })

  defineRule({
    name: 'ferry',
    needs: [vitals],
    knows: [credit],
    state: {
      crew: perSeat({ cargo: int(0) }),
      crates: table({ kind: choice('salt', 'silk'), weight: int(1) }),
    },
    events: { docked: { seat: seatRef(), crates: int() } },
    drafts: { pay: { seat: seatRef(), price: amount(), toll: amount(0) } },
    apply: {
      pay(_match, draft) {
        // @ts-expect-error a settled draft is read only
        draft.price = 3
      },
    },
    timers: { tide: { clock: 'play', fire() {} }, wait: { clock: 'play' } },
    actions: {
      load: {
        input: { crate: text(), seat: seatRef(), n: int() },
        decide(match, seat, input) {
          // @ts-expect-error a misspelt cell
          match.own.crew.of(seat).crago += 1
          // @ts-expect-error a misspelt input
          match.own.crates.get(input.crte)
          // @ts-expect-error an input is read only
          input.n = 3
          // @ts-expect-error a cell without a first value is required
          match.own.crates.add({ weight: 2 })
          match.own.crates.add({ kind: 'salt' })
          // @ts-expect-error not one of the choices
          match.own.crates.add({ kind: 'slik' })
          // @ts-expect-error required in an event too
          match.emit('docked', { seat })
          // @ts-expect-error an unknown event
          match.emit('dokced', { seat, crates: 1 })
          // @ts-expect-error required in a draft
          match.resolve('pay', { seat })
          match.resolve('pay', { seat, price: 3 })
          // @ts-expect-error required in another rule's draft
          match.use(vitals).hurt({ target: seat })
          // @ts-expect-error use without needs
          match.use(scores).give({ seat, amount: 1, reason: 'loaded' })
          // @ts-expect-error a rule that is only known may be missing
          match.use(credit).kills(seat)
          match.use(credit)?.kills(seat)
          // @ts-expect-error an unknown timer
          match.timers.start('tied', { in: seconds(3) })
          // @ts-expect-error there is no bare now
          return match.now > 3 ? refuse('late') : undefined
        },
      },
      // @ts-expect-error decide may not be async
      wait: { input: {}, async decide() {} },
      // @ts-expect-error a ruling, not a boolean
      yes: { input: {}, decide: () => false },
    },
    on: {
      'vitals.down'(match, { seat }) {
        match.own.crew.of(seat).cargo = 0
      },
      // @ts-expect-error an unknown event of a needed rule
      'vitals.dwon'() {},
    },
    settle: {
      // @ts-expect-error a part of the state that is not there
      wokenBy: ['crew', 'vitals.bdoy'],
      run() {},
    },
  })
  defineRule({
    name: 'oil',
    needs: [vitals],
    amend: {
      'vitals.hurt'(_match, blow) {
        // @ts-expect-error an amount is never assigned
        blow.amount = 3
        // @ts-expect-error nor reckoned with; `base` is its number
        blow.amount += 3
        // @ts-expect-error all else is read only
        blow.kind = 'ram'
        blow.redirect(blow.target)
      },
      'vitals.heal'(_match, draft) {
        draft.amount.times(2)
      },
    },
  })

  // @ts-expect-error a missing need
  defineRulebook({ name: 'missing', seats: { min: 2, max: 8 }, rules: [vitals, credit] })
  // @ts-expect-error a wrong setting
  rounds({ lenght: 3 })
  // @ts-expect-error a setting of another kind
  respawn({ after: 'soon' })

  const match = beginMatch(tower, { seed: 'x' })
  // @ts-expect-error an unknown action
  match.submit('otter', 'bell.pul', {})
  // @ts-expect-error wrong input
  match.submit('otter', 'bell.pull', { hard: 'yes' })
  // @ts-expect-error an action is not a fact
  match.report('bell.pull', {})
  // @ts-expect-error a cell that nobody sees is in no view
  match.view('otter').clock.hands.hidden
  // @ts-expect-error state is read only from outside
  match.state.clock.crew.of('otter').cargo = 3
  const view: ViewFor<typeof tower> = match.view('otter')
  // @ts-expect-error a cell that nobody sees is in no view of the rulebook either
  view.clock.hands.hidden
  const tell = ({ name, cells }: NoticeFor<typeof tower>): unknown => {
    // @ts-expect-error a cell of another event
    if (name === 'roster.joined') return [cells.seat, cells.why]
    // @ts-expect-error an unknown event
    return name === 'roster.joind'
  }
  const any: AnyMatch = beginAnyMatch(tower, { seed: 'x' })
  // @ts-expect-error every rulebook has phases, and not this one
  void [tell, any.state.phases.now.phase === 'live', any.view('otter').phases.now.phase === 'lunch']
  const ruling = match.submit('otter', 'bell.pull', {})
  // @ts-expect-error a code that this input cannot be refused with
  if (!ruling.ok && ruling.code === 'worn-uot') void 0
}
void mistakes
