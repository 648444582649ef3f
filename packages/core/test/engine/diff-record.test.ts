import { expect, test } from 'vitest'
import {
  defineRule,
  defineRulebook,
  int,
  maybe,
  perSeat,
  refuse,
  seatRef,
  seconds,
  single,
} from 'zinc-referee'
import { firstTo, mostAtTime, rounds, scores, verdict } from 'zinc-referee/rules'
import { diffRecord } from 'zinc-referee/testing'
import { recorded } from '../fixtures/recorded.ts'

/** A stall where jars are sold for so much, at most so many at once, and a cat takes one each so many ms. */
const stall = ({ price = 1, most = 5, cat = 10_000, cells = {} } = {}) =>
  defineRulebook({
    name: 'jam-stall',
    seats: { min: 2, max: 2 },
    rules: [
      rounds({ length: seconds(60) }),
      scores,
      verdict({ when: [firstTo(9), mostAtTime] }),
      defineRule({
        name: 'stall',
        needs: [scores, rounds],
        state: {
          jars: perSeat({ sold: int(0) }), // nobody sees it
          shelf: single({ left: int(50), last: maybe(seatRef()), ...cells }),
        },
        actions: {
          sell: {
            input: { jars: int().between(1, 9) },
            decide(match, seat, { jars }) {
              if (jars > most) return refuse('too-many')
              match.own.jars.of(seat).sold += jars
              match.own.shelf.left -= jars
              match.own.shelf.last = seat
              return match.use(scores).give({ seat, amount: jars * price, reason: 'sold' })
            },
          },
        },
        timers: {
          cat(match) {
            match.own.shelf.left -= 1
          },
        },
        on: {
          'rounds.began'(match) {
            match.timers.start('cat', { every: cat })
          },
        },
      }),
    ],
  })

const record = (book = stall()): string =>
  recorded(book, (match) => {
    for (const [nth, jars] of [2, 5, 3].entries()) {
      match.advanceTo(4000 * (nth + 1))
      match.submit('otter', 'stall.sell', { jars })
    }
  })

test('the same version plays as it did', () => {
  expect(diffRecord(stall(), stall(), record())).toEqual({ declared: '', inputs: 7, rulings: [] })
})

test('the first input after which two versions differ is named, by rule, row and cell with both values', () => {
  const { first, rulings, verdicts } = diffRecord(stall(), stall({ price: 4 }), record())
  expect(first).toMatchObject({
    line: 6,
    at: 4000,
    input: { submit: 'stall.sell', seat: 'otter', input: { jars: 2 } },
  })
  expect(first?.cells).toContainEqual({
    rule: 'scores',
    part: 'sums',
    row: 'otter',
    cell: 'score',
    before: '2',
    now: '8',
  })
  expect(first?.cells.some(({ rule }) => rule === 'stall')).toBe(false)
  // With the higher price it is over after the second sale.
  expect(rulings).toMatchObject([{ at: 12_000, input: { input: { jars: 3 } }, before: null, now: 'over' }])
  expect(verdicts?.before).toContain('"at":12000')
  expect(verdicts?.now).toContain('"at":8000')
})

test('rulings that differ; a difference that comes with time alone; cells that only one version has', () => {
  const fewer = diffRecord(stall(), stall({ most: 4 }), record())
  expect(fewer.rulings).toMatchObject([{ at: 8000, before: null, now: 'too-many' }])
  expect(fewer.first?.cells).toContainEqual({
    rule: 'stall',
    part: 'jars',
    row: 'otter',
    cell: 'sold',
    before: '7',
    now: '2',
  })
  const early = diffRecord(stall(), stall({ cat: 3000 }), record())
  expect(early.first).toMatchObject({
    at: 4000,
    cells: [{ rule: 'stall', part: 'shelf', cell: 'left', before: '50', now: '49' }],
  })
  expect(early.first).not.toHaveProperty('input')
  expect(diffRecord(stall(), stall({ cells: { loud: int(1) } }), record())).toEqual({
    declared: 'changed: part stall.shelf',
    inputs: 7,
    rulings: [],
  })
  const shorter = defineRulebook({ name: 'jam-stall', seats: { min: 2, max: 2 }, rules: [scores] })
  expect(diffRecord(stall(), shorter, record()).rulings[0]).toMatchObject({
    input: { submit: 'stall.sell' },
    now: 'unknown-action',
  })
  // Of a long record that differs everywhere the first thousand are kept, and all counted.
  const many = recorded(stall(), (match) => {
    for (let n = 0; n < 1500; n++) match.submit('heron', 'stall.sell', { jars: 9 })
  })
  const everywhere = diffRecord(stall(), shorter, many)
  expect([everywhere.rulings.length, everywhere.rulingsInAll]).toEqual([1000, 1500])
  expect(fewer).not.toHaveProperty('rulingsInAll')
})
