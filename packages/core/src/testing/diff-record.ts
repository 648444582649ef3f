import { type InputLine, type RecordStream, readRecord } from '../record/index.ts'
import {
  type AnyMatch,
  type AnyRulebook,
  type OpenMatch,
  outlinesApart,
  replayLine,
} from '../rulebook/index.ts'
import { beginRecorded } from './begin-recorded.ts'
import { type CellDifference, stateDifferences } from './state-cells.ts'

/** The first moment at which two versions of a rulebook differ. */
export interface FirstDifference {
  /** The number of the line of the record. */
  readonly line: number
  /** Match time, in ms. */
  readonly at: number
  /** The input after which they differ; nothing if they did so before it, when time came to that line. */
  readonly input?: InputLine
  /** The cells that differ, the first 20 at most, without those that only one version has. */
  readonly cells: readonly CellDifference[]
}
/** An input to which two versions give different rulings. */
export interface RulingDifference {
  /** The number of its line. */
  readonly line: number
  /** Match time, in ms. */
  readonly at: number
  /** The input. */
  readonly input: InputLine
  /** The code of the refusal, or null for an input that was accepted; a list for facts that were reported together. */
  readonly before: unknown
  /** The same under the newer version. */
  readonly now: unknown
}
/** What a record plays like under two versions of a rulebook. */
export interface RecordDiff {
  /** What differs in the declarations, in words; empty if nothing does. */
  readonly declared: string
  /** Number of inputs that were played. */
  readonly inputs: number
  /** Nothing if both are in the same state after each line. */
  readonly first?: FirstDifference
  /** The inputs to which they give different rulings, in the order of the record: the first 1,000 at most. */
  readonly rulings: readonly RulingDifference[]
  /** How many there are in all, if there are more. */
  readonly rulingsInAll?: number
  /** The verdicts as JSON texts, if they differ. */
  readonly verdicts?: { readonly before: string; readonly now: string }
}

const MAX_CELLS = 20
/** Where nearly all of a long record differs, not all of it is kept. */
const MAX_RULINGS = 1000

/**
 * Plays a record under two versions of a rulebook side by side, and says where they part. Settings are those of the record.
 * Those that a version does not have are left out; those that the record does not have, or that only a rulebook can set, are
 * as the version has them.
 * @throws ZR_RECORD_FOREIGN, ZR_RECORD_UNREADABLE, and what beginning the match throws
 */
export function diffRecord(before: AnyRulebook, now: AnyRulebook, record: string | RecordStream): RecordDiff {
  const content = typeof record === 'string' ? readRecord(record) : record
  const [one, other] = [beginRecorded(before, content.header), beginRecorded(now, content.header)]
  const declared = outlinesApart(one.engine.plan.outline, other.engine.plan.outline)
  const common = (difference: CellDifference): boolean =>
    hasCell(one, difference) && hasCell(other, difference)
  const differences = (): CellDifference[] => {
    if (declared === '' && one.engine.hash() === other.engine.hash()) return []
    const found: CellDifference[] = []
    for (const difference of stateDifferences(one, other)) {
      if (common(difference)) found.push(difference)
      if (found.length === MAX_CELLS) break
    }
    return found
  }
  let [inputs, differing] = [0, 0]
  let first: FirstDifference | undefined
  const rulings: RulingDifference[] = []
  const look = (line: number, at: number, input?: InputLine): void => {
    if (first !== undefined) return
    const cells = differences()
    if (cells.length > 0) first = { line, at, cells, ...(input && { input }) }
  }
  for (const { number, line } of content.lines) {
    for (const { match } of [one, other]) if (line.t > match.now) match.advanceTo(line.t)
    look(number, line.t)
    if (!('input' in line)) continue
    inputs++
    const [was, is] = [replayLine(one.match, line), replayLine(other.match, line)]
    if (JSON.stringify(was) !== JSON.stringify(is) && ++differing <= MAX_RULINGS)
      rulings.push({ line: number, at: line.t, input: line, before: was, now: is })
    look(number, line.t, line)
  }
  const verdicts = { before: verdictOf(one.match), now: verdictOf(other.match) }
  return {
    declared,
    inputs,
    rulings,
    ...(differing > rulings.length && { rulingsInAll: differing }),
    ...(first && { first }),
    ...(verdicts.before !== verdicts.now && { verdicts }),
  }
}

const hasCell = ({ engine }: OpenMatch, { rule, part, cell }: CellDifference): boolean =>
  engine.parts
    .flat()
    .some(
      ({ stored: { shape } }) =>
        shape.path === `/${rule}/${part}` && shape.each.some(({ name }) => name === cell),
    )

const verdictOf = (match: AnyMatch): string =>
  JSON.stringify(Object(match.view('spectator')['verdict'])['end'] ?? null)
