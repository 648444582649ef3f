import { RefereeError } from '../kit/index.ts'
import { type CheckLine, type Header, type InputLine, RECORD_VERSION, type TimeLine } from './format.ts'
import type { Snapshot } from './snapshot.ts'

/** A line of a record and where it is. */
export interface NumberedLine {
  /** From 1, as editors count. */
  readonly number: number
  /** The line. */
  readonly line: InputLine | CheckLine | TimeLine
}
/** A record whose lines are read one after another: one that is too long to be held as a whole. */
export interface RecordStream {
  /** Its first line, or that of the last header. */
  readonly header: Header
  /** The lines after that header. */
  readonly lines: Iterable<NumberedLine>
  /** The number of the header's line: 1, or that of the last one if the match went on under other rules. */
  readonly begins: number
}
/** A record that has been read: its header, and the lines after it. */
export interface RecordContent extends RecordStream {
  readonly lines: readonly NumberedLine[]
}

/**
 * Reads a record's text from its last header on: what comes before that is history. @throws ZR_RECORD_FOREIGN if it
 * is not a record, ZR_RECORD_UNREADABLE with the number of the first broken line
 */
export function readRecord(text: string): RecordContent {
  const lines = text.split('\n')
  headerOf(lines[0] ?? '')
  const at = lastHeader(lines)
  return { header: headerOf(lines[at] ?? ''), lines: linesOf(lines.slice(at + 1), at + 2), begins: at + 1 }
}

const lastHeader = (lines: readonly string[]): number =>
  lines.findLastIndex((line) => line.startsWith('{"record":'))

/**
 * Reads lines of a record without its header, as a crash may have left them after a snapshot: a last line that was
 * cut off is ignored. If the match went on under other rules in between, it begins with the snapshot of that moment.
 * @throws ZR_RECORD_UNREADABLE
 */
export function readTail(text: string): {
  readonly from?: Snapshot
  readonly lines: readonly NumberedLine[]
} {
  const all = text.split('\n')
  const lines = parse(all.at(-1) ?? '') === undefined ? all.slice(0, -1) : all
  const at = lastHeader(lines)
  const { from } = at < 0 ? {} : headerOf(lines[at] ?? '')
  return { ...(from && { from }), lines: linesOf(lines.slice(at + 1), at + 2) }
}

function linesOf(lines: readonly string[], first: number): NumberedLine[] {
  const numbered: NumberedLine[] = []
  for (const [at, line] of lines.entries()) {
    const number = at + first
    if (line !== '' && line.trim() !== '') numbered.push({ number, line: lineOf(line, number) })
  }
  return numbered
}

function headerOf(text: string): Header {
  const value = parse(text)
  if (!isObject(value) || value['record'] !== 'zinc-referee')
    throw new RefereeError('ZR_RECORD_FOREIGN', { why: "its first line is not a record's header" })
  if (value['version'] !== RECORD_VERSION)
    throw new RefereeError('ZR_RECORD_FOREIGN', {
      why: `its format version is ${String(value['version'])}, and this package reads version ${RECORD_VERSION}`,
    })
  for (const member of ['rulebook', 'plan', 'seed'])
    if (typeof value[member] !== 'string')
      throw new RefereeError('ZR_RECORD_FOREIGN', { why: `its header lacks '${member}'` })
  if (value['with'] !== undefined && !Array.isArray(value['with']))
    throw new RefereeError('ZR_RECORD_FOREIGN', { why: "its header's 'with' is not a list" })
  const member = (name: string): object => (isObject(value[name]) ? value[name] : {})
  return { ...value, settings: member('settings'), outline: member('outline') } as object as Header
}

const kinds = ['submit', 'report', 'reportAll', 'direct', 'check'] as const

function lineOf(text: string, number: number): NumberedLine['line'] {
  const value = parse(text)
  const broken = (why: string): RefereeError =>
    new RefereeError('ZR_RECORD_UNREADABLE', { line: number, why })
  if (value === undefined) throw broken('it is no JSON')
  if (!isObject(value) || !Number.isSafeInteger(value['t'])) throw broken("it has no time 't'")
  let kind: string | undefined
  for (const each of kinds) {
    if (typeof value[each] !== 'string') continue
    if (kind !== undefined) throw broken(`it is both '${kind}' and '${each}'`)
    kind = each
  }
  if (kind === undefined) {
    if (Object.keys(value).length === 1) return value as object as TimeLine
    throw broken('it is neither an input nor a check')
  }
  if (kind === 'submit' && typeof value['seat'] !== 'string') throw broken("the action has no 'seat'")
  if (kind === 'reportAll' && !Array.isArray(value['input'])) throw broken("the facts' input is not a list")
  return value as object as InputLine | CheckLine
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

function parse(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    return undefined
  }
}
