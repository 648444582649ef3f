import { RefereeError } from '../kit/index.ts'
import type { CompiledRow, RowShape } from './row.ts'
import type { Store } from './store.ts'
import { KeyedTable, SeatTable, type StoredPart } from './tables.ts'

/**
 * Collects what a sight reads while it is computed: rows, whole parts (by their shape), and other things that can
 * change.
 */
export class Trace {
  private current: Set<object> | undefined

  add(read: object): void {
    this.current?.add(read)
  }

  /** Runs a function and gathers what it read. */
  follow<R>(run: () => R): { readonly result: R; readonly read: ReadonlySet<object> } {
    const outer = this.current
    const read = new Set<object>()
    this.current = read
    try {
      return { result: run(), read }
    } finally {
      this.current = outer
    }
  }
}

type LookClass = new (row: CompiledRow, trace: Trace, store: Store) => object
const classes: WeakMap<RowShape, LookClass> = new WeakMap()

/** Makes a read-only class of rows that traces each read. Getters in the rows themselves would cost every handler. */
function lookClass(shape: RowShape): LookClass {
  const known = classes.get(shape)
  if (known !== undefined) return known
  class Look {
    readonly $row: CompiledRow
    readonly $trace: Trace
    readonly $store: Store
    constructor(row: CompiledRow, trace: Trace, store: Store) {
      this.$row = row
      this.$trace = trace
      this.$store = store
    }
    get id(): string {
      return this.$row.id
    }
  }
  for (const { name, reference } of shape.each)
    Object.defineProperty(Look.prototype, name, {
      get(this: Look) {
        this.$trace.add(this.$row)
        if (reference !== undefined)
          this.$trace.add(this.$store.tables.get(reference.table)?.shape ?? this.$row)
        return this.$row.$cell(name)
      },
      set(this: Look) {
        this.$store.refuse(`${shape.path}/${name}`)
      },
    })
  classes.set(shape, Look)
  return Look
}

/** A part of the state as sights may read it. */
export function lookAt(stored: StoredPart, trace: Trace, store: Store): object {
  const Look = lookClass(stored.shape)
  const look = (row: CompiledRow): object => new Look(row, trace, store)
  const looks = (rows: readonly CompiledRow[]): object[] => {
    trace.add(stored.shape)
    return rows.map(look)
  }
  const closed = (): never => store.refuse(stored.shape.path)
  if (stored instanceof SeatTable) return { of: (seat: string) => look(stored.of(seat)) }
  if (stored instanceof KeyedTable)
    return {
      get: (id: string) => {
        const [row] = looks([stored.get(id) ?? []].flat())
        return row
      },
      all: () => looks(stored.all()),
      where: (cells: object) => looks(stored.where(cells)),
      add: closed,
      remove: closed,
    }
  const [only] = stored.rows()
  if (only === undefined) throw new RefereeError('ZR_STATE_NO_ROW', { table: stored.shape.path, id: '' })
  return look(only)
}
