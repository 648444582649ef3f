import type { RegattaMatch } from './regatta-face.tsx'

/** Your own orders. */
export function Helm({
  match,
  act,
  called,
}: {
  readonly match: RegattaMatch
  readonly act: (action: string, input?: object) => void
  readonly called: string
}) {
  const { view } = match.replica
  const seat = match.seat ?? ''
  const { phase } = view.phases.now
  if (phase === 'lobby') {
    const ready = view.roster.seats[seat]?.ready ?? false
    const waiting = Object.values(view.roster.seats)
      .filter((row) => row.presence === 'here' && !row.ready)
      .map(({ name }) => name)
    return (
      <div class="helm">
        <button
          type="button"
          class="main"
          aria-pressed={ready}
          onClick={() => act(ready ? 'roster.unready' : 'roster.ready')}
        >
          {ready ? 'Not ready' : 'Ready'}
        </button>
        <span>{waiting.length === 0 ? 'Waiting for one more' : `Waiting for ${waiting.join(', ')}`}</span>
      </div>
    )
  }
  if (phase !== 'live') return null
  const down = view.vitals.body[seat]?.down ?? true
  const order = (action: string, text: string) => (
    <button type="button" disabled={down} aria-pressed={called.trim() === action} onClick={() => act(action)}>
      {text}
    </button>
  )
  return (
    <fieldset class="helm">
      <legend class="unseen">Your raft</legend>
      {order('raft.search', 'Search for cargo')}
      {order('raft.dock', 'Head for the dock')}
      <span>
        {down ? 'You are sunk: your raft will be back.' : 'Or ram somebody below. Nobody sees your course.'}
      </span>
    </fieldset>
  )
}
