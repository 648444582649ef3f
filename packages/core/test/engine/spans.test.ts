import { expect, test } from 'vitest'
import { defineRule, defineRulebook, everyone, int, perSeat, single, table } from 'zinc-referee'
import {
  mostAtTime,
  mostRounds,
  respawn,
  rounds,
  scores,
  turnStep,
  turns,
  verdict,
  vitals,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { fact } from '../fixtures/inputs.ts'

const SPANS = ['turn', 'life', 'round', 'bout', 'match'] as const
const act = turnStep('act', { budget: null })
/** A part of each kind for each span; everything counts what was done in it. */
const counters = defineRule({
  name: 'counters',
  needs: [turns, vitals],
  state: Object.fromEntries(
    SPANS.flatMap((span) => {
      const each = (part: any): any => (span === 'bout' ? part : part.each(span))
      const cells = { n: int(0).seenBy(everyone) }
      return [
        [`${span}One`, each(single(cells))],
        [`${span}Seats`, each(perSeat(cells))],
        ...(span === 'match' ? [] : [[`${span}Rows`, each(table(cells))]]),
      ]
    }),
  ) as any,
  actions: {
    count: {
      when: act,
      input: {},
      decide(match: any) {
        for (const span of SPANS) {
          match.own[`${span}One`].n += 1
          for (const seat of match.seats) match.own[`${span}Seats`].of(seat).n += 1
          match.own[`${span}Rows`]?.add({ n: 1 })
        }
      },
    },
  },
  facts: {
    fall: fact({}, (match) => match.use(vitals).hurt({ target: 'otter', amount: 1000 })),
  },
} as any)
const book: any = defineRulebook({
  name: 'fair',
  seats: { min: 2, max: 2 },
  rules: [
    rounds({ length: 20_000, count: 2, breakTime: 1000 }),
    verdict({ when: [mostAtTime.decides('round'), mostRounds] }),
    scores,
    vitals,
    respawn({ after: 100 }),
    turns({ steps: [act] }),
    counters,
  ],
} as any)

test('cells go back to their first values at each new turn, life, round and bout, those of shorter spans with them', () => {
  const { match }: any = playMatch(book, ['otter', 'heron'])
  const left = () => {
    const { counters: state } = match.state
    return SPANS.map((span) => [
      state[`${span}One`].n,
      state[`${span}Seats`].of('otter').n,
      state[`${span}Seats`].of('heron').n,
      state[`${span}Rows`]?.all().length ?? state[`${span}One`].n,
    ])
  }
  const count = (): void => {
    const seat = match.state.turns.now.seat
    expect(match.submit(seat, 'counters.count', {})).toEqual({ ok: true })
  }
  const all = (n: number) => [n, n, n, n]
  count()
  count()
  expect(left()).toEqual([all(2), all(2), all(2), all(2), all(2)])
  match.submit(match.state.turns.now.seat, 'turns.pass', {})
  expect(left()).toEqual([all(0), all(2), all(2), all(2), all(2)])
  count()
  // A life is one seat's: what is of all, and of others, stays.
  match.report('counters.fall', {})
  match.advanceTo(match.now + 100)
  const [turn, life, ...longer] = left()
  expect([turn, life, longer]).toEqual([
    [1, 0, 1, 1],
    [3, 0, 3, 3],
    [all(3), all(3), all(3)],
  ])
  match.advanceTo(match.now + 21_000)
  expect(left()).toEqual([all(0), all(0), all(0), all(3), all(3)])
  count()
  match.direct('phases.abandon', {})
  for (const seat of ['otter', 'heron']) match.submit(seat, 'rounds.rematch', {})
  match.advanceTo(match.nextDue)
  expect(left()).toEqual([all(0), all(0), all(0), all(0), all(4)])
  expect(match.faults).toEqual([])
})
