import { type CompiledRow, idFor } from '../../rows/index.ts'
import { type AnyMatch, insideOf, type OpenMatch } from '../../rulebook/index.ts'
import { seesCell } from '../../sight/index.ts'
import type { SightLeak } from './asked.ts'
import { rowsOf, type Secret, secretsOf } from './secrets.ts'

/** What one viewer has seen of one cell of a table. */
interface Seen {
  /** By row number, the value with which a row went out of sight, and the id under which it was known. */
  readonly lost: Map<number, { readonly id: string; readonly value: unknown }>
  /** By the id that it knows. */
  present: ReadonlyMap<string, Shown>
}
interface Shown {
  readonly number: number
  readonly value: unknown
}

/**
 * Rows that a viewer saw, then did not, and knows again by a name or a number of their own: it can follow them through
 * a shuffle, though their ids are new to it.
 */
export class ReturningIds {
  readonly leaks: SightLeak[] = []
  readonly #match: OpenMatch | undefined
  readonly #cells: readonly Secret[]
  readonly #seen: Map<string, Seen> = new Map()

  constructor(match: AnyMatch) {
    this.#match = insideOf(match)
    this.#cells = secretsOf(match.describe(), []).filter(
      ({ kind, of }) => kind === 'table' && (of.kind === 'int' || of.kind === 'text'),
    )
  }

  look(): void {
    const match = this.#match
    if (match === undefined || this.#cells.length === 0) return
    for (const cell of this.#cells) {
      const rows = rowsOf(match, cell.part)
      const values = rows.map((row) => row.$cell(cell.cell))
      const isIdentity = values.length > 2 && new Set(values).size === values.length
      for (const viewer of [...match.match.allSeats, 'spectator'])
        this.#lookAt(cell, rows, viewer, match.match.now, isIdentity)
    }
  }

  #lookAt(
    { name, part, cell }: Secret,
    rows: readonly CompiledRow[],
    viewer: string,
    at: number,
    isIdentity: boolean,
  ): void {
    const key = `${name} ${viewer}`
    const seen = this.#seen.get(key) ?? { lost: new Map(), present: new Map() }
    this.#seen.set(key, seen)
    const present = new Map<string, Shown>()
    for (const row of rows)
      if (seesCell(row, cell, viewer))
        present.set(idFor(row, viewer), { number: row.$number, value: row.$cell(cell) })
    const path = `/${part.replace('.', '/')}/${cell}`
    for (const [id, { number, value }] of present) {
      const lost = seen.lost.get(number)
      // Under the id that it had, the row was in sight all the time by another cell: it is known anyway.
      if (isIdentity && !seen.present.has(id) && lost?.value === value && lost?.id !== id)
        this.leaks.push({ viewer, at, secret: name, by: 'returning-id', path, input: undefined, inputs: [] })
    }
    for (const [id, { number, value }] of seen.present)
      if (!present.has(id)) seen.lost.set(number, { id, value })
    seen.present = present
  }
}
