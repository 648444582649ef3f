import { formatElapsed } from 'zinc-referee'
import type { Looked } from './data.ts'

/** So many moments are listed before and behind the one that is shown. */
const AROUND = 9

/** What was done around a moment. */
export function Inputs({
  record,
  position,
  go,
  ask,
}: {
  readonly record: Looked
  readonly position: number
  readonly go: (position: number) => void
  readonly ask: (question: string) => void
}) {
  const from = Math.max(0, position - AROUND)
  const shown = record.entries.slice(from, position + AROUND + 1)
  return (
    <section class="inputs" aria-labelledby="done">
      <h2 id="done">What was done</h2>
      <ol>
        {shown.map(({ at, line, what, refused, raised = [] }, n) => (
          <li key={from + n} aria-current={from + n === position ? 'step' : undefined}>
            <button type="button" class="moment" onClick={() => go(from + n)}>
              <span class="number">{formatElapsed(at)}</span>
              <span class={line === undefined ? 'by-time' : ''}>{what}</span>
              {refused !== undefined && <span class="refused">✕ {refused}</span>}
            </button>
            {from + n === position && (
              <div class="more">
                {raised.length > 0 && <small>{raised.map(([name]) => name).join(', ')}</small>}
                {line !== undefined && (
                  <button type="button" onClick={() => ask(`line ${line}`)}>
                    Why?
                  </button>
                )}
              </div>
            )}
          </li>
        ))}
      </ol>
    </section>
  )
}
