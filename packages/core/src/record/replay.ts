import type { Engine } from '../engine/index.ts'
import type { Inbox } from '../inputs/index.ts'
import { allowed, type Ruling } from '../rule/index.ts'
import type { InputLine } from './format.ts'
import type { NumberedLine, RecordStream } from './read-record.ts'

/** A line of a record that gave a different result when it was replayed. */
export interface Difference {
  /** The number of the line in the record. */
  readonly line: number
  /** The recorded text. */
  readonly recorded: string
  /** The text of the replay. */
  readonly replayed: string
}
/** The result of a replay. */
export interface Replayed {
  /** Number of inputs that were replayed. */
  readonly inputs: number
  /** Number of hashes that were compared. */
  readonly checks: number
  /** Match time reached, ms. */
  readonly at: number
  /** The first line for which the replay gave a different result. */
  readonly differs?: Difference
}

/**
 * Feeds the lines of a record to a match that has just begun, up to a match time (ms) if one is given. It ends at the first
 * line that gives something else, unless `onDiffers` takes each of them.
 */
export function replayInto(
  engine: Engine,
  inbox: Inbox,
  { lines }: Pick<RecordStream, 'lines'>,
  { until = Number.POSITIVE_INFINITY, onDiffers, onLine }: ReplayOptions = {},
): Replayed {
  let inputs = 0
  let checks = 0
  for (const numbered of lines) {
    const { number, line } = numbered
    if (line.t > until) break
    if (line.t > engine.time.now) inbox.advanceTo(line.t)
    let problem: Omit<Difference, 'line'> | undefined
    if ('check' in line) {
      checks++
      problem = differing('hash', line.check, engine.hash())
    } else if ('input' in line) {
      inputs++
      problem = differing('ruling', line.no ?? null, replayInput(inbox, line))
    }
    onLine?.(numbered)
    if (problem === undefined) continue
    const differs = { line: number, ...problem }
    if (onDiffers === undefined) return { inputs, checks, at: engine.time.now, differs }
    onDiffers(differs)
  }
  if (until !== Number.POSITIVE_INFINITY && until > engine.time.now) inbox.advanceTo(until)
  return { inputs, checks, at: engine.time.now }
}
interface ReplayOptions {
  readonly until?: number | undefined
  readonly onDiffers?: ((difference: Difference) => void) | undefined
  /** Called after each line. */
  readonly onLine?: ((line: NumberedLine) => void) | undefined
}

function differing(what: string, recorded: unknown, replayed: unknown): Omit<Difference, 'line'> | undefined {
  if (recorded === replayed) return undefined
  const [before, now] = [textOf(recorded), textOf(replayed)]
  return before === now ? undefined : { recorded: `${what} ${before}`, replayed: `${what} ${now}` }
}
/** A ruling without a refusal has no code. */
const textOf = (value: unknown): string =>
  value === null ? "'ok'" : typeof value === 'string' ? `'${value}'` : JSON.stringify(value)

const codeOf = (ruling: Ruling): string | null => (ruling.ok ? null : ruling.code)

/** Hands an input over once more; what was refused, in the form in which a record holds it. */
export function replayInput(inbox: Inbox, line: InputLine): unknown {
  const rulings = rulingsOf(inbox, line)
  if (line.reportAll === undefined) return codeOf(rulings[0] ?? allowed)
  return rulings.every(({ ok }) => ok) ? null : rulings.map(codeOf)
}

/** Hands an input over once more, and returns its ruling: one for each of several facts. */
export function rulingsOf(inbox: Inbox, line: InputLine): readonly Ruling[] {
  inbox.cleaned = line.no !== 'bad-input'
  const { submit, report, reportAll, direct, input, how } = line
  if (submit !== undefined) return [inbox.submit(line.seat ?? '', submit, input, how)]
  if (report !== undefined) return [inbox.report(report, input, how)]
  if (direct !== undefined) return [inbox.direct(direct, input, line.referee)]
  return inbox.reportAll(reportAll ?? '', input as readonly unknown[], how)
}
