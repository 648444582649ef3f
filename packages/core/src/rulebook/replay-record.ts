import type { Fault } from '../engine/index.ts'
import { canonicalJson, RefereeError } from '../kit/index.ts'
import type { Plan } from '../plan/index.ts'
import {
  type Header,
  type NumberedLine,
  type RecordContent,
  type RecordStream,
  type Replayed,
  readRecord,
  replayInto,
} from '../record/index.ts'
import type { AnyRulebook } from './define-rulebook.ts'
import type { AnyMatch } from './match-type.ts'
import { outlinesApart } from './outline.ts'
import { type OpenMatch, seedFrom, start } from './start-match.ts'

/** A match and how the record's replay into it went. */
export interface ReplayedMatch extends Replayed {
  /** The match, as it was at the last line. */
  readonly match: AnyMatch
}

/** Options of `replayRecord`. */
export interface ReplayRecordOptions {
  /** Match time up to which it is played, in ms. Default: to its end. */
  readonly until?: number
  /** Called at once for each fault. */
  readonly onFault?: (fault: Fault) => void
  /** Called after each line, with the match as it is then. It may be looked at, and not changed. */
  readonly onLine?: (line: NumberedLine, match: AnyMatch) => void
}

/**
 * Plays a record again from its last header on, and compares every ruling and hash. The settings are those of the record.
 * @throws ZR_RECORD_FOREIGN, ZR_RECORD_UNREADABLE, ZR_RECORD_OTHER_RULEBOOK, ZR_RECORD_OTHER_PLAN,
 *   ZR_RECORD_OTHER_SETTINGS, ZR_SNAPSHOT_DAMAGED
 */
export function replayRecord(
  book: AnyRulebook,
  record: string | RecordStream,
  { until, onFault, onLine }: ReplayRecordOptions = {},
): ReplayedMatch {
  const { content, begin } = recorded(book, record)
  const { match, engine, inbox } = start(book, { ...begin, ...(onFault && { onFault }) })
  return {
    match,
    ...replayInto(engine, inbox, content, { until, onLine: onLine && ((line) => onLine(line, match)) }),
  }
}

/**
 * Returns the content of a record, and how its match begins.
 * @throws ZR_RECORD_OTHER_RULEBOOK, ZR_RECORD_OTHER_PLAN, ZR_RECORD_OTHER_SETTINGS, and what `readRecord` throws
 */
export function recorded<Record extends RecordStream>(
  book: AnyRulebook,
  record: string | Record,
): { readonly content: Record | RecordContent; readonly begin: Parameters<typeof start>[1] } {
  const content = typeof record === 'string' ? readRecord(record) : record
  const { rulebook, seed, settings, with: taken = [], from } = content.header
  if (rulebook !== book.name)
    throw new RefereeError('ZR_RECORD_OTHER_RULEBOOK', { wanted: rulebook, got: book.name })
  const plan = samePlan(book, content.header)
  const apart = from === undefined ? settingsApart(plan, settings) : []
  if (apart.length > 0) throw new RefereeError('ZR_RECORD_OTHER_SETTINGS', { rulebook, apart })
  return {
    content,
    begin: { seed: seedFrom(seed), inForce: settings, with: taken, ...(from && { from }) },
  }
}

/**
 * Begins a match as a record does.
 * @throws ZR_RECORD_OTHER_RULEBOOK, ZR_RECORD_OTHER_PLAN, ZR_RECORD_OTHER_SETTINGS, and what `readRecord` throws
 */
export const openRecorded = (book: AnyRulebook, record: string | RecordContent): OpenMatch =>
  start(book, recorded(book, record).begin)

function samePlan(book: AnyRulebook, { rulebook, plan, outline, with: taken = [] }: Header): Plan {
  const gone = taken.find((rule) => !book.optional.includes(rule))
  const now = gone === undefined ? book.planWith(taken) : undefined
  if (now?.digest === plan) return now
  const apart = now ? outlinesApart(outline, now.outline) : `gone: optional ${gone}`
  throw new RefereeError('ZR_RECORD_OTHER_PLAN', { rulebook, apart })
}

/** Settings of a record that the rulebook has no more, or not yet, or that differ and that no match can set. */
function settingsApart(plan: Plan, recorded: Header['settings']): string[] {
  return plan.rules.flatMap((rule) => {
    const was: { readonly [name: string]: unknown } = Object(recorded[rule.name])
    const is: { readonly [name: string]: unknown } = Object(rule.usual)
    return Object.keys({ ...was, ...is }).flatMap((name) => {
      const [before, now] = [canonicalJson(was[name]), canonicalJson(is[name])]
      const counts = !(name in was) || !(name in is) || rule.fixed.has(name)
      return counts && before !== now ? `${rule.name}.${name} was ${before} and is ${now}` : []
    })
  })
}
