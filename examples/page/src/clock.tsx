import type { ClientMatch } from '@zinc-referee/venue/client'
import { useEffect, useState } from 'preact/hooks'
import type { AnyView, ClockName } from 'zinc-referee'
import { formatRemaining, nextChange } from 'zinc-referee/replica'

/** What remains until a due, drawn again only when its text changes; held while the clock is. */
export function Left({
  match,
  due,
  clock,
}: {
  readonly match: ClientMatch<AnyView>
  readonly due: number
  readonly clock: ClockName
}) {
  const remaining = match.replica.remaining(due, clock, match.clock())
  const runs = match.replica.view.clocks[clock].runs
  useRedraw(runs ? nextChange(remaining) : undefined)
  return <time class="clock">{formatRemaining(remaining)}</time>
}

/** Draws the component again after this many ms, if any. */
export function useRedraw(after: number | undefined): void {
  const [, draw] = useState(0)
  useEffect(() => {
    if (after === undefined) return
    const timer = setTimeout(() => draw((n) => n + 1), Math.max(0, after) + 1)
    return () => clearTimeout(timer)
  })
}
