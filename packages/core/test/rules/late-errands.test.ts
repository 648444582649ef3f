import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, maybe, minutes, seatRef, text } from 'zinc-referee'
import { errands, rounds, scores } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const foreman = defineRule({
  name: 'foreman',
  needs: [errands],
  facts: {
    spawn: {
      input: { kind: text(), need: int(1), within: maybe(int()), to: maybe(seatRef()), place: maybe(text()) },
      handle(match, { kind, need, within, to, place }) {
        match.use(errands).spawn({
          ...{ kind, need, within: within ?? null },
          ...(to !== undefined && { to }),
          ...(place !== undefined && { place }),
        })
      },
    },
  },
})
const book = defineRulebook({
  name: 'cellar',
  seats: { min: 2, max: 4 },
  rules: [rounds({ length: minutes(5) }), scores, errands, moves, foreman],
})
const errand = (kind: string, need = 1) => ({ kind, need, within: null })
const list = [errand('stave', 2), errand('hoop')]

function inTheCellar(settings: object) {
  const { match } = playMatch(book, ['otter', 'heron'], { settings: { errands: { list, ...settings } } })
  const rows = () => match.state.errands.rows.all()
  return { match, rows, shown: () => match.view('spectator').errands.shown }
}

test('TA10: a rule opens an errand besides the list, for all or for one, for a while or not', () => {
  const { match, rows, shown } = inTheCellar({ places: ['mill', 'lock', 'weir', 'quay'] })
  expect(shown()).toEqual({ done: 0, of: 3 })
  match.report('foreman.spawn', { kind: 'bung', need: 2, to: 'heron', place: 'ferry' })
  match.report('foreman.spawn', { kind: 'tap', within: 1000 })
  expect(shown()).toEqual({ done: 0, of: 6 })
  const [bung, tap] = rows().slice(-2)
  expect([bung?.place, bung?.to, tap?.to, tap?.until]).toEqual(['ferry', 'heron', undefined, 1000])
  expect(['mill', 'lock', 'weir', 'quay']).toContain(tap?.place)
  const done = { errand: bung?.id ?? '', amount: 2 }
  expect(match.report('errands.progress', { seat: 'otter', ...done })).toMatchObject({
    code: 'no-such-target',
  })
  expect(match.report('errands.progress', { seat: 'heron', ...done })).toEqual({ ok: true })
  expect(shown()).toEqual({ done: 2, of: 6 })
  match.advanceTo(match.now + 1000)
  expect(rows().at(-1)?.closedAt).toBe(1000)
})

test.each([
  [false, 0, 4],
  [true, 2, 6],
] as const)(
  'TA11: with lateErrands: %s, a late joiner has %i errands of its own',
  (lateErrands, own, total) => {
    const two = [errand('stave'), errand('hoop')]
    const { match, rows, shown } = inTheCellar({ list: two, each: 2, lateErrands })
    match.direct('roster.join', { seat: 'vole', name: 'Vole' })
    match.report('moves.out', { seat: 'otter' })
    match.direct('roster.join', { seat: 'vole', name: 'Vole' })
    expect(rows().filter(({ to }) => to === 'vole')).toHaveLength(own)
    expect(shown().of).toBe(total - 2)
  },
)
