import type { Chance } from '../../chance/index.ts'
import type { CellDescription, InputDescription, OpenMatch } from '../../rulebook/index.ts'
import { randomValue } from '../random-crowd.ts'

const FITTING = 3
const OFFERED = 4
const NEAR = 2

/** An action that a viewer may try, offered or not. */
export interface TriedInput {
  readonly name: string
  readonly input: object
}

/**
 * Returns inputs for a seat to try at a moment: for each action some of its options, as many near misses (an option
 * with one cell changed), and some inputs that fit its cells.
 */
export function triedInputs(
  twin: OpenMatch,
  seat: string,
  actions: readonly InputDescription[],
  chance: Chance,
): readonly TriedInput[] {
  const { match } = twin
  const view = Object(match.view(seat))
  return actions.flatMap(({ name, offers, cells }) => {
    const offered = offers === true ? match.options(seat, name).slice(0, OFFERED) : []
    const fitting = Array.from({ length: cells === undefined ? 0 : FITTING }, () =>
      fittingInput(cells ?? {}, name, view, twin, chance),
    )
    const near = offered
      .slice(0, NEAR)
      .map((option, at) => nearTo(Object(option), Object(fitting[at]), chance))
    return [...offered, ...near, ...fitting].map((input) => ({ name, input: Object(input) }))
  })
}

/** An input that has one cell of another. */
function nearTo(input: object, other: { readonly [cell: string]: unknown }, chance: Chance): object {
  const cell = chance.pick(Object.keys(other))
  return cell === undefined ? input : { ...input, [cell]: other[cell] }
}

function fittingInput(
  cells: NonNullable<InputDescription['cells']>,
  action: string,
  view: { readonly [rule: string]: unknown },
  { match }: OpenMatch,
  chance: Chance,
): object {
  const [rule = ''] = action.split('.')
  const value = (cell: CellDescription): unknown => {
    if (cell.kind === 'row') return chance.pick(idsIn(view, cell.table ?? '', rule)) ?? 'none'
    if (cell.kind === 'list' && cell.of?.kind === 'row')
      return chance.shuffle(idsIn(view, cell.of.table ?? '', rule)).slice(0, chance.int(0, 3))
    return randomValue(chance, cell, match)
  }
  return Object.fromEntries(Object.entries(cells).map(([name, cell]) => [name, value(cell)]))
}

/** The ids of a table's rows that are in a view. */
function idsIn(view: { readonly [rule: string]: unknown }, table: string, own: string): string[] {
  const [rule = '', part = ''] = table.includes('.') ? table.split('.') : [own, table]
  return Object.keys(Object(Object(view[rule])[part]))
}
