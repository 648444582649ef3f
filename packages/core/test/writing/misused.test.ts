import { expect, test } from 'vitest'
import {
  beginMatch,
  chanceFrom,
  declareRule,
  defineRule,
  defineRulebook,
  int,
  perSeat,
  type RuleLike,
  resumeMatch,
} from 'zinc-referee'
import { credit, rounds, verdict, vitals } from 'zinc-referee/rules'
import { fields, listOf, setting, whole } from 'zinc-referee/settings'
import { playMatch } from 'zinc-referee/testing'
import { code } from '../fixtures/error-code.ts'
import { fight, skirmish } from '../fixtures/fight-mode.ts'
import { fact } from '../fixtures/inputs.ts'

const seats = { min: 2, max: 4 }
const empty = (name: string, needs: RuleLike[] = []) => defineRule({ name, needs })
test.each<[string, string, () => unknown]>([
  [
    'two rules of one name',
    'ZR_RULEBOOK_TWO_RULES',
    () => defineRulebook({ name: 'b', seats, rules: [vitals, vitals({ max: 3 })] }),
  ],
  [
    'a missing need',
    'ZR_RULEBOOK_MISSING_NEED',
    () => defineRulebook({ name: 'b', seats, rules: [vitals, credit] as any }),
  ],
  [
    'a setting out of range',
    'ZR_SETTING_INVALID',
    () => defineRulebook({ name: 'b', seats, rules: [vitals({ max: 0 })] }),
  ],
  [
    'a setting out of range in a match',
    'ZR_SETTING_INVALID',
    () => beginMatch(skirmish, { seed: 'x', settings: { rounds: { length: -1 } } }),
  ],
  [
    'a setting of an unknown rule',
    'ZR_SETTING_UNKNOWN_RULE',
    () => beginMatch(skirmish, { seed: 'x', settings: { round: {} } as any }),
  ],
  [
    'a match that would change who sees what',
    'ZR_SETTING_FIXED',
    () => beginMatch(skirmish, { seed: 'x', settings: { vitals: { healthSeen: 'owner' } } }),
  ],
  [
    'seats that cannot be',
    'ZR_RULEBOOK_BAD_SEATS',
    () => defineRulebook({ name: 'b', seats: { min: 3, max: 2 }, rules: [] }),
  ],
  [
    'more seats than there may be',
    'ZR_RULEBOOK_BAD_SEATS',
    () => defineRulebook({ name: 'b', seats: { min: 1, max: 1001 }, rules: [] }),
  ],
  [
    'a timed round that nothing can decide',
    'ZR_RULEBOOK_NO_TIME_CONDITION',
    () => defineRulebook({ name: 'b', seats, rules: [rounds({ length: 5 }), verdict({})] }),
  ],
  ['a name that cannot be', 'ZR_RULE_BAD_NAME', () => empty('__proto__')],
  [
    'a cell that cannot be',
    'ZR_RULE_BAD_NAME',
    () =>
      defineRulebook({
        name: 'b',
        seats,
        rules: [defineRule({ name: 'r', state: { p: perSeat({ constructor: int(0) }) } })],
      }),
  ],
  [
    'an action and a draft of one name',
    'ZR_RULE_NAME_TWICE',
    () =>
      defineRule({
        name: 'r',
        drafts: { a: {} },
        apply: { a() {} },
        actions: { a: { input: {}, decide() {} } },
      }),
  ],
  [
    'a handler for what is not there',
    'ZR_RULE_UNKNOWN_HANDLER',
    () =>
      defineRulebook({
        name: 'b',
        seats,
        rules: [vitals, defineRule({ name: 'r', needs: [vitals], on: { 'vitals.dwon'() {} } as any })],
      }),
  ],
  [
    'a gate of a rule that is not there',
    'ZR_RULE_UNKNOWN_GATE',
    () =>
      defineRulebook({
        name: 'b',
        seats,
        rules: [
          defineRule({
            name: 'r',
            actions: { a: { when: { gate: 'vitals.up', given: [] }, input: {}, decide() {} } },
          }),
        ],
      }),
  ],
  ...[{ place: 'lief' }, { place: 'life', applies: 'allways' }].map((gate): [string, string, () => void] => [
    'a gate that would never be asked',
    'ZR_RULE_BAD_GATE',
    () =>
      defineRulebook({
        name: 'b',
        seats,
        rules: [defineRule({ name: 'r', gates: { g: { ...gate, check() {} } as any } })],
      }),
  ]),
  ['an empty seed', 'ZR_CHANCE_BAD_SEED', () => beginMatch(skirmish, { seed: '' })],
  ['chance without a purpose', 'ZR_CHANCE_NO_PURPOSE', () => chanceFrom('fair-1', '')],
  ['a view of nobody', 'ZR_MATCH_UNKNOWN_VIEWER', () => beginMatch(skirmish, { seed: 'x' }).view('otter')],
  [
    'a write from outside',
    'ZR_STATE_CLOSED',
    () => {
      ;(fight().match.state.moves.bag.of('otter') as any).coins = 3
    },
  ],
])('%s: %s', (_what, wanted, run) => expect(code(run)).toBe(wanted))

test('a rulebook may have a thousand seats', () => {
  expect(defineRulebook({ name: 'b', seats: { min: 1, max: 1000 }, rules: [] }).name).toBe('b')
})

test('rules that need each other in a circle are named in their order', () => {
  const one = declareRule({ name: 'one' })
  const first = one.does({})
  const second = defineRule({ name: 'two', needs: [first] })
  const circular = Object.assign(first, { definition: { ...first.definition, needs: [second] } })
  expect(() => defineRulebook({ name: 'b', seats, rules: [circular, second] })).toThrow(
    /one needs two needs one/,
  )
})

test('code of a mode that writes to its settings fails its step, however the match began or was set', () => {
  const jar = defineRule({
    name: 'jar',
    settings: fields({ sizes: setting(listOf(whole()), [1, 2]) }),
    facts: { spill: fact({}, ({ settings }) => void settings.sizes.push(9)) },
  })
  const book = defineRulebook({ name: 'jars', seats, rules: [jar] })
  const { match } = playMatch(book, ['otter', 'heron'])
  match.direct('match.set', { rule: 'jar', settings: { sizes: [3] } })
  for (const each of [match, resumeMatch(book, JSON.parse(JSON.stringify(match.snapshot())))])
    expect([each.report('jar.spill', {}).ok, each.settings.jar]).toEqual([false, { sizes: [3] }])
  expect(String(match.faults[0]?.error)).toContain('ZR_STATE_CLOSED_VALUE')
})
