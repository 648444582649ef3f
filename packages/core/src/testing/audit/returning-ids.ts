import type { AnyMatch } from '../../rulebook/index.ts'
import type { SightLeak } from './asked.ts'
import { leavesOf } from './leaves.ts'
import { secretsOf } from './secrets.ts'

/** What one viewer has seen of one table. */
interface Seen {
  /** By path of the cell without its row: the values of rows that are out of sight. */
  readonly lost: Map<string, Set<string>>
  /** By row. */
  present: ReadonlyMap<string, ReadonlyMap<string, string>>
}

/**
 * Rows that a viewer saw, then did not, and knows again, by a name or a number of their own: it can follow them through
 * a shuffle. (The ids of rows are made anew whenever somebody loses sight of them.)
 */
export class ReturningIds {
  readonly leaks: SightLeak[] = []
  readonly #cells: ReadonlyMap<string, string>
  readonly #seen = new Map<string, Seen>()

  constructor(match: AnyMatch) {
    this.#cells = new Map(
      secretsOf(match.describe(), []).flatMap(({ kind, part, name, cell, of }) =>
        kind === 'table' && (of.kind === 'int' || of.kind === 'text')
          ? [[`/${part.replace('.', '/')}/${cell}`, name] as const]
          : [],
      ),
    )
  }

  look(match: AnyMatch): void {
    if (this.#cells.size === 0) return
    for (const viewer of [...match.seats, 'spectator']) {
      const before = this.#seen.get(viewer) ?? { lost: new Map(), present: new Map() }
      this.#seen.set(viewer, before)
      const present = this.#rowsFor(match, viewer)
      for (const [row, cells] of present) {
        if (before.present.has(row)) continue
        for (const [cell, value] of cells)
          if (before.lost.get(cell)?.has(value) && isIdentity(match, cell)) this.#found(match, viewer, cell)
      }
      for (const [row, cells] of before.present) {
        if (present.has(row)) continue
        for (const [cell, value] of cells) {
          const values = before.lost.get(cell) ?? new Set()
          before.lost.set(cell, values.add(value))
        }
      }
      before.present = present
    }
  }

  #rowsFor(match: AnyMatch, viewer: string): ReadonlyMap<string, ReadonlyMap<string, string>> {
    const rows = new Map<string, Map<string, string>>()
    for (const [path, value] of leavesOf(match.view(viewer))) {
      const [, rule, part, row = '', name] = path.split('/')
      const cell = `/${rule}/${part}/${name}`
      if (!this.#cells.has(cell)) continue
      const cells = rows.get(row) ?? new Map<string, string>()
      rows.set(row, cells.set(cell, value))
    }
    return rows
  }

  #found(match: AnyMatch, viewer: string, cell: string): void {
    const secret = this.#cells.get(cell) ?? ''
    this.leaks.push({
      viewer,
      at: match.now,
      secret,
      by: 'returning-id',
      path: cell,
      input: undefined,
      inputs: [],
    })
  }
}

/** No two rows have the same value in this cell. */
function isIdentity(match: AnyMatch, path: string): boolean {
  const [, rule = '', part = '', cell = ''] = path.split('/')
  const table: { all(): readonly object[] } = Object(match.state[rule])[part]
  const values = table.all().map((row) => Object(row)[cell])
  return values.length > 2 && new Set(values).size === values.length
}
