import { useEffect, useState } from 'preact/hooks'
import { formatElapsed } from 'zinc-referee'
import { Answer } from './answer.tsx'
import { Cells } from './cells.tsx'
import { type Looked, seenBy } from './data.ts'
import { Inputs } from './inputs.tsx'
import { Lanes } from './lanes.tsx'
import { useMoment } from './use-moment.ts'
import type { SeenBy } from './views.ts'

/** Looks back at a record: moves through it, shows what was known to whom, and asks why. */
export function Review({ record }: { readonly record: Looked }) {
  const { entries, seats } = record
  const last = entries.length - 1
  const moment = useMoment(record)
  const { position, a, b } = moment
  const go = (to: number): void => moment.set({ position: Math.max(0, Math.min(last, to)) })
  const [question, setQuestion] = useState('')
  const [viewers, setViewers] = useState<readonly SeenBy[]>([])
  useEffect(() => {
    let isOld = false
    void seenBy(['server', a, b]).then((seen) => !isOld && setViewers(seen))
    return () => {
      isOld = true
    }
  }, [a, b])
  useKeys(moment.move)
  const { at = 0, line } = entries[position] ?? {}
  const asked = (path: string): string =>
    / /.test(path) ? path : line === undefined ? `${path} at ${at}ms` : `${path} at line ${line}`
  const goToLine = (wanted: number): void => go(entries.findIndex((entry) => entry.line === wanted))
  const cutAt = line ?? entries.slice(0, position).findLast((entry) => entry.line !== undefined)?.line
  return (
    <div class="desk">
      <header>
        <h1>
          {record.rulebook} <small>seed {record.seed}</small>
        </h1>
        <p class="moment-now" aria-live="polite">
          <span class="number">{formatElapsed(at)}</span>{' '}
          <small>{line === undefined ? 'time passes' : `line ${line}`}</small>
        </p>
      </header>
      <Lanes record={record} position={position} go={go} />
      <p class="legend">
        A tick is an input, a cross one that was refused; a yellow mark is an event about the seat; the line
        is its score. Bars are timers: green came due, red were stopped.
      </p>
      <div class="ways">
        <button type="button" onClick={() => moment.move(-1)} disabled={position === 0}>
          Back
        </button>
        <button type="button" onClick={() => moment.move(1)} disabled={position === last}>
          On
        </button>
        <label class="slider">
          Moment
          <input
            type="range"
            min={0}
            max={last}
            value={position}
            aria-valuetext={`${formatElapsed(at)}, ${entries[position]?.what ?? ''}`}
            onInput={(event) => go(Number(event.currentTarget.value))}
          />
        </label>
        <Search record={record} position={position} go={go} />
        <Chosen label="See it as" value={a} seats={seats} choose={(seat) => moment.set({ a: seat })} />
        <Chosen label="and as" value={b} seats={seats} choose={(seat) => moment.set({ b: seat })} />
        {cutAt !== undefined && (
          <a href={`scenario?line=${cutAt}`} download={`${record.rulebook}-line-${cutAt}.yaml`}>
            Cut a scenario here
          </a>
        )}
      </div>
      <div class="columns">
        <Inputs record={record} position={position} go={go} ask={setQuestion} />
        <Cells viewers={viewers} position={position} ask={(path) => setQuestion(asked(path))} />
        <Answer question={question} ask={setQuestion} goToLine={goToLine} />
      </div>
    </div>
  )
}

/** What keys do, in positions; without an end: to the first or the last. */
const STEPS: { readonly [key: string]: number } = {
  ArrowLeft: -1,
  ArrowRight: 1,
  PageUp: -10,
  PageDown: 10,
  Home: Number.NEGATIVE_INFINITY,
  End: Number.POSITIVE_INFINITY,
}

/** Keys move through the record wherever the focus is, but where they have a meaning already. */
function useKeys(move: (by: number) => void): void {
  useEffect(() => {
    const pressed = (event: KeyboardEvent): void => {
      const by = STEPS[event.key]
      const isOwn = event.target instanceof HTMLInputElement || event.target instanceof HTMLSelectElement
      if (by === undefined || isOwn) return
      event.preventDefault()
      move(by)
    }
    addEventListener('keydown', pressed)
    return () => removeEventListener('keydown', pressed)
  }, [])
}

function Chosen({
  label,
  value,
  seats,
  choose,
}: {
  readonly label: string
  readonly value: string
  readonly seats: readonly string[]
  readonly choose: (seat: string) => void
}) {
  return (
    <label>
      {label}
      <select value={value} onChange={(event) => choose(event.currentTarget.value)}>
        {[...seats, 'spectator'].map((seat) => (
          <option key={seat}>{seat}</option>
        ))}
      </select>
    </label>
  )
}

/** Goes to the next moment that has a text in it, and from the last one to the first. */
function Search({
  record: { entries },
  position,
  go,
}: {
  readonly record: Looked
  readonly position: number
  readonly go: (position: number) => void
}) {
  const [none, setNone] = useState(false)
  return (
    <form
      class="search"
      onSubmit={(event) => {
        event.preventDefault()
        const text = String(new FormData(event.currentTarget).get('text')).toLowerCase()
        const has = ({ what, refused = '', raised = [] }: Looked['entries'][number]): boolean =>
          `${what} ${refused} ${raised.flat().join(' ')}`.toLowerCase().includes(text)
        const on = entries.findIndex((entry, at) => at > position && has(entry))
        const found = on === -1 ? entries.findIndex(has) : on
        setNone(found === -1)
        if (found !== -1) go(found)
      }}
    >
      <label>
        Find
        <input name="text" placeholder="vitals.down" />
      </label>
      <button type="submit">Next</button>
      <small role="status">{none ? 'nowhere' : ''}</small>
    </form>
  )
}
