import type { AnyView } from 'zinc-referee'
import { formatElapsed, scoreSheet } from 'zinc-referee/replica'
import type { Act } from './face.tsx'

const REASONS: { readonly [reason: string]: string } = {
  'five-strikes': 'five strikes are over',
  'most-per-head': 'most points for each fish',
  'most-cups': 'most cups when time was up, and less time with the kettle where that is level',
  'first-to-hold': 'rang for a minute',
  'most-held': 'rang longer',
  'most-at-time': 'the most when time was up',
  'most-rounds': 'the most rounds',
  'last-standing': 'the last with lives',
  'post-closed': 'the post has closed',
  'market-closed': 'the market has closed',
  'all-done': 'all is filled',
  parity: 'as many as the others',
  'time-up': 'time was up',
  'lilies-joined': 'all three lilies on one line',
  'more-lilies': 'more lilies on one line, or a shorter one',
  'list-filled': 'the first to fill the list',
  forfeit: 'the others have left',
  'nobody-left': 'everybody has left',
  abandoned: 'the match was abandoned',
}

/** What was counted, by seat; nothing in a mode without scores and counters. */
function Sheet({ view }: { readonly view: AnyView }) {
  const { columns, seats } = scoreSheet(view)
  if (columns.length === 0) return null
  return (
    <details>
      <summary>The score sheet</summary>
      <table>
        <thead>
          <tr>
            <th scope="col">Seat</th>
            {columns.map(({ name }) => (
              <th scope="col" class="number" key={name}>
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {seats.map(({ seat, name, total }) => (
            <tr key={seat}>
              <th scope="row">{name}</th>
              {columns.map((column) => (
                <td class="number" key={column.name}>
                  {column.keeps === 'time'
                    ? formatElapsed(total[column.name] ?? 0)
                    : (total[column.name] ?? 0)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  )
}

/** How the bout ended, and the wish for another where the mode has one. */
export function Verdict({
  title,
  reason,
  view,
  seat,
  act,
}: {
  readonly title: string
  readonly reason: string
  readonly view: AnyView
  readonly seat: string | null
  readonly act: Act | undefined
}) {
  const wishes = view.rounds?.wishes
  const wished = seat !== null && wishes?.[seat]?.rematch === true
  return (
    <section class="verdict">
      <p>
        <strong>{title}</strong> {REASONS[reason] ?? reason}
      </p>
      <Sheet view={view} />
      {act !== undefined && wishes !== undefined && (
        <button type="button" class="main" disabled={wished} onClick={() => act('rounds.rematch')}>
          {wished ? 'Waiting for the others' : 'Rematch'}
        </button>
      )}
    </section>
  )
}
