import type { ClientMatch } from '@zinc-referee/venue/client'
import type { AnyView } from 'zinc-referee'
import { Left } from '../clock.tsx'
import './turn-line.css'

/** Whose turn it is, what it allows and until when, where the rulebook has turns. */
export function TurnLine({ match }: { readonly match: ClientMatch<AnyView> }) {
  const { view } = match.replica
  const turn = view.turns?.now
  if (turn === undefined || turn.seats.length === 0 || turn.finished) return null
  const isOwn = match.seat !== null && turn.seats.includes(match.seat)
  const nameOf = (seat: string): string => view.roster.seats[seat]?.name ?? seat
  return (
    <p class="turn-line">
      <strong>{isOwn ? 'Your turn' : `Waiting for ${turn.seats.map(nameOf).join(', ')}`}</strong>
      {turn.step === '' ? '' : `: ${turn.step}`}
      {turn.ends !== null && (
        <>
          {' · '}
          <Left match={match} due={turn.ends} clock="turn" />
        </>
      )}
    </p>
  )
}
