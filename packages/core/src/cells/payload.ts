import { assertCellName, generate, RefereeError } from '../kit/index.ts'
import { type AnyCell, type Cells, shown } from './cell.ts'

/** The values of an event, draft or input. */
export type Values = { readonly [cell: string]: unknown }

/**
 * Compiles the function that completes the values of an event or a draft with initial values, and checks each. It
 * throws ZR_STATE_BAD_VALUE: only handlers make these, so a bad value is an error.
 */
export function compileDefaults(path: string, cells: Cells, generated: boolean): (given: Values) => Values {
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
        : (cells[name] as AnyCell).problem(value)
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
          if (valueProblem(cell, value) !== undefined) wrong(name, value)
          return [name, value]
        }),
      )
  const each = names.map((name) => {
    const cell = cells[name] as AnyCell
    const whole = cell.kind === 'amount' || (cell.kind === 'int' && cell.least === undefined)
    const check = whole
      ? `!Number.isSafeInteger($${name})`
      : cell.kind === 'seat'
        ? `typeof $${name} !== 'string'`
        : `problems.${name}($${name}) !== undefined`
    return {
      name,
      missing: cell.required ? `wrong('${name}', $${name})` : `$${name} = firsts.${name}`,
      check,
    }
  })
  const body = each
    .map(
      ({ name, missing, check }) =>
        `let $${name} = given.${name}; if ($${name} === undefined) ${missing}; else if (${check}) wrong('${name}', $${name})`,
    )
    .join('\n')
  const firsts = Object.fromEntries(names.map((name) => [name, cells[name]?.initial]))
  const problems = Object.fromEntries(
    names.map((name) => [name, (value: unknown) => cells[name]?.problem(value)]),
  )
  return generate(
    { firsts, problems, wrong },
    `(given) => { ${body}\n return { ${names.map((name) => `${name}: $${name}`).join(', ')} } }`,
  )
}

/** An amount out of bounds is a matter of refusal. */
const valueProblem = (cell: AnyCell, value: unknown): string | undefined =>
  cell.kind === 'amount' && Number.isSafeInteger(value) ? undefined : cell.problem(value)
