import type { CellDescription, RuleDescription } from 'zinc-referee'
import { formatElapsed } from 'zinc-referee/replica'
import { HiddenBlank } from '../seat-mark.tsx'
import type { Shown } from './shown.ts'

/** Every part of the state as this view has it; what it may not see is a hatched blank. */
export function ViewTables({ match, rulebook, nameOf }: Shown) {
  const { view } = match.replica
  const seats = Object.keys(view['roster']?.['seats'] ?? {})
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: on a narrow screen it scrolls sideways, by keys too
    <div class="parts" tabIndex={0}>
      {inOrder(rulebook.rules).flatMap((rule) =>
        Object.entries(rule.state)
          .filter(([part]) => view[rule.name]?.[part] !== undefined)
          .map(([part, how]) => (
            <Part
              key={`${rule.name}.${part}`}
              title={`${rule.name}.${part}`}
              how={how}
              held={view[rule.name]?.[part]}
              seats={seats}
              nameOf={nameOf}
            />
          )),
      )}
    </div>
  )
}

/** What every mode has comes after what is the mode's own. */
const last: readonly string[] = ['verdict', 'rounds', 'phases', 'roster']
const inOrder = (rules: readonly RuleDescription[]): RuleDescription[] =>
  [...rules].reverse().sort((a, b) => last.indexOf(a.name) - last.indexOf(b.name))

type Row = { readonly [cell: string]: unknown }

function Part({
  title,
  how,
  held,
  seats,
  nameOf,
}: {
  readonly title: string
  readonly how: RuleDescription['state'][string]
  readonly held: unknown
  readonly seats: readonly string[]
  readonly nameOf: (id: string) => string
}) {
  // What nobody sees is in no view: it has no column.
  const cells = [
    ...Object.entries(how.cells).flatMap(([cell, { seenBy }]) => (seenBy === 'nobody' ? [] : cell)),
    ...Object.keys(how.derived ?? {}),
  ]
  if (cells.length === 0) return null
  const rows = rowsOf(how.kind, held, seats)
  return (
    <table class="part">
      <caption>{title}</caption>
      <thead>
        <tr>
          {how.kind === 'single' ? null : <th scope="col">id</th>}
          {cells.map((cell) => (
            <th key={cell} scope="col">
              {cell}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(([id, row]) => (
          <tr key={id}>
            {how.kind === 'single' ? null : <th scope="row">{nameOf(id)}</th>}
            {cells.map((cell) => (
              <td key={cell}>
                {cell in row ? shown(row[cell], how.cells[cell], nameOf) : <HiddenBlank what={cell} />}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** A seat's row that this view has nothing of is there all the same, all blank. */
function rowsOf(kind: string, held: unknown, seats: readonly string[]): [string, Row][] {
  if (kind === 'single') return [['', held as Row]]
  const rows = held as { readonly [id: string]: Row }
  return kind === 'perSeat' ? seats.map((seat) => [seat, rows[seat] ?? {}]) : Object.entries(rows)
}

/** A value as a person reads it: moments as clock text, seats and rows by their names. */
function shown(value: unknown, cell: CellDescription | undefined, nameOf: (id: string) => string): string {
  const each = (item: unknown): string => shown(item, cell?.of ?? cell, nameOf)
  if (value === null) return '–'
  if (Array.isArray(value)) return value.length === 0 ? 'none' : value.map(each).join(', ')
  if (typeof value === 'object') {
    const members = Object.entries(value).map(([key, item]) =>
      item === true ? nameOf(key) : `${nameOf(key)}: ${each(item)}`,
    )
    return members.length === 0 ? 'none' : members.join(', ')
  }
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  const kind = cell?.kind === 'maybe' ? cell.of?.kind : cell?.kind
  if (kind === 'time' && typeof value === 'number') return formatElapsed(value)
  return kind === 'seat' || kind === 'row' ? nameOf(String(value)) : String(value)
}
