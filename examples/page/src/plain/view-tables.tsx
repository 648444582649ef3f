import type { ClientMatch } from '@zinc-referee/venue/client'
import type { AnyView, RuleDescription } from 'zinc-referee'
import { HiddenBlank } from '../seat-mark.tsx'

/** Every part of the state as this view has it; what it may not see is a hatched blank. */
export function ViewTables({ match }: { readonly match: ClientMatch<AnyView> }) {
  const { view } = match.replica
  return (
    <div class="parts">
      {[...match.rulebook.rules].reverse().flatMap((rule) =>
        Object.entries(rule.state)
          .filter(([part]) => view[rule.name]?.[part] !== undefined)
          .map(([part, how]) => (
            <Part
              key={`${rule.name}.${part}`}
              title={`${rule.name}.${part}`}
              how={how}
              held={view[rule.name]?.[part]}
            />
          )),
      )}
    </div>
  )
}

type Row = { readonly [cell: string]: unknown }

function Part({
  title,
  how,
  held,
}: {
  readonly title: string
  readonly how: RuleDescription['state'][string]
  readonly held: unknown
}) {
  const cells = Object.keys(how.cells)
  const rows: [string, Row][] =
    how.kind === 'single' ? [['', held as Row]] : Object.entries(held as { readonly [id: string]: Row })
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

function shown(value: unknown): string {
  if (value === null) return '–'
  if (Array.isArray(value)) return value.length === 0 ? 'none' : value.join(', ')
  return typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value)
}
