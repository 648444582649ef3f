import { type RecordContent, readRecord } from '../../record/index.ts'
import { type AnyRulebook, openTraced } from '../../rulebook/index.ts'
import { type Deed, deedsOf, keepReads, type StepTaken, type TimerName } from '../../tracing/index.ts'
import { inputText, rulingText, timerText } from '../explain/says.ts'
import { playedPositions } from './positions.ts'

/** What was done at a position. */
export interface TimelineEntry {
  /** Match time, in ms. */
  readonly at: number
  /** The line of an input; nothing for timers that were due. */
  readonly line?: number
  /** The input or the timers in words. */
  readonly what: string
  /** Whose action it was. */
  readonly seat?: string
  /** How an input was ruled, if it was not accepted: the code, or several. */
  readonly refused?: string
  /** Names of what was raised, with the seat that each is about. */
  readonly raised?: readonly (readonly [name: string, seat: string | null])[]
}
/** A timer that ran, from a position to a position. */
export interface TimerBar {
  /** Such as `respawn.back`. */
  readonly name: string
  /** Its seat or other key; '' for none. */
  readonly key: string
  /** The position at which it was started. */
  readonly from: number
  /** The position at which it ended. */
  readonly until: number
  /** How it ended: it was due, it was stopped or started again, or it ran at the end of the record. */
  readonly end: 'due' | 'stopped' | 'running'
}
/** All that a record has, in order, without what anybody saw. */
export interface Timeline {
  /** The name of the rulebook. */
  readonly rulebook: string
  /** What chance was seeded with. */
  readonly seed: string
  /** Ids of all who ever sat in the match. */
  readonly seats: readonly string[]
  /** What was done, by position. */
  readonly entries: readonly TimelineEntry[]
  /** Timers that ran, in the order of their start. */
  readonly timers: readonly TimerBar[]
  /** By seat, its score from each position on at which it changed. */
  readonly scores: { readonly [seat: string]: readonly (readonly [position: number, score: number])[] }
}

/**
 * Plays a record again, and returns what happened in it as data for a page.
 * @throws what `replayRecord` throws
 */
export function timelineOf(book: AnyRulebook, record: string | RecordContent): Timeline {
  const content = typeof record === 'string' ? readRecord(record) : record
  const { match, engine, tracer, play } = openTraced(book, content)
  keepReads(engine.store)
  const entries: TimelineEntry[] = []
  const bars = new Bars()
  const scores: Record<string, readonly (readonly [number, number])[]> = {}
  const seats = new Set<string>()
  let seen = 0
  for (const { at, line, input } of playedPositions(match, content, play)) {
    const here = entries.length
    const steps = tracer.steps.slice(seen)
    seen = tracer.steps.length
    const deeds = steps.filter(({ ruling }) => ruling?.ok !== false).flatMap((step) => [...deedsOf(step)])
    for (const step of steps) bars.fired(step, here)
    for (const deed of deeds) {
      bars.moved(deed, here)
      if (
        deed.what === 'wrote' &&
        !deed.isUndone &&
        deed.row.$shape.path === '/scores/sums' &&
        deed.cell === 'score'
      )
        scores[deed.row.id] = [...(scores[deed.row.id] ?? []), [here, Number(deed.after)]]
    }
    for (const { timer } of steps) {
      const kind = engine.plan.timers.find(({ whole }) => whole === timer?.name)
      if (timer && kind && engine.time.find(kind, timer.key)) bars.repeats(timer, here)
    }
    for (const seat of match.allSeats) seats.add(seat)
    const refused = refusal(input?.no)
    const raised = deeds.flatMap((deed) => (deed.what === 'raised' ? [raisedBy(deed)] : []))
    entries.push({
      at,
      ...(line !== undefined && { line }),
      what: input === undefined ? timersOf(steps) : inputText(input),
      ...(input?.seat !== undefined && { seat: input.seat }),
      ...(refused !== undefined && { refused }),
      ...(raised.length > 0 && { raised }),
    })
  }
  return {
    rulebook: content.header.rulebook,
    seed: content.header.seed,
    seats: [...seats],
    entries,
    timers: bars.all(entries.length - 1),
    scores,
  }
}

const refusal = (no: unknown): string | undefined =>
  no === undefined
    ? undefined
    : typeof no === 'string'
      ? no
      : [...new Set([no].flat().filter(Boolean))].join(', ')

const raisedBy = ({ event, cells }: Deed & { readonly what: 'raised' }): readonly [string, string | null] => [
  event.name,
  String(cells['seat'] ?? cells['target'] ?? '') || null,
]

const timersOf = (steps: readonly StepTaken[]): string =>
  steps
    .map(({ timer, during, ruling }) =>
      timer === undefined
        ? during
        : `${timerText(timer)}${ruling?.ok === false ? `, ${rulingText(ruling)}` : ''}`,
    )
    .join(', ') || 'time passes'

/** The bars of timers, as they begin and end. */
class Bars {
  private readonly done: TimerBar[] = []
  private readonly running: Map<string, { name: string; key: string; from: number }> = new Map()

  fired({ timer }: StepTaken, here: number): void {
    if (timer !== undefined) this.end(timer.name, timer.key, here, 'due')
  }

  /** It runs on, for its next time. */
  repeats({ name, key }: TimerName, here: number): void {
    if (!this.running.has(`${name} ${key}`)) this.running.set(`${name} ${key}`, { name, key, from: here })
  }

  moved(deed: Deed, here: number): void {
    if ((deed.what !== 'started' && deed.what !== 'stopped') || deed.isUndone) return
    const { name, key } = deed.timer
    this.end(name, key, here, 'stopped')
    if (deed.what === 'started') this.running.set(`${name} ${key}`, { name, key, from: here })
  }

  all(last: number): readonly TimerBar[] {
    for (const { name, key } of [...this.running.values()]) this.end(name, key, last, 'running')
    return this.done.sort((a, b) => a.from - b.from)
  }

  private end(name: string, key: string, until: number, end: TimerBar['end']): void {
    const bar = this.running.get(`${name} ${key}`)
    if (bar === undefined) return
    this.running.delete(`${name} ${key}`)
    this.done.push({ ...bar, until, end })
  }
}
