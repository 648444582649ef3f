import type { AnyView, CellDescription } from 'zinc-referee'

/** A value that an input may name, and how a person knows it. */
interface Choice {
  readonly value: string
  readonly says: string
}

/** What a cell of an input of this rule can name in a view: a word, a seat or a row. Nothing for other cells. */
export function choicesIn(
  view: AnyView,
  rule: string,
  cell: CellDescription | undefined,
): readonly Choice[] | undefined {
  if (cell?.kind === 'choice') return cell.values?.map((value) => ({ value, says: value }))
  if (cell?.kind === 'seat')
    return Object.keys(Object(view['roster']?.['seats'])).map((value) => ({ value, says: value }))
  if (cell?.kind !== 'row' || cell.table === undefined) return undefined
  const [part = '', from = rule] = cell.table.split('.').toReversed()
  const rows: { readonly [id: string]: object } = Object(view[from]?.[part])
  return Object.entries(rows).map(([value, row]) => ({ value, says: textOf(row) || value }))
}

const textOf = (row: object): string =>
  Object.values(row)
    .filter((cell) => typeof cell === 'string' || typeof cell === 'number')
    .join(' · ')
