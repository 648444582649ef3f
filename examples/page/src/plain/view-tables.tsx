import type { ClientMatch } from '@zinc-referee/venue/client'
import type { AnyView, RulebookDescription, RuleDescription } from 'zinc-referee'
import { HiddenBlank } from '../seat-mark.tsx'

/** Every part of the state as this view has it; what it may not see is a hatched blank. */
export function ViewTables({
  match,
  rulebook,
}: {
  readonly match: ClientMatch<AnyView>
  readonly rulebook: Pick<RulebookDescription, 'rules'>
}) {
  const { view } = match.replica
  const seats = Object.keys(view['roster']?.['seats'] ?? {})
  return (
    <div class="parts">
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
}: {
  readonly title: string
  readonly how: RuleDescription['state'][string]
  readonly held: unknown
  readonly seats: readonly string[]
}) {
  const cells = Object.keys(how.cells)
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
            {how.kind === 'single' ? null : <th scope="row">{id}</th>}
            {cells.map((cell) => (
              <td key={cell}>{cell in row ? shown(row[cell]) : <HiddenBlank what={cell} />}</td>
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

function shown(value: unknown): string {
  if (value === null) return '–'
  if (Array.isArray(value)) return value.length === 0 ? 'none' : value.join(', ')
  if (typeof value === 'object') {
    const members = Object.entries(value as object).map(([key, member]) => `${key}: ${shown(member)}`)
    return members.length === 0 ? 'none' : members.join(', ')
  }
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)
}
