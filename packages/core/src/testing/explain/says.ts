import type { Seat } from '../../cells/index.ts'
import type { InputLine } from '../../record/index.ts'
import type { CompiledRow } from '../../rows/index.ts'
import type { Ruling } from '../../rule/index.ts'
import type { Deed, Ran, StepTaken, TimerMoved, TimerName, Wrote } from '../../tracing/index.ts'

/** So much of a value is said. */
const WIDTH = 72

/** A value as JSON, cut where it is long. */
export function valueText(value: unknown): string {
  const text = JSON.stringify(value) ?? 'nothing'
  return text.length > WIDTH ? `${text.slice(0, WIDTH - 1)}…` : text
}

/** Such as `vitals.body.otter`, or `phases.now` where there is one row. */
export function rowText(row: CompiledRow): string {
  const part = row.$shape.path.slice(1).replace('/', '.')
  return row.$shape.keyed ? `${part}.${row.id}` : part
}
export const cellText = (row: CompiledRow, cell: string): string => `${rowText(row)}.${cell}`

/** What a row keeps in a cell, as JSON: rows that it names by their ids, those that have gone by their numbers. */
export function keptText(row: CompiledRow, cell: string, kept: unknown): string {
  const placed = row.$shape.each.find(({ name }) => name === cell)
  if (placed === undefined) return valueText(kept)
  const { reference, form } = placed
  const named = reference?.read(row.$store, kept)
  return valueText((named === undefined ? form.save(kept) : named) ?? null)
}

export const timerText = ({ name, key }: TimerName): string => (key === '' ? name : `${name} of ${key}`)

/** The code of a ruling, for `accepted`, `refused with …`. */
export const rulingText = (ruling: Ruling | undefined): string =>
  ruling === undefined || ruling.ok ? 'accepted' : `refused with ${ruling.code}`

/** An input of a record, such as `otter's raft.chase {"quarry":"heron"}`. */
export function inputText({ seat, submit, report, reportAll, direct, referee, input }: InputLine): string {
  const by = referee === undefined ? '' : ` by ${referee}`
  const what = submit === undefined ? `${report ?? reportAll ?? direct ?? ''}${by}` : `${seat}'s ${submit}`
  return `${what} ${valueText(input)}`
}

/** What a step was for. `line`: its input, if it has one. */
export function stepText({ timer, during, ruling }: StepTaken, line: InputLine | undefined): string {
  if (timer !== undefined)
    return `timer ${timerText(timer)} is due${ruling?.ok === false ? `, and its handler is ${rulingText(ruling)}` : ''}`
  return line === undefined ? `${during}: ${rulingText(ruling)}` : `${inputText(line)}: ${rulingText(ruling)}`
}

export const wroteText = ({ row, cell, before, after, isUndone }: Wrote): string =>
  `${cellText(row, cell)}: ${keptText(row, cell, before)} → ${keptText(row, cell, after)}${undone(isUndone)}`

const undone = (isUndone: boolean): string => (isUndone ? ' (taken back)' : '')

const moves = { started: 'starts', moved: 'puts off', stopped: 'stops' } as const

/** What a handler does, as the rest of a sentence that begins with its label. `due`: when a timer is due, in words. */
export function deedText(deed: Deed, due: (timer: TimerMoved) => string): string {
  switch (deed.what) {
    case 'ran':
      return `runs ${deed.handler.label}`
    case 'resolved':
      return `resolves ${deed.draft.name} ${valueText(deed.given)}${deed.answer?.ok === false ? `: ${rulingText(deed.answer)}` : ''}`
    case 'wrote':
      return `writes ${wroteText(deed)}`
    case 'added':
      return `adds ${rowText(deed.row)}${undone(deed.isUndone)}`
    case 'removed':
      return `removes ${rowText(deed.row)}${undone(deed.isUndone)}`
    case 'clock':
      return `${deed.runs ? 'lets the clock run' : 'stops the clock'}: ${deed.clock}${undone(deed.isUndone)}`
    case 'raised':
      return `raises ${deed.event.name} ${valueText(deed.cells)}`
    default:
      return `${moves[deed.what]} ${timerText(deed.timer)}${deed.what === 'stopped' ? '' : `, ${due(deed)}`}${undone(deed.isUndone)}`
  }
}

/** What a handler read, newest last: `it read turns.now.seat = "heron"`. Nothing if it read nothing. */
export function readText({ read }: Ran, most: number, about: Seat | undefined): string {
  const all = [...read].flatMap(([row, cells]) =>
    [...cells].map(([cell, value]) => ({
      says: `${cellText(row, cell)} = ${valueText(value ?? null)}`,
      isOf: about !== undefined && (row.id === about || value === about),
    })),
  )
  if (all.length === 0) return ''
  // What it read last is what it decided by; what is about whom the question is about comes first.
  const chosen = [...all.filter(({ isOf }) => isOf).slice(-most), ...all.slice(-most)].map(({ says }) => says)
  const says = [...new Set(chosen)].slice(0, most)
  const more = all.length - says.length
  return `it read ${says.join(', ')}${more > 0 ? ` and ${more} more` : ''}`
}
