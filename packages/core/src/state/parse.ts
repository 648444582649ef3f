import { type AnyCell, type Cells, shown } from './cell.ts'
import type { Values } from './payload.ts'

/** What is wrong with an input. */
export class Misfit {
  readonly issues: readonly string[]
  /** The first seat or row that it names and that does not exist, where that is all that is wrong. */
  readonly missing: string | undefined

  constructor(issues: readonly string[], missing?: string) {
    this.issues = issues
    this.missing = missing
  }
}
/** An input as its handler gets it, or what is wrong with it. */
export type Parsed = Values | Misfit

/** What an input may name. */
export interface Known {
  hasSeat(seat: string): boolean
  /** Whether there is a row of this table under this id that the asker sees; without an asker, whether there is one. */
  seesRow(table: string, id: string, asker: string | undefined): boolean
}

/** Takes an untrusted value apart by the cells of an input; null stands for nothing. */
export type Parse = (value: unknown, known: Known, asker: string | undefined) => Parsed

interface InputCell {
  readonly name: string
  readonly cell: AnyCell
  readonly isSeat: boolean
  /** The table whose rows it names, whole. */
  readonly table: string | undefined
}

/** Makes what checks values against the cells of an input; tables without a rule's name are that rule's own. */
export function prepareParse(cells: Cells, rule: string, generated: boolean): Parse {
  const careful = carefulParse(cells, rule)
  return generated ? quickParse(cells, careful) : careful
}

/**
 * Compiled for what nearly every input is: a plain object with all its cells and no other, which is so when it has as
 * many members as there are cells and each cell is there. Whatever is not so, or does not fit, goes the careful way,
 * which finds the words for it.
 */
function quickParse(cells: Cells, careful: Parse): Parse {
  const names = Object.keys(cells)
  if (names.length === 0 || names.some((name) => hasRows(cells[name] as AnyCell))) return careful
  const checks = names.map((name) => {
    const { kind, least, most } = cells[name] as AnyCell
    if (kind === 'int' && least === undefined) return `!Number.isSafeInteger($${name})`
    if (kind === 'int') return `!Number.isSafeInteger($${name}) || $${name} < ${least} || $${name} > ${most}`
    if (kind === 'seat') return `typeof $${name} !== 'string' || !known.hasSeat($${name})`
    if (kind === 'flag') return `typeof $${name} !== 'boolean'`
    if (kind === 'choice' || kind === 'text') return `troubles.${name}($${name}) !== undefined`
    return 'true'
  })
  // With a sign before them, cells cannot be taken for words of the language.
  const members = names.map((name) => `${name}: $${name}`).join(', ')
  const source = `'use strict'; return (value, known, asker) => {
    if (typeof value !== 'object' || value === null || value.constructor !== Plain) return careful(value, known, asker)
    let members = 0
    for (const name in value) members++
    if (members !== ${names.length}) return careful(value, known, asker)
    const { ${members} } = value
    if (${checks.join(' || ')}) return careful(value, known, asker)
    return { ${members} }
  }`
  const troubles = Object.fromEntries(
    names.map((name) => [name, (value: unknown) => cells[name]?.trouble(value)]),
  )
  return new Function('careful', 'Plain', 'troubles', source)(careful, Object, troubles)
}

const hasRows = ({ kind, of }: AnyCell): boolean => kind === 'row' || of?.kind === 'row'

function carefulParse(cells: Cells, rule: string): Parse {
  const each = Object.entries(cells).map(([name, cell]): InputCell => {
    const inner = cell.kind === 'maybe' || cell.kind === 'list' ? cell.of : cell
    const table = inner?.kind === 'row' ? (inner.table ?? '') : undefined
    return {
      name,
      cell,
      isSeat: cell.kind !== 'list' && inner?.kind === 'seat',
      table: table === undefined || table.includes('.') ? table : `${rule}.${table}`,
    }
  })
  return (value, known, asker) => {
    if (typeof value !== 'object' || value === null || Array.isArray(value))
      return new Misfit([`the input must be an object, not ${shown(value)}`])
    const issues: string[] = []
    for (const name of Object.keys(value))
      if (!Object.hasOwn(cells, name)) issues.push(`'${name}' is no cell of this input`)
    const input: Record<string, unknown> = {}
    let missing: string | undefined
    for (const { name, cell, isSeat, table } of each) {
      const given = Object.hasOwn(value, name) ? (value as Record<string, unknown>)[name] : undefined
      const got = given ?? (cell.required ? given : cell.initial) ?? undefined
      const trouble = got === undefined && cell.required ? 'is missing' : cell.trouble(got)
      if (trouble !== undefined) {
        issues.push(`'${name}' ${trouble}`)
        continue
      }
      input[name] = got
      if (got === undefined) continue
      if (isSeat && !known.hasSeat(got as string)) missing ??= got as string
      if (table !== undefined)
        for (const id of Array.isArray(got) ? got : [got])
          if (!known.seesRow(table, id, asker)) missing ??= id
    }
    if (issues.length > 0) return new Misfit(issues)
    return missing === undefined ? input : new Misfit([`there is no ${shown(missing)}`], missing)
  }
}
