import { assertCellName, RefereeError } from '../kit/index.ts'
import { type AnyCell, type Cells, shown } from './cell.ts'

/** The values of an event, draft or input. */
export type Values = { readonly [cell: string]: unknown }

/**
 * Compiles what makes an event or a draft out of what was handed over: first values filled in, each value checked.
 * It throws ZR_STATE_BAD_VALUE, since only handlers make these.
 */
export function compileFill(path: string, cells: Cells, generated: boolean): (given: Values) => Values {
  const names = Object.keys(cells)
  for (const name of names) {
    assertCellName(name)
    const { kind } = cells[name] as AnyCell
    if (kind === 'set' || kind === 'map')
      throw new RefereeError('ZR_RULE_STATE_ONLY', { where: path, cell: name, kind })
  }
  const wrong = (name: string, value: unknown): never => {
    const says =
      value === undefined
        ? 'was left out, and it has no first value'
        : (cells[name] as AnyCell).trouble(value)
    throw new RefereeError('ZR_STATE_BAD_VALUE', {
      cell: `${path}.${name}`,
      says: says ?? `is ${shown(value)}`,
    })
  }
  if (!generated)
    return (given) =>
      Object.fromEntries(
        names.map((name) => {
          const cell = cells[name] as AnyCell
          const value = given[name]
          if (value === undefined) return [name, cell.required ? wrong(name, value) : cell.initial]
          if (fillTrouble(cell, value) !== undefined) wrong(name, value)
          return [name, value]
        }),
      )
  const each = names.map((name) => {
    const cell = cells[name] as AnyCell
    const whole = cell.kind === 'amount' || (cell.kind === 'int' && cell.least === undefined)
    const check = whole
      ? `!Number.isSafeInteger(${name})`
      : cell.kind === 'seat'
        ? `typeof ${name} !== 'string'`
        : `troubles.${name}(${name}) !== undefined`
    return { name, missing: cell.required ? `wrong('${name}', ${name})` : `${name} = firsts.${name}`, check }
  })
  const body = each
    .map(
      ({ name, missing, check }) =>
        `let ${name} = given.${name}; if (${name} === undefined) ${missing}; else if (${check}) wrong('${name}', ${name})`,
    )
    .join('\n')
  const firsts = Object.fromEntries(names.map((name) => [name, cells[name]?.initial]))
  const troubles = Object.fromEntries(
    names.map((name) => [name, (value: unknown) => cells[name]?.trouble(value)]),
  )
  return new Function(
    'firsts',
    'troubles',
    'wrong',
    `'use strict'; return (given) => { ${body}\n return { ${names.join(', ')} } }`,
  )(firsts, troubles, wrong)
}

/** An amount's bounds are a matter of refusal. */
const fillTrouble = (cell: AnyCell, value: unknown): string | undefined =>
  cell.kind === 'amount' && Number.isSafeInteger(value) ? undefined : cell.trouble(value)

/** An input as its handler gets it, or what is wrong with it. */
export type Parsed =
  | { readonly ok: true; readonly input: Values }
  | { readonly ok: false; readonly issues: readonly string[]; readonly missing?: string }

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

/** Prepares what checks values against the cells of an input; tables without a rule's name are that rule's own. */
export function prepareParse(cells: Cells, rule: string): Parse {
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
      return { ok: false, issues: [`the input must be an object, not ${shown(value)}`] }
    let issues: string[] | undefined
    for (const name of Object.keys(value))
      if (!Object.hasOwn(cells, name)) (issues ??= []).push(`'${name}' is no cell of this input`)
    const input: Record<string, unknown> = {}
    let missing: string | undefined
    for (const { name, cell, isSeat, table } of each) {
      const given = Object.hasOwn(value, name) ? (value as Record<string, unknown>)[name] : undefined
      const got = (given ?? (cell.required ? given : cell.initial)) ?? undefined
      const trouble = got === undefined && cell.required ? 'is missing' : cell.trouble(got)
      if (trouble !== undefined) {
        ;(issues ??= []).push(`'${name}' ${trouble}`)
        continue
      }
      input[name] = got
      if (got === undefined) continue
      if (isSeat && !known.hasSeat(got as string)) missing ??= got as string
      if (table !== undefined)
        for (const id of Array.isArray(got) ? got : [got])
          if (!known.seesRow(table, id, asker)) missing ??= id
    }
    if (issues !== undefined) return { ok: false, issues }
    return missing === undefined
      ? { ok: true, input }
      : { ok: false, issues: [`there is no ${shown(missing)}`], missing }
  }
}
