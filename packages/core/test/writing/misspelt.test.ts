import { expect, test } from 'vitest'
import {
  amount,
  beginMatch,
  choice,
  defineRule,
  defineRulebook,
  everyone,
  int,
  resumeMatch,
  single,
  text,
} from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import { areasOf, boostsOf, gridOf, pilesOf, respawn, rolesOf, sealedOf, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const says = (act: () => unknown): string => {
  try {
    act()
  } catch (error) {
    return String(error)
  }
  return 'nothing was wrong'
}

const fair = (settings: object = {}, more: object = {}): any =>
  defineRulebook({
    name: 'fair',
    seats: { min: 1, max: 2 },
    rules: [vitals(settings), respawn],
    ...more,
  } as any)

test('a misspelt setting or option is refused where it is given, with the name that was meant', () => {
  expect(says(() => fair({ armor: 10 }))).toMatch(
    /ZR_SETTING_INVALID.*'vitals'.*no setting 'armor' \(did you mean 'armour'/s,
  )
  expect(says(() => fair({}, { rules: [vitals, respawn({ live: 3, chose: 1 } as any)] }))).toMatch(
    /no setting 'live' \(did you mean 'lives'\?\).*no setting 'chose' \(did you mean 'choose'/,
  )
  const begin = (given: object) => () => beginMatch(fair(), { seed: 'fair-1', ...given } as any)
  expect(says(begin({ settings: { respawn: { live: 3 } } }))).toMatch(
    /no setting 'live' \(did you mean 'lives'/,
  )
  expect(says(begin({ setings: {} }))).toMatch(
    /ZR_OPTION_UNKNOWN.*beginMatch.*'setings' \(did you mean 'settings'/s,
  )
  expect(says(() => fair({}, { preset: {} }))).toMatch(/defineRulebook.*'preset' \(did you mean 'presets'/)
  const { match }: any = playMatch(fair(), ['otter'])
  expect(says(() => resumeMatch(fair(), match.snapshot(), { tial: '' } as any))).toMatch(
    /did you mean 'tail'/,
  )
  const before = match.hash()
  expect(match.direct('match.set', { rule: 'respawn', settings: { aftr: 1000 } })).toMatchObject({
    code: 'bad-input',
    details: { issues: ["there is no setting 'aftr' (did you mean 'after'?)"] },
  })
  expect(match.hash()).toBe(before)
  expect(match.direct('match.set', { rule: 'respawn', settings: { after: 1000 } })).toEqual({ ok: true })
})

test('a misspelt option of a rule that is made for a mode is refused', () => {
  const face = choice('amber')
  const misspelt: readonly (() => unknown)[] = [
    () => areasOf({ nere: 5 } as any),
    () => boostsOf({ quick: { lasts: 5, seenby: everyone } } as any),
    () => rolesOf({ guest: { tellcamp: true } } as any),
    () => pilesOf('wicks', face, { deck: 'deck' }, { refil: {} } as any),
    () => gridOf('ponds', { width: 3, height: 3, wraps: true } as any),
    () => sealedOf('bids', int(), { revealTo: 'nobody' } as any),
  ]
  for (const make of misspelt) expect(says(make)).toMatch(/ZR_OPTION_UNKNOWN.*did you mean/s)
})

test('a rule that no type check has seen is refused for what would never run, with the name that was meant', () => {
  for (const [part, issue] of [
    [{ evnts: {} }, "no part of lamp called 'evnts' (did you mean 'events'?)"],
    [{ directives: { light: { input: {}, handel() {} } } }, "'handel' (did you mean 'handle'?)"],
    [{ directives: { light: { input: {}, handle: undefined } } }, "'lamp.directives.light' has no 'handle'"],
    [{ actions: { light: { input: { n: 1 }, decide() {} } } }, "'lamp.actions.light.input.n' must be a cell"],
    [
      { actions: { light: { input: {}, decide: 1, cost: 2 } } },
      "'lamp.actions.light.decide' must be a function",
    ],
    [{ on: { 'phases.live-began': undefined } }, "'lamp.on.phases.live-began' must be a function"],
    [{ timers: { out: { clock: 'play', fires() {} } } }, "'fires' (did you mean 'fire'?)"],
    [{ state: { lit: int(0) } }, "'lamp.state.lit' must be perSeat(…)"],
    [{ needs: ['vitals'] }, "'lamp.needs' must be a list of rules"],
  ] as const)
    expect(says(() => defineRule({ name: 'lamp', ...part } as any))).toContain(issue)
})

test('an amended amount is whole and exact, or its step fails', () => {
  const got: unknown[] = []
  const pay = defineRule({
    name: 'pay',
    drafts: { pay: { n: amount(), how: text('') } },
    apply: { pay: (_, { n }) => void got.push(n) },
    directives: {
      pay: { input: { how: text() }, handle: (match, { how }) => match.resolve('pay', { n: 1, how }) },
    },
    state: { none: single({ n: int(0) }) },
  })
  const ways: { readonly [how: string]: readonly [(n: any) => void, unknown] } = {
    'half more': [(n) => n.add(0.5), 'ZR_AMOUNT_NOT_WHOLE'],
    'nothing known': [(n) => n.add(Number.NaN), 'ZR_AMOUNT_NOT_WHOLE'],
    'a text': [(n) => n.add('3'), 'ZR_AMOUNT_NOT_WHOLE'],
    'at least a fraction': [(n) => n.atLeast(2.5), 'ZR_AMOUNT_NOT_WHOLE'],
    'at most nothing known': [(n) => n.atMost(Number.NaN), 'ZR_AMOUNT_NOT_WHOLE'],
    'too many': [(n) => [1, 2].map(() => n.add(Number.MAX_SAFE_INTEGER)), 'ZR_AMOUNT_TOO_BIG'],
    'too many times': [(n) => [1, 2].map(() => n.times(1e12)), 'ZR_AMOUNT_TOO_BIG'],
    'too many, but bounded': [(n) => [1, 2].map(() => n.times(1e12)) && n.atMost(7), 7],
    'half of minus five, down': [(n) => [n.add(-6), n.times(0.5)], -3],
    'in words': [(n) => [n.add(99), n.times(1.15)], 115],
  }
  const amending = defineRule({
    name: 'amending',
    needs: [pay],
    amend: {
      'pay.pay'(_, draft) {
        ways[String(draft.how)]?.[0](draft.n)
      },
    },
  })
  const book = defineRulebook({ name: 'fair', seats: { min: 1, max: 1 }, rules: [pay, amending] })
  for (const [how, [, expected]] of Object.entries(ways)) {
    got.length = 0
    const { match }: any = playMatch(book, ['otter'])
    match.direct('pay.pay', { how })
    expect([how, got[0] ?? match.faults[0]?.error.code]).toEqual([how, expected])
  }
})

test('a patch that updates are not made of is refused whole', () => {
  const view = { list: [1, 2], lamp: { lit: true } }
  for (const operation of [
    { op: 'move', path: '/lamp/lit', from: '/list/0' },
    { op: 'test', path: '/lamp/lit', value: false },
    { op: 'copy', path: '/a', from: '/list' },
    { op: 'add', path: '/a' },
    { op: 'add', path: 'a', value: 1 },
    { op: 'add', path: 5, value: 1 },
    { op: 'add', path: '/list/02', value: 1 },
    {},
    null,
  ])
    expect(() => applyPatch(view, [{ op: 'remove', path: '/list/0' }, operation as any])).toThrow(
      expect.objectContaining({ code: 'ZR_REPLICA_BAD_PATCH' }),
    )
  expect(view).toEqual({ list: [1, 2], lamp: { lit: true } })
})
