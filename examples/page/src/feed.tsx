import type { ClientMatch } from '@zinc-referee/venue/client'
import { useState } from 'preact/hooks'
import type { AnyView } from 'zinc-referee'
import { formatElapsed, type Notice } from 'zinc-referee/replica'
import { useRedraw } from './clock.tsx'
import './feed.css'

const [MAX_LINES, MAX_KEPT] = [8, 300]

/** Lines by the id of their notice, with when they were first shown. */
export type Told = Map<string, { readonly at: number; readonly line: string }>

/**
 * Notices as lines; those that have expired are pale, and give way to new ones. All can be read back, with the time since the
 * first one.
 */
export function Feed<N extends Notice>({
  match,
  tell,
  title = 'Just now',
  kept = new Map(),
  lang = 'en',
}: {
  readonly match: ClientMatch<AnyView, N>
  readonly tell: (notice: N) => string | undefined
  readonly title?: string
  /** All lines that were shown, by the id of their notice. */
  readonly kept?: Told
  readonly lang?: string
}) {
  const now = match.replica.now(match.clock())
  const standing = match.replica.standing(match.clock())
  useRedraw(standing.length === 0 ? undefined : Math.min(...standing.map(({ until }) => until)) - now)
  const fresh = new Set<string>()
  for (const notice of standing) {
    const line = tell(notice)
    if (line === undefined) continue
    kept.set(notice.id, { at: notice.at, line })
    fresh.add(notice.id)
  }
  const [wanted, want] = useState('')
  const [first] = kept.values()
  const history = [...kept.values()]
    .slice(-MAX_KEPT)
    .filter(({ line }) => line.toLowerCase().includes(wanted.toLowerCase()))
    .toReversed()
  return (
    <section class="feed">
      <h2>{title}</h2>
      <ol aria-live="polite" lang={lang}>
        {[...kept].slice(-MAX_LINES).map(([id, { line }]) => (
          <li key={id} class={fresh.has(id) ? '' : 'past'}>
            {line}
          </li>
        ))}
      </ol>
      {kept.size > 0 && (
        <details>
          <summary>Read back</summary>
          <label class="find">
            Find
            <input value={wanted} onInput={(event) => want(event.currentTarget.value)} />
          </label>
          <ol class="history" lang={lang}>
            {history.map(({ at, line }, nth) => (
              <li key={history.length - nth}>
                <time class="clock">{formatElapsed(at - (first?.at ?? 0))}</time> {line}
              </li>
            ))}
          </ol>
        </details>
      )}
    </section>
  )
}
