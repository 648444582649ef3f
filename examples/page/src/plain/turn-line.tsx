import type { AnyView } from 'zinc-referee'

interface Turn {
  readonly seat: string | null
  readonly seats: readonly string[]
  readonly step: string
  readonly finished: boolean
}

/** Whose turn it is, where the rulebook has turns. */
export function TurnLine({
  view,
  viewer,
  nameOf,
}: {
  readonly view: AnyView
  readonly viewer: string | null
  readonly nameOf: (seat: string) => string
}) {
  const turn: Turn | undefined = Object(view['turns']).now
  if (turn === undefined || turn.seats.length === 0 || turn.finished) return null
  const isOwn = viewer !== null && turn.seats.includes(viewer)
  return (
    <p class="said mild">
      {isOwn ? 'Your turn' : `Waiting for ${turn.seats.map(nameOf).join(', ')}`}
      {turn.step === '' ? '' : `: ${turn.step}`}
    </p>
  )
}
