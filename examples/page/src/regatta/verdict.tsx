import { crews } from '../../../src/regatta/crews.ts'
import type { RegattaMatch } from './regatta-face.tsx'

const REASONS: { readonly [reason: string]: string } = {
  'most-at-time': 'the most when time was up',
  forfeit: 'the others have left',
  'nobody-left': 'everybody has left',
  'goal-reached': 'the goal is reached',
}

/** How the bout ended, and the wish for another. */
export function Verdict({
  match,
  act,
}: {
  readonly match: RegattaMatch
  readonly act: (action: string) => void
}) {
  const { view } = match.replica
  const { kind, winners, reason } = view.verdict.end
  if (kind === null || view.phases.now.phase !== 'over') return null
  const names = winners.map((seat) => view.roster.seats[seat]?.name ?? seat)
  const [first = ''] = winners
  const crew = crews[view.teams.side[first]?.team ?? -1] ?? ''
  const title =
    kind === 'none' ? 'Nobody wins' : kind === 'win' ? `${crew} wins: ${names.join(', ')}` : 'The crews draw'
  const wished = match.seat !== null && view.rounds.wishes[match.seat]?.rematch === true
  return (
    <section class="verdict" aria-label="Verdict">
      <p>
        <strong>{title}</strong> {REASONS[reason] ?? reason}
      </p>
      {match.seat !== null && (
        <button type="button" class="main" disabled={wished} onClick={() => act('rounds.rematch')}>
          {wished ? 'Waiting for the others' : 'Rematch'}
        </button>
      )}
    </section>
  )
}
