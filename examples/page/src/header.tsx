import type { ClientMatch } from '@zinc-referee/venue/client'
import type { ComponentChildren } from 'preact'
import type { AnyView } from 'zinc-referee'
import { Left } from './clock.tsx'
import { titleOf } from './door.tsx'
import './header.css'

/** A link to this table. A tab that it opens has no seat yet. */
const Invitation = ({ id }: { readonly id: string }) => (
  <a href={`?match=${encodeURIComponent(id)}`} target="_blank" rel="noopener">
    Link for others
  </a>
)

/** What every mode has: phase, countdown, round clock, pause. */
export function Header({
  match,
  goOut,
  children,
}: {
  readonly match: ClientMatch<AnyView>
  readonly goOut: () => void
  readonly children?: ComponentChildren
}) {
  const { view } = match.replica
  const { now } = view.phases
  const round = view.rounds?.now
  return (
    <header class="top">
      <h1>{titleOf(match.mode)}</h1>
      <p class="stand" aria-live="polite">
        {now.phase === 'lobby' && (
          <>
            In the lobby. <Invitation id={match.id} />
          </>
        )}
        {now.phase === 'countdown' && now.until !== null && (
          <>
            Starts in <Left match={match} due={now.until} clock="phase" />
          </>
        )}
        {now.phase === 'break' && now.until !== null && (
          <>
            Break <Left match={match} due={now.until} clock="phase" />
          </>
        )}
        {now.phase === 'live' && (round?.round ?? 0) > 1 && `Round ${round?.round} `}
        {now.phase === 'live' && (round?.overtime ?? 0) > 0 && 'Overtime '}
        {now.phase === 'live' && round?.ends != null && <Left match={match} due={round.ends} clock="play" />}
        {now.phase === 'over' && 'Over'}
        {now.paused && ' · paused'}
        {match.state === 'lost' && ' · connection lost, trying again'}
      </p>
      {children}
      <button type="button" onClick={goOut}>
        Leave
      </button>
    </header>
  )
}
