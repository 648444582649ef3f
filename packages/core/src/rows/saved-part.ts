import type { AnyCell } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { CompiledRow, RowShape } from './row.ts'
import { type SavedNames, saveNames } from './row-names.ts'

/** A row as a snapshot has it: its cells by name; what holds nothing is left out. */
export interface SavedRow {
  readonly number: number
  /** The seat of a seat's row. */
  readonly seat?: string
  readonly cells: { readonly [cell: string]: unknown }
  /** The names by which viewers know it, if it has had more than one. */
  readonly names?: SavedNames
}

/** A part of the state as a snapshot has it. */
export interface SavedPart {
  /** The next row's number, of a table. */
  readonly next?: number
  /** Kinds of the cells, such as `maybe(int)`. */
  readonly cells: { readonly [cell: string]: string }
  readonly rows: readonly SavedRow[]
}

export const savedCells = ({ each }: RowShape): SavedPart['cells'] =>
  Object.fromEntries(each.map(({ name, cell }) => [name, kindText(cell)]))

const kindText = ({ kind, of }: AnyCell): string => (of === undefined ? kind : `${kind}(${kindText(of)})`)

export function savedRow(row: CompiledRow): SavedRow {
  const { each, drawn, keyed } = row.$shape
  const values = row.$save()
  const cells: Record<string, unknown> = {}
  for (const { name, at } of each) if (row.$kept(name) !== undefined) cells[name] = values[at]
  return {
    number: row.$number,
    ...(keyed && !drawn && { seat: row.$id }),
    cells,
    ...(row.$names !== undefined && { names: saveNames(row.$names) }),
  }
}

/**
 * Puts what was saved into a row, cell by cell by name. A cell that was not there has its first value, and one that is
 * no more is left out.
 * @throws ZR_SNAPSHOT_FOREIGN for a cell that held something of another kind
 */
export function fillRow(row: CompiledRow, saved: SavedRow, kinds: SavedPart['cells']): void {
  const { each, path, firsts } = row.$shape
  row.$load(
    each.map(({ name, cell, form }) => {
      const was = kinds[name]
      // Initial values are in their stored form already.
      if (was === undefined) return firsts[name] === undefined ? undefined : form.save(firsts[name])
      if (was !== kindText(cell))
        throw new RefereeError('ZR_SNAPSHOT_FOREIGN', {
          why: `the cell '${path.slice(1).replace('/', '.')}.${name}' held ${was} and holds ${kindText(cell)} now: give it a new value in 'migrate'`,
        })
      return saved.cells[name]
    }),
  )
}

/** The cells that a saved part does not have, and those that nobody asks for any more. */
export function cellsApart(
  { each }: RowShape,
  { cells }: SavedPart,
): { readonly filled: readonly string[]; readonly dropped: readonly string[] } {
  const names = each.map(({ name }) => name)
  return {
    filled: names.filter((name) => !(name in cells)),
    dropped: Object.keys(cells).filter((name) => !names.includes(name)),
  }
}
