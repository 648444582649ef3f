import type { ClientMatch } from '@zinc-referee/venue/client'
import type { AnyView } from 'zinc-referee'
import type { Notice } from 'zinc-referee/replica'
import { useRedraw } from './clock.tsx'
import './feed.css'

const MAX_LINES = 8

/** Notices as lines that vanish when they expire. */
export function Feed<N extends Notice>({
  match,
  tell,
  lang = 'en',
}: {
  readonly match: ClientMatch<AnyView, N>
  readonly tell: (notice: N) => string | undefined
  readonly lang?: string
}) {
  const now = match.replica.now(match.clock())
  const standing = match.replica.standing(match.clock())
  useRedraw(standing.length === 0 ? undefined : Math.min(...standing.map(({ until }) => until)) - now)
  const lines = standing.flatMap((notice) => tell(notice) ?? []).slice(-MAX_LINES)
  return (
    <section class="feed" aria-label="What happened">
      <h2>Just now</h2>
      <ol aria-live="polite" lang={lang}>
        {lines.map((line, at) => (
          <li key={`${at} ${line}`}>{line}</li>
        ))}
      </ol>
    </section>
  )
}
