import { type AnyMatch, formatElapsed } from 'zinc-referee'
import { builtIn } from './cell-paths.ts'
import { columns, hidden, plain } from './output.ts'

const MAX_ROWS = 12

type Row = { readonly [cell: string]: unknown }

/**
 * Returns the rows of tables: as a view has them, or as the server knows them. Tables of built-in rules are shown
 * only if a view has rows of them.
 */
export function tableBlocks(match: AnyMatch, view: object | undefined): string[] {
  return match.describe().rules.flatMap(({ name: rule, state }) =>
    Object.entries(state).flatMap(([part, { kind, cells }]) => {
      if (kind !== 'table' || (builtIn.has(rule) && view === undefined)) return []
      const rows = view === undefined ? held(match, rule, part) : seen(view, rule, part)
      if (rows.length === 0) return []
      const names = Object.keys(cells)
      const lines = rows
        .slice(0, MAX_ROWS)
        .map(([id, row]) => [
          id,
          ...names.map((cell) => (cell in row ? text(row[cell], cells[cell]?.kind === 'time') : hidden())),
        ])
      const more = rows.length - lines.length
      const table = columns([`${rule}.${part}`, ...names], lines)
      return [more > 0 ? `${table}\n… ${more} more rows (--json)` : table]
    }),
  )
}

const text = (value: unknown, isTime: boolean): string =>
  isTime && typeof value === 'number' ? formatElapsed(value) : plain(value)

function held(match: AnyMatch, rule: string, part: string): [string, Row][] {
  const table = match.state[rule]?.[part] as { all(): readonly (Row & { readonly id: string })[] } | undefined
  return (table?.all() ?? []).map((row) => [row.id, row])
}

/** The rows that a view has. */
const seen = (view: object, rule: string, part: string): [string, Row][] =>
  Object.entries<Row>(Object(Object(Object(view)[rule])[part])).sort(
    ([, a], [, b]) => Object.keys(b).length - Object.keys(a).length,
  )
