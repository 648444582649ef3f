import { expect, expectTypeOf, test } from 'vitest'
import {
  amount,
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  perSeat,
  replayRecord,
  resumeMatch,
  seatRef,
} from 'zinc-referee'
import { z } from 'zod'

const market = defineRule({
  name: 'market',
  settings: z.object({ price: z.int().default(4) }),
  state: { purse: perSeat({ coins: int(20).seenBy(everyone) }) },
  drafts: { pay: { seat: seatRef(), price: amount() } },
  apply: {
    pay(match, { seat, price }) {
      match.own.purse.of(seat).coins -= price
    },
  },
  directives: {
    buy: {
      input: { seat: seatRef() },
      handle: (match, { seat }) => match.resolve('pay', { seat, price: match.settings.price }),
    },
  },
})
/** Burns a coin more, and counts. */
const tolls = defineRule({
  name: 'tolls',
  needs: [market],
  state: { gate: perSeat({ paid: int(0).seenBy(everyone) }) },
  calls: { paid: (match, seat: string): number => match.own.gate.of(seat).paid },
  amend: {
    'market.pay'(match, draft) {
      draft.price.add(1)
      const { seat } = draft
      draft.whenApplied(() => {
        match.own.gate.of(seat).paid += 1
      })
    },
  },
})
/** Halves what is paid; with tolls, from the second time on. */
const moths = defineRule({
  name: 'moths',
  needs: [market],
  knows: [tolls],
  amend: {
    'market.pay'(match, draft) {
      if ((match.use(tolls)?.paid(draft.seat) ?? 1) > 0) draft.price.times(0.5)
    },
  },
})
const book = defineRulebook({
  name: 'market',
  seats: { min: 1, max: 4 },
  rules: [market],
  optional: [tolls, moths],
  presets: { dear: { market: { price: 9 } } },
})

const coins = (given: { with?: readonly ('tolls' | 'moths')[]; preset?: string } = {}) => {
  const lines: string[] = []
  const match = beginMatch(book, { seed: 'fair-1', ...given, record: (line) => lines.push(line) })
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  for (let n = 0; n < 2; n++) match.direct('market.buy', { seat: 'otter' })
  const left = match.state.market.purse.of('otter').coins
  const restored = resumeMatch(book, JSON.parse(JSON.stringify(match.snapshot())))
  expect(restored.hash()).toBe(match.hash())
  match.close()
  expect(replayRecord(book, lines.join('\n')).differs).toBeUndefined()
  return { left, header: JSON.parse(lines[0] ?? '{}'), match: restored }
}

test('a match takes any of the optional rules; record and snapshot name them and go on with them', () => {
  expect(coins().left).toBe(12)
  expect(coins({ with: ['tolls'] }).left).toBe(10)
  expect(coins({ with: ['moths'] }).left).toBe(16)
  const both = coins({ with: ['moths', 'tolls'] })
  expect(both.left).toBe(20 - 5 - 2)
  expect(both.header.with).toEqual(['tolls', 'moths'])
  expect(both.match.view('otter').tolls).toEqual({ gate: { otter: { paid: 2 } } })
  expect(coins().match.view('otter').tolls).toBeUndefined()
})

test('a preset lies under the settings of the match', () => {
  expect(coins({ preset: 'dear' }).left).toBe(2)
  const match = beginMatch(book, { seed: 'x', preset: 'dear', settings: { market: { price: 1 } } })
  expect(match.settings.market.price).toBe(1)
})

test('what is not there is named: an optional rule, a preset; and types know which rules may be missing', () => {
  expect(() => beginMatch(book, { seed: 'x', with: ['fog' as 'tolls'] })).toThrow(
    /'fog' is not an optional rule.*'tolls', 'moths'/,
  )
  expect(() => beginMatch(book, { seed: 'x', preset: 'cheap' })).toThrow(/no preset 'cheap'.*'dear'/)
  const match = beginMatch(book, { seed: 'x' })
  const view = match.view('spectator')
  expectTypeOf(view.market).not.toEqualTypeOf<undefined>()
  expectTypeOf(view.tolls).extract<undefined>().toBeUndefined()
  const seats = { min: 1, max: 1 }
  // @ts-expect-error moths cannot be listed without the market that it needs
  const lacking = defineRulebook({ name: 'm', seats, rules: [], optional: [moths] })
  expect(() => lacking.planWith(['moths'])).toThrow(/needs 'market'/)
})
