import { RefereeError } from '../kit/index.ts'
import { Latest } from './latest.ts'
import type { CompiledRow, IdMaker, PolicyRow, RowReference } from './row.ts'
import { INNER } from './row-names.ts'
import type { KeyedTable, StoredPart } from './tables.ts'
import { UndoLog } from './undo.ts'

/** A cell of some part that names rows of a table. */
interface Naming {
  readonly part: StoredPart
  readonly cell: string
}

/** Without tables, as in streams of chance alone, nobody asks for an id. */
const noIds: IdMaker = { text: () => '' }

/** Shared by all rows of a match: the undo log, the rows with changes to send, and whether writing is allowed now. */
export class Store {
  readonly ids: IdMaker
  undo: UndoLog = new UndoLog()
  readonly dirty: CompiledRow[] = []
  readonly latest: Latest = new Latest()
  /** Rows of this step whose sight depends on themselves. */
  readonly touched: PolicyRow[] = []
  /** Rows that this step has brought back, or given back the names that they had before. */
  broughtBack: ReadonlySet<CompiledRow> | undefined
  /** By 'rule.part', for cells that name their rows. */
  readonly tables: Map<string, KeyedTable> = new Map()
  private namings: Map<string, Naming[]> | undefined
  /** True while a step may write. */
  open = false
  /**
   * True if this step has marked a cell as dirty, or has written one that was dirty before. Only then can a mark be
   * unnecessary.
   */
  fresh = false
  again = false
  /** Bits of the settle handlers that this step has woken. */
  woken = 0
  /** The first problem of this step. It ends the step, even if a handler catches it. */
  problem: RefereeError | undefined
  /** A seat has been removed in this step. */
  seatRemoved = false
  /** The seat that a handler asked for and that does not exist, where that is the problem. */
  missing: string | undefined

  constructor(ids: IdMaker = noIds) {
    this.ids = ids
  }

  fail(error: RefereeError): never {
    this.problem ??= error
    throw error
  }

  refuse(what: string): never {
    return this.fail(
      new RefereeError('ZR_STATE_CLOSED', { what: what.replace(/^\//, '').replaceAll('/', '.') }),
    )
  }

  list(row: CompiledRow): void {
    if (row.$listed) return
    row.$listed = true
    this.dirty.push(row)
  }

  touch(row: PolicyRow): void {
    if (row.$touched) return
    row.$touched = true
    this.touched.push(row)
  }

  /** Takes the rows that were touched, each once; those beyond the first so many, if a number is given. */
  takeTouched(from = 0): PolicyRow[] {
    const rows = this.touched.splice(from)
    for (const row of rows) row.$touched = false
    return rows
  }

  /** Gives a row of a table its inner id. It is made when it is first asked for, since most are never asked. */
  identify(row: CompiledRow): string {
    const { path, tag } = row.$shape
    row.$id = this.ids.text(tag, row.$number, INNER)
    if (row.$live) this.tables.get(path.slice(1).replace('/', '.'))?.identified(row)
    return row.$id
  }

  /** Takes up which cells of a part name rows of which table. */
  enter(part: StoredPart): void {
    for (const { name, reference } of part.shape.each) {
      if (reference === undefined) continue
      this.namings ??= new Map()
      const namings = this.namings.get(reference.table) ?? []
      namings.push({ part, cell: name })
      this.namings.set(reference.table, namings)
    }
  }

  /** A row has been removed: nothing may name it any more. */
  releaseReferences(path: string, number: number): void {
    if (this.namings === undefined) return
    const table = path.slice(1).replace('/', '.')
    for (const { part, cell } of this.namings.get(table) ?? []) {
      const reference = part.shape.each.find(({ name }) => name === cell)?.reference
      if (reference === undefined) continue
      for (const row of namingRows(part, cell, reference, number)) {
        if (!row.$live) continue // it has gone with another one of them
        if (reference.gone === 'forbid')
          this.fail(
            new RefereeError('ZR_STATE_ROW_IN_USE', {
              table,
              cell: `${part.shape.path.slice(1).replace('/', '.')}.${cell}`,
            }),
          )
        else if (reference.gone === 'cascade') (part as KeyedTable).removeRow(row)
        // Its current value no longer names the row.
        else Object.assign(row, { [cell]: row.$cell(cell) })
      }
    }
  }
}

function namingRows(
  part: StoredPart,
  cell: string,
  { single, names }: RowReference,
  number: number,
): readonly CompiledRow[] {
  if (single && part.shape.indexed.includes(cell)) return (part as KeyedTable).naming(cell, number)
  return [...part.rows()].filter((row) => names(row.$kept(cell), number))
}
