import { formatElapsed } from '../../time/index.ts'
import { type Deed, deedsOf, stepOf } from '../../tracing/index.ts'
import type { Explanation } from './explanation.ts'
import type { CellNamed } from './names.ts'
import { cellText, keptText } from './says.ts'
import type { Teller } from './teller.ts'

/** Why a cell holds what it holds: who wrote it last, and what led to that. Details: all earlier writes. */
export function explainCell(teller: Teller, { row, cell }: CellNamed): Explanation {
  const name = cellText(row, cell)
  const writes: Deed[] = []
  let made: Deed | undefined
  let removed: Deed | undefined
  for (const step of teller.steps)
    for (const deed of deedsOf(step)) {
      if (!('row' in deed) || deed.row !== row || deed.isUndone) continue
      if (deed.what === 'wrote') deed.cell === cell && writes.push(deed)
      else if (deed.what === 'added') made = deed
      else removed = deed
    }
  const question = `Why is ${name} what it is?`
  const value = keptText(row, cell, row.$kept(cell))
  const last = removed ?? writes.at(-1) ?? made
  if (last === undefined)
    return { question, answer: `${name} is ${value} from the start: nothing has written it.`, causes: [] }
  const since = formatElapsed(stepOf(last).at)
  const is = last === made ? ', when it was made: nothing has written it' : ''
  return {
    question,
    answer:
      removed === undefined
        ? `${name} is ${value} since ${since}${is}.`
        : `${name} is gone since ${since}. It was ${value}.`,
    causes: [
      ...[made, ...writes].flatMap((deed) =>
        deed === undefined || deed === last
          ? []
          : teller.causesOf(deed).map((cause) => ({ ...cause, isDetail: true })),
      ),
      ...teller.causesOf(last),
    ],
  }
}
