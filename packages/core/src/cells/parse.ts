import { generate } from '../kit/index.ts'
import { type AnyCell, type Cells, shown } from './cell.ts'
import type { Values } from './payload.ts'
import { rowCell, tableOf, withEach } from './row-cells.ts'

/** An input that does not fit its cells, and why. */
export class InvalidInput {
  readonly issues: readonly string[]
  /** The first seat or row that it names and that does not exist, if nothing else is wrong. */
  readonly missing: string | undefined
  /** Its cells as they were given, if nothing else is wrong. */
  readonly given: Values | undefined

  constructor(issues: readonly string[], missing?: string, given?: Values) {
    this.issues = issues
    this.missing = missing
    this.given = given
  }
}
/** An input in the form that its handler gets, or the problem with it. */
export type Parsed = Values | InvalidInput

/** The seats and rows that an input may refer to. */
export interface Nameable {
  hasSeat(seat: string): boolean
  /**
   * Returns the inner id of the row of this table that the asker means by an id, or nothing if it sees no such row
   * now. Without an asker, ids are inner ones.
   */
  rowId(table: string, id: string, asker: string | undefined): string | undefined
}

/** Parses an untrusted value by the cells of an input. Null means nothing. */
export type Parse = (value: unknown, known: Nameable, asker: string | undefined) => Parsed

/**
 * Returns a parser for part of an input, such as the choices a player has made so far. Each cell that is present must
 * be valid. It may name only seats that exist and rows that the asker sees.
 */
export const preparePart = (cells: Cells, rule: string): Parse => carefulParse(cells, rule, true)

interface InputCell {
  readonly name: string
  readonly cell: AnyCell
  /** True if it names seats. */
  readonly isSeat: boolean
  /** The table whose rows it names, whole. */
  readonly table: string | undefined
  /** True if null can stand for nothing inside it. */
  readonly hasGaps: boolean
}

/** Returns a parser for the cells of an input. Tables without a rule's name belong to that rule. */
export function prepareParse(cells: Cells, rule: string, generated: boolean): Parse {
  const careful = carefulParse(cells, rule)
  return generated ? quickParse(cells, careful) : careful
}

/**
 * Compiled for the usual input: a plain object with exactly the cells of the input. It has as many members as there
 * are cells, and each cell is present. Anything else goes to the careful parser, which finds the words for the
 * problem.
 */
function quickParse(cells: Cells, careful: Parse): Parse {
  const names = Object.keys(cells)
  if (names.length === 0 || names.some((name) => isCareful(cells[name] as AnyCell))) return careful
  const checks = names.map((name) => {
    const { kind, least, most } = cells[name] as AnyCell
    if (kind === 'int' && least === undefined) return `!Number.isSafeInteger($${name})`
    if (kind === 'int') return `!Number.isSafeInteger($${name}) || $${name} < ${least} || $${name} > ${most}`
    if (kind === 'seat') return `typeof $${name} !== 'string' || !known.hasSeat($${name})`
    if (kind === 'flag') return `typeof $${name} !== 'boolean'`
    if (kind === 'choice' || kind === 'text') return `problems.${name}($${name}) !== undefined`
    return 'true'
  })
  // The prefix keeps cell names from clashing with keywords.
  const members = names.map((name) => `${name}: $${name}`).join(', ')
  // Turns -0 into 0.
  const made = names.map((name) => `${name}: $${name}${cells[name]?.kind === 'int' ? ' + 0' : ''}`).join(', ')
  const source = `(value, known, asker) => {
    if (typeof value !== 'object' || value === null || value.constructor !== Plain) return careful(value, known, asker)
    let members = 0
    for (const name in value) members++
    if (members !== ${names.length}) return careful(value, known, asker)
    const { ${members} } = value
    if (${checks.join(' || ')}) return careful(value, known, asker)
    return { ${made} }
  }`
  const problems = Object.fromEntries(
    names.map((name) => [name, (value: unknown) => cells[name]?.problem(value)]),
  )
  return generate({ careful, Plain: Object, problems }, source)
}

/** Cells that name rows, and lists of seats. */
const isCareful = (cell: AnyCell): boolean =>
  rowCell(cell) !== undefined || (cell.of !== undefined && innermost(cell).kind === 'seat')

const innermost = (cell: AnyCell): AnyCell => (cell.of === undefined ? cell : innermost(cell.of))

/** True if there is a maybe inside the cell, for which JSON has null. */
const hasGaps = ({ of }: AnyCell): boolean => of !== undefined && (of.kind === 'maybe' || hasGaps(of))

function inputCell(name: string, cell: AnyCell, rule: string): InputCell {
  const row = rowCell(cell)
  return {
    name,
    cell,
    isSeat: innermost(cell).kind === 'seat',
    table: row && tableOf(row, rule),
    hasGaps: hasGaps(cell),
  }
}

/** True for a null that is a value, as JSON has it, and does not mean nothing. */
const isNull = ({ kind, of }: AnyCell, raw: unknown): boolean =>
  raw === null && (kind === 'json' || (kind === 'maybe' && of?.kind === 'json'))

/** Nulls that mean nothing inside lists become nothing. What is not a list is left for the check to find. */
function withoutNulls({ kind, of }: AnyCell, value: unknown): unknown {
  if (kind === 'maybe') return value === null || of === undefined ? undefined : withoutNulls(of, value)
  return of !== undefined && Array.isArray(value) ? value.map((item) => withoutNulls(of, item)) : value
}

/** Returns a value with its rows by inner ids. `miss` gets each seat or row that does not exist. */
function resolved(
  { cell, isSeat, table }: InputCell,
  value: unknown,
  known: Nameable,
  asker: string | undefined,
  miss: (named: string) => void,
): unknown {
  if (value === undefined || (!isSeat && table === undefined)) return value
  return withEach(cell, value, (named) => {
    const id = table === undefined ? undefined : known.rowId(table, named as string, asker)
    if (table === undefined ? !known.hasSeat(named as string) : id === undefined) miss(named as string)
    return id ?? named
  })
}

/** `isPart`: cells that are left out are not missing. */
function carefulParse(cells: Cells, rule: string, isPart = false): Parse {
  const each = Object.entries(cells).map(([name, cell]) => inputCell(name, cell, rule))
  return (value, known, asker) => {
    if (typeof value !== 'object' || value === null || Array.isArray(value))
      return new InvalidInput([`the input must be an object, not ${shown(value)}`])
    const issues: string[] = []
    for (const name of Object.keys(value))
      if (!Object.hasOwn(cells, name)) issues.push(`'${name}' is not a cell of this input`)
    const given: Record<string, unknown> = {}
    for (const { name, cell, hasGaps } of each) {
      const raw = Object.hasOwn(value, name) ? (value as Record<string, unknown>)[name] : undefined
      if (isPart && raw === undefined) continue
      const got = isNull(cell, raw)
        ? null
        : ((hasGaps ? withoutNulls(cell, raw) : raw) ?? (cell.required ? raw : cell.initial) ?? undefined)
      const problem = got === undefined && cell.required ? 'is missing' : cell.problem(got)
      if (problem === undefined)
        given[name] = got === 0 ? 0 : got // no negative zero
      else issues.push(`'${name}' ${problem}`)
    }
    if (issues.length > 0) return new InvalidInput(issues)
    let missing: string | undefined
    const input: Record<string, unknown> = {}
    for (const cell of each.filter(({ name }) => name in given))
      input[cell.name] = resolved(cell, given[cell.name], known, asker, (named) => {
        missing ??= named
      })
    return missing === undefined ? input : new InvalidInput([`there is no ${shown(missing)}`], missing, given)
  }
}

/** Shows a seat an input, or part of one, that a rule has made: with the ids that the seat knows. */
export type Show = (input: object, idOf: (table: string, inner: string) => string | undefined) => object

/** Returns what turns inner ids in an input into those that a seat knows. Rows that it does not know become nothing. */
export function prepareShow(cells: Cells, rule: string): Show {
  const rows = Object.entries(cells)
    .map(([name, cell]) => inputCell(name, cell, rule))
    .filter(({ table }) => table !== undefined)
  if (rows.length === 0) return (input) => input
  return (input, idOf) => {
    const shownInput: Record<string, unknown> = { ...input }
    for (const { name, cell, table = '' } of rows)
      if (shownInput[name] !== undefined)
        shownInput[name] = withEach(cell, shownInput[name], (inner) => idOf(table, String(inner)))
    return shownInput
  }
}
