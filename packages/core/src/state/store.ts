import { RefereeError } from '../kit/index.ts'
import { Latest } from './latest.ts'
import type { CompiledRow, PolicyRow } from './row-class.ts'
import type { KeyedTable, StoredPart } from './tables.ts'
import { UndoLog } from './undo.ts'

/** A cell of some part that names rows of a table. */
interface Naming {
  readonly part: StoredPart
  readonly cell: string
}

/** What all rows of one match share: the undo log, the rows to tell of, and whether writing is allowed now. */
export class Store {
  readonly undo: UndoLog = new UndoLog()
  readonly dirty: CompiledRow[] = []
  readonly latest: Latest = new Latest()
  /** Rows of this step whose sight depends on themselves. */
  readonly touched: PolicyRow[] = []
  /** By 'rule.part', for cells that name their rows. */
  readonly tables: Map<string, KeyedTable> = new Map()
  private namings: Map<string, Naming[]> | undefined
  /** True while a step may write. */
  open = false
  /** Whether this step has marked a cell as dirty, and whether it has written one that was so already: only then can a mark be needless. */
  fresh = false
  again = false
  /** Bits of the settle handlers that this step has woken. */
  woken = 0
  /** What went wrong in this step first. It ends the step, even if a handler catches it. */
  trouble: RefereeError | undefined
  /** The seat that a handler asked for and that does not exist, where that is the trouble. */
  missing: string | undefined

  fail(error: RefereeError): never {
    this.trouble ??= error
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

  /** The rows that were touched, each once. */
  takeTouched(): PolicyRow[] {
    const rows = this.touched.splice(0)
    for (const row of rows) row.$touched = false
    return rows
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
  letGo(path: string, number: number): void {
    if (this.namings === undefined) return
    const table = path.slice(1).replace('/', '.')
    for (const { part, cell } of this.namings.get(table) ?? []) {
      const placed = part.shape.each.find(({ name }) => name === cell)
      const { many = false, gone = 'forbid' } = placed?.reference ?? {}
      for (const row of namingRows(part, cell, many, number)) {
        if (gone === 'forbid')
          this.fail(
            new RefereeError('ZR_STATE_ROW_IN_USE', {
              table,
              cell: `${part.shape.path.slice(1).replace('/', '.')}.${cell}`,
            }),
          )
        else if (gone === 'cascade') (part as KeyedTable).removeRow(row)
        else Object.assign(row, { [cell]: many ? remaining(row.$cell(cell)) : undefined })
      }
    }
  }
}

function namingRows(part: StoredPart, cell: string, many: boolean, number: number): readonly CompiledRow[] {
  if (!many && part.shape.indexed.includes(cell)) return (part as KeyedTable).naming(cell, number)
  return [...part.rows()].filter((row) => {
    const kept = row.$kept(cell)
    return many ? (kept as readonly number[]).includes(number) : kept === number
  })
}

/** The ids of rows that are still there. */
const remaining = (ids: unknown): unknown => (ids as readonly unknown[]).filter((id) => id !== undefined)
