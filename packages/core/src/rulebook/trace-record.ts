import { type InputLine, type RecordContent, readRecord, rulingsOf } from '../record/index.ts'
import type { Ruling } from '../rule/index.ts'
import { TracedEngine, type Tracer } from '../tracing/index.ts'
import type { AnyRulebook } from './define-rulebook.ts'
import { recorded } from './replay-record.ts'
import { type OpenMatch, start } from './start-match.ts'

/** An input of a record, and what it was answered: one ruling for each of several facts. */
export interface Answered {
  readonly line: InputLine
  readonly rulings: readonly Ruling[]
}
/** A record that was played again and watched. */
export interface TracedMatch extends OpenMatch {
  readonly engine: TracedEngine
  readonly tracer: Tracer
  /** By the number of the line. */
  readonly inputs: ReadonlyMap<number, Answered>
}

/** When a trace ends. */
export interface TraceEnd {
  /** Match time, in ms. Default: with the record. */
  readonly at?: number | undefined
  /** The number of a line; it is played. Default: the last one. */
  readonly line?: number | undefined
}

/** A match that has begun as a record begins, and is watched. */
export interface OpenTrace extends TracedMatch {
  /** Plays an input of the record. */
  play(line: InputLine, number: number): void
}

/**
 * Begins a match as a record does, and notes all that is done in it.
 * @throws ZR_RECORD_OTHER_RULEBOOK, ZR_RECORD_OTHER_PLAN, ZR_RECORD_OTHER_SETTINGS, and what `readRecord` throws
 */
export function openTraced(book: AnyRulebook, record: string | RecordContent): OpenTrace {
  const opened = start(book, { ...recorded(book, record).begin, engine: TracedEngine })
  const engine = opened.engine as TracedEngine // it is of the class that was given
  const tracer = engine.tracer as Tracer // the match has begun
  const { match, inbox } = opened
  const inputs = new Map<number, Answered>()
  return {
    match,
    engine,
    inbox,
    tracer,
    inputs,
    play(line, number) {
      tracer.line = number
      inputs.set(number, { line, rulings: rulingsOf(inbox, line) })
      tracer.line = undefined
    },
  }
}

/**
 * Plays a record again and notes all that is done in it.
 * @throws what `openTraced` throws
 */
export function traceRecord(
  book: AnyRulebook,
  record: string | RecordContent,
  { at, line: last = Number.POSITIVE_INFINITY }: TraceEnd = {},
): TracedMatch {
  const content = typeof record === 'string' ? readRecord(record) : record
  const traced = openTraced(book, content)
  const { match } = traced
  const until = at ?? Number.POSITIVE_INFINITY
  for (const { number, line } of content.lines) {
    if (line.t > until || number > last) break
    if (line.t > match.now) match.advanceTo(line.t)
    if ('input' in line) traced.play(line, number)
  }
  if (at !== undefined && at > match.now) match.advanceTo(at)
  return traced
}
