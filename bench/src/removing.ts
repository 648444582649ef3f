import { beginMatch, defineRule, defineRulebook, everyone, flag, int, table } from 'zinc-referee'
import { type Row, ratio, timed } from './measure.js'

const ROWS = 20_000

const heap = defineRule({
  name: 'heap',
  state: { shells: table({ n: int(0).seenBy(everyone) }) },
  directives: {
    fill: {
      input: {},
      handle(match) {
        for (let n = 0; n < ROWS; n++) match.own.shells.add({ n })
      },
    },
    clear: {
      input: { oldestFirst: flag() },
      handle(match, { oldestFirst }) {
        const all = [...match.own.shells.all()]
        for (const { id } of oldestFirst ? all : all.reverse()) match.own.shells.remove(id)
      },
    },
  },
})
const book = defineRulebook({ name: 'heap', seats: { min: 1, max: 1 }, rules: [heap] })

function clearing(oldestFirst: boolean): number {
  const match = beginMatch(book, { seed: 'bench' })
  match.direct('heap.fill', {})
  return timed(() => {
    if (!match.direct('heap.clear', { oldestFirst }).ok) throw new Error('nothing was removed')
  })
}

/** Rows of a table removed one by one, the oldest first, against the newest first. */
export const removingRow = (): Row =>
  ratio(
    'remove20k/last',
    { most: 3 },
    () => clearing(true),
    () => clearing(false),
    9,
  )
