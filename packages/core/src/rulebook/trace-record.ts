import { type InputLine, type RecordContent, rulingsOf } from '../record/index.ts'
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

/**
 * Plays a record again and notes all that is done in it.
 * @throws ZR_RECORD_OTHER_RULEBOOK, ZR_RECORD_OTHER_PLAN, ZR_RECORD_OTHER_SETTINGS, and what `readRecord` throws
 */
export function traceRecord(
  book: AnyRulebook,
  record: string | RecordContent,
  { at, line: last = Number.POSITIVE_INFINITY }: TraceEnd = {},
): TracedMatch {
  const { content, begin } = recorded(book, record)
  const opened = start(book, { ...begin, engine: TracedEngine })
  const engine = opened.engine as TracedEngine // it is of the class that was given
  const tracer = engine.tracer as Tracer // the match has begun
  const { match, inbox } = opened
  const until = at ?? Number.POSITIVE_INFINITY
  const inputs = new Map<number, Answered>()
  for (const { number, line } of content.lines) {
    if (line.t > until || number > last) break
    tracer.line = undefined
    if (line.t > engine.time.now) inbox.advanceTo(line.t)
    if (!('input' in line)) continue
    tracer.line = number
    inputs.set(number, { line, rulings: rulingsOf(inbox, line) })
  }
  tracer.line = undefined
  if (at !== undefined && at > engine.time.now) inbox.advanceTo(at)
  return { match, engine, inbox, tracer, inputs }
}
