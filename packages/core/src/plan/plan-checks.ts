import type { Cells } from '../cells/index.ts'
import { RefereeError } from '../kit/index.ts'
import type { InputSpec } from '../rule/index.ts'
import type { InputPlan, PartPlan, RulePlan } from './plan.ts'

/** Throws if an input names a table that does not exist, or holds a kind of cell that only state can hold. */
export function assertTables(input: string, spec: InputSpec, rules: readonly RulePlan[]): void {
  if ('~standard' in spec) return
  for (const [name, cell] of Object.entries(spec as Cells)) {
    if (cell.kind === 'set' || cell.kind === 'map')
      throw new RefereeError('ZR_RULE_STATE_ONLY', { where: input, cell: name, kind: cell.kind })
    const table = cell.table ?? cell.of?.table
    if (table === undefined) continue
    const whole = table.includes('.') ? table : `${input.split('.')[0]}.${table}`
    if (!hasTable(rules, whole)) throw new RefereeError('ZR_RULE_UNKNOWN_TABLE', { input, table })
  }
}

/** Throws if an action is offered whose options nothing tells. */
export function assertOffered(input: InputPlan): void {
  if (input.kind === 'action' && input.offered && !input.isListable && input.options === undefined)
    throw new RefereeError('ZR_RULE_NO_OPTIONS', { action: input.name })
}

/**
 * Throws if a cell of the state names a table that does not exist, or if `cascade` is used where no row can be
 * removed.
 */
export function assertReferences({ kind, shape }: PartPlan, rules: readonly RulePlan[]): void {
  const part = shape.path.slice(1).replace('/', '.')
  for (const { name: cell, reference } of shape.each) {
    if (reference === undefined) continue
    const bad = (why: string): never => {
      throw new RefereeError('ZR_RULE_BAD_REFERENCE', { part, cell, why })
    }
    if (!hasTable(rules, reference.table))
      bad(`there is no table '${reference.table}'. Fix the name in rowOf(…)`)
    if (reference.gone === 'cascade' && kind !== 'table')
      bad("a row of 'perSeat' or 'single' cannot go with another: say 'clear' or 'forbid'")
  }
}

/** Throws if cells or timers name a group that does not exist, or if more than one rule makes sides or places seats. */
export function assertGroups(rulebook: string, rules: readonly RulePlan[]): void {
  const cells = rules.flatMap(({ parts, events }) => [
    ...parts.flatMap(({ shape }) => Object.values(shape.cells)),
    ...[...events.values()].flatMap((event) => Object.values(event.cells)),
  ])
  const ofTimers = rules.flatMap(({ timers }) => [...timers.values()])
  for (const { group } of [...cells, ...ofTimers].flatMap(({ sights }) => sights)) {
    const [rule, name = ''] = group?.split('.') ?? []
    const { groups = {} } = rules.find((each) => each.name === rule)?.definition ?? {}
    if (group !== undefined && !Object.hasOwn(groups, name))
      throw new RefereeError('ZR_SIGHT_UNKNOWN_GROUP', { group })
  }
  const placing = rules.filter(({ definition }) => definition.inSight !== undefined).map(({ name }) => name)
  if (placing.length > 1) throw new RefereeError('ZR_RULEBOOK_TWO_PLACES', { rulebook, rules: placing })
  const sided = rules.filter(({ definition }) => definition.sides !== undefined).map(({ name }) => name)
  if (sided.length > 1) throw new RefereeError('ZR_RULEBOOK_TWO_SIDES', { rulebook, rules: sided })
}

function hasTable(rules: readonly RulePlan[], table: string): boolean {
  const [rule, part] = table.split('.')
  return rules.some(
    ({ name, parts }) => name === rule && parts.some((each) => each.name === part && each.kind === 'table'),
  )
}
