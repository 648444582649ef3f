import type { CompiledRow } from '../rows/index.ts'
import type { OpenMatch } from '../rulebook/index.ts'

/** A cell of the state, seen by somebody or not, where two matches differ. */
export interface CellDifference {
  /** The name of the rule. */
  readonly rule: string
  /** The name of its part. */
  readonly part: string
  /** The name of the cell. */
  readonly cell: string
  /** The id of its row, or its seat; nothing in a part that has one row. */
  readonly row?: string
  /** Its value in the first match as JSON text; nothing if the row or the cell is not there. */
  readonly before?: string
  /** Its value in the second one. */
  readonly now?: string
}

/** The cells of a row by name, as JSON texts; a row reference by the number of its row. */
function cellsOf(row: CompiledRow | undefined): ReadonlyMap<string, string> {
  const values = row?.$save() ?? []
  return new Map(row?.$shape.each.map(({ name, at }) => [name, JSON.stringify(values[at])]))
}

/** Rows by their parts' paths and their ids. */
function rowsOf({ engine }: OpenMatch): ReadonlyMap<string, ReadonlyMap<string, CompiledRow>> {
  return new Map(
    engine.parts
      .flat()
      .map(({ stored }) => [
        stored.shape.path,
        new Map([...stored.rows()].map((row) => [stored.shape.keyed ? row.id : '', row] as const)),
      ]),
  )
}

/** Yields where the states of two matches differ: parts in the order of the rules, rows as they were made. */
export function* stateDifferences(before: OpenMatch, now: OpenMatch): Iterable<CellDifference> {
  const [was, is] = [rowsOf(before), rowsOf(now)]
  for (const path of new Set([...was.keys(), ...is.keys()])) {
    const [, rule = '', part = ''] = path.split('/')
    const [had, has] = [was.get(path), is.get(path)]
    for (const id of new Set([...(had?.keys() ?? []), ...(has?.keys() ?? [])])) {
      const [old, fresh] = [cellsOf(had?.get(id)), cellsOf(has?.get(id))]
      for (const cell of new Set([...old.keys(), ...fresh.keys()])) {
        const [one, other] = [old.get(cell), fresh.get(cell)]
        if (one === other) continue
        yield {
          rule,
          part,
          cell,
          ...(id !== '' && { row: id }),
          ...(one !== undefined && { before: one }),
          ...(other !== undefined && { now: other }),
        }
      }
    }
  }
}
