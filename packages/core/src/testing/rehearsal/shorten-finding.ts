import { type InputLine, type NumberedLine, type RecordContent, readRecord } from '../../record/index.ts'
import { type AnyMatch, type AnyRulebook, replayLine } from '../../rulebook/index.ts'
import { beginRecorded } from '../begin-recorded.ts'
import { explain } from '../explain/explain.ts'
import { faultFound, refusedThoughOffered } from './findings.ts'
import type { Finding } from './rehearsal.ts'

/** A finding, and the shortest record of it that was found. */
export interface ShortenedFinding extends Finding {
  /** Number of inputs of the match in which it was found, and of the shorter record. */
  readonly inputs: { readonly before: number; readonly now: number }
  /** What `explain` says of its last input, or of how the match ended; nothing where it has nothing to say. */
  readonly explained: string | undefined
}

/** After so many plays the shortest record so far is taken. */
const PLAYS = 500

/**
 * Leaves out inputs of a finding's record, as many as can be, so that it still shows what was found. The times of the others
 * stay as they are. Only a fault and an option that is refused are shortened; the record of anything else stays whole.
 * Source: A. Zeller and R. Hildebrandt, Simplifying and Isolating Failure-Inducing Input, IEEE Transactions on Software
 * Engineering 28 (2002).
 * @throws ZR_RECORD_FOREIGN, ZR_RECORD_UNREADABLE
 */
export function shortenFinding(book: AnyRulebook, finding: Finding): ShortenedFinding {
  const content = readRecord(finding.record)
  const inputs = content.lines.filter(({ line }) => 'input' in line)
  const shows = showing(finding)
  const shown = shows === undefined ? undefined : play(book, content, inputs, shows)
  if (shows === undefined || shown === undefined) return told(book, finding, inputs.length, finding.record)
  // Nothing behind the moment at which it is shown is of use.
  const needed = inputs.filter(({ number }) => number <= shown.last)
  let plays = 0
  const kept = fewest(needed, (some) => plays++ < PLAYS && play(book, content, some, shows) !== undefined)
  return told(book, finding, inputs.length, play(book, content, kept, shows)?.record ?? finding.record)
}

function told(book: AnyRulebook, finding: Finding, before: number, record: string): ShortenedFinding {
  const { lines } = readRecord(record)
  const last = lines.findLast(({ line }) => 'input' in line)
  const isLast = finding.kind === 'fault' || finding.kind === 'refused'
  const asked = last === undefined ? undefined : `line ${last.number}`
  const question = isLast ? asked : finding.kind === 'leak' ? undefined : 'verdict'
  return {
    ...finding,
    record,
    inputs: { before, now: lines.filter(({ line }) => 'input' in line).length },
    explained: question === undefined ? undefined : explained(book, record, question),
  }
}

/** A match without a verdict rule has none to be asked about. */
function explained(book: AnyRulebook, record: string, question: string): string | undefined {
  try {
    return explain(book, record, question).answer
  } catch {
    return undefined
  }
}

/** Whether a step shows a finding: what it threw, or the input that it refused. */
type Shows = (seen: { readonly thrown: readonly string[]; readonly refused: string | undefined }) => boolean

function showing({ kind, says }: Finding): Shows | undefined {
  if (kind === 'fault') return ({ thrown }) => thrown.includes(says)
  if (kind === 'refused') return ({ refused }) => refused === says
  return undefined
}

interface Shown {
  /** The record of what was played, up to where it is shown. */
  readonly record: string
  /** The number of the last line that was played. */
  readonly last: number
}

/** Plays some inputs of a record at their times, in a match of their own. Returns nothing if it does not show the finding. */
function play(
  book: AnyRulebook,
  { header, lines }: RecordContent,
  inputs: readonly NumberedLine[],
  shows: Shows,
): Shown | undefined {
  const written: string[] = []
  let thrown: string[] = []
  const { match } = beginRecorded(book, header, {
    record: (line) => written.push(line),
    onFault: ({ handler, error }) => thrown.push(faultFound({ handler, error: String(error) }).says),
  })
  const look = (refused?: string): boolean => {
    const isShown = shows({ thrown, refused })
    thrown = []
    return isShown
  }
  const shown = (last: number): Shown => {
    match.close()
    return { record: written.join('\n'), last }
  }
  for (const { number, line } of inputs) {
    if (line.t > match.now) match.advanceTo(line.t)
    if (look()) return shown(number - 1)
    if (!('input' in line)) continue
    const ruling = replayLine(match, line)
    if (look(refusedBy(match, line, ruling))) return shown(number)
  }
  const end = lines.at(-1)
  if (end !== undefined && end.line.t > match.now) match.advanceTo(end.line.t)
  return look() ? shown(Number.POSITIVE_INFINITY) : undefined
}

function refusedBy(
  match: AnyMatch,
  { t, submit, seat, input }: InputLine,
  code: unknown,
): string | undefined {
  if (submit === undefined || code === null) return undefined
  const deed = { at: t, kind: 'action', name: submit, seat, input, does: () => undefined } as const
  return refusedThoughOffered(match, deed, { ok: false, code })?.says
}

/** Leaves out parts, smaller and smaller ones, as long as the rest is still good. */
function fewest<T>(all: readonly T[], isGood: (some: readonly T[]) => boolean): readonly T[] {
  let kept = all
  for (let parts = 2; kept.length > 0; ) {
    const size = Math.ceil(kept.length / parts)
    const shorter = Array.from({ length: Math.ceil(kept.length / size) }, (_, part) =>
      kept.filter((_each, at) => Math.floor(at / size) !== part),
    ).find(isGood)
    if (shorter !== undefined) {
      kept = shorter
      parts = Math.max(2, parts - 1)
    } else if (size === 1) return kept
    else parts *= 2
  }
  return kept
}
