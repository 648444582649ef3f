import { idFor } from '../../rows/index.ts'
import type { OpenMatch } from '../../rulebook/index.ts'

/** The rows that one viewer knows by ids of its own, by their inner ids: so that they can be set beside those of others. */
export class InnerIds {
  private readonly engine: OpenMatch['engine']
  private readonly viewer: string
  /** By the viewer's id. A row that has gone is still known by it. */
  private readonly known: Map<string, string> = new Map()

  constructor(engine: OpenMatch['engine'], viewer: string) {
    this.engine = engine
    this.viewer = viewer
  }

  /** A path of an operation, such as `/market/lanterns/ID/quay`. */
  path(path: string): string {
    const [, rule = '', part = '', id, ...rest] = path.split('/')
    const inner = id === undefined ? undefined : this.row(`${rule}.${part}`, id)
    return inner === undefined ? path : ['', rule, part, inner, ...rest].join('/')
  }

  /** A whole view. */
  view<V extends object>(view: V): V {
    const renamed = Object.entries(view).map(([rule, parts]) => [
      rule,
      Object.fromEntries(
        Object.entries(Object(parts)).map(([part, rows]) => [part, this.rows(`${rule}.${part}`, rows)]),
      ),
    ])
    return this.value(Object.fromEntries(renamed))
  }

  /** Data in which such ids may be, as in cells that name rows. */
  value<T>(value: T): T {
    if (typeof value === 'string') return (this.known.get(value) ?? value) as T
    if (Array.isArray(value)) return value.map((each: unknown) => this.value(each)) as T
    if (typeof value !== 'object' || value === null) return value
    return Object.fromEntries(Object.entries(value).map(([key, each]) => [key, this.value(each)])) as T
  }

  private rows(table: string, rows: unknown): unknown {
    if (!this.engine.store.tables.has(table)) return rows
    return Object.fromEntries(
      Object.entries(Object(rows)).map(([id, row]) => [this.row(table, id) ?? id, row]),
    )
  }

  private row(table: string, id: string): string | undefined {
    const known = this.known.get(id)
    if (known !== undefined) return known
    const row = this.engine.store.tables
      .get(table)
      ?.rows()
      .find((each) => idFor(each, this.viewer) === id)
    if (row !== undefined) this.known.set(id, row.id)
    return row?.id
  }
}
