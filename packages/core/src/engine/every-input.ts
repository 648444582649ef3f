import { type AnyCell, type Cells, fewValues, type Seat, tableOf } from '../cells/index.ts'
import type { ActionPlan } from '../plan/index.ts'
import type { HandlerRunner } from './handler-runner.ts'

/** The candidates of an action that lists none itself: every input that its cells allow, if they are few. */
export function everyInput(engine: HandlerRunner, plan: ActionPlan, seat: Seat): readonly object[] {
  if (!plan.isListable) return []
  const [rule = ''] = plan.name.split('.')
  return Object.entries(plan.input as Cells).reduce<readonly object[]>(
    (inputs, [name, cell]) => {
      const values = allowed(engine, cell, rule, seat)
      return inputs.flatMap((input) => values.map((value) => ({ ...input, [name]: value })))
    },
    [{}],
  )
}

function allowed(engine: HandlerRunner, cell: AnyCell, rule: string, seat: Seat): readonly unknown[] {
  if (cell.kind === 'seat') return engine.seating.all()
  if (cell.kind === 'row') return engine.rowsSeen(tableOf(cell, rule), seat)
  return fewValues(cell) ?? []
}
