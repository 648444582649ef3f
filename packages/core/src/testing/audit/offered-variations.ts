import type { Snapshot } from '../../record/index.ts'
import type { CompiledRow } from '../../rows/index.ts'
import type { VariationAsked } from '../../rule/index.ts'
import { seesCell } from '../../sight/index.ts'
import type { Change } from './twins.ts'
import type { Asker } from './ways.ts'

/**
 * The state that a rule offers in place of this one; nothing if it leaves all as it is.
 * @throws what the rule throws: a variation that does not work would find nothing, and nobody would notice
 */
export function offeredBy(
  rule: string,
  variation: string,
  { snapshot, viewer, chance, twins }: Asker,
): readonly Change[] {
  const { engine, match } = twins.at(snapshot)
  const plan = engine.plan.rules.find(({ name }) => name === rule)
  const run = plan?.definition.variations?.[variation]
  if (plan === undefined || run === undefined) return []
  const asked: VariationAsked = {
    sees: (row, cell) => seesCell(row as CompiledRow, cell, viewer), // the rows that handlers get
    chance,
  }
  const label = `${rule} variation ${variation}`
  const ruling = engine.step(label, () => engine.run({ rule: plan.index, label, run }, asked))
  if (!ruling.ok) throw match.faults.at(-1)?.error ?? new Error(`${label}: ${ruling.code}`)
  const changed = match.snapshot()
  const rows = rowsThatDiffer(snapshot, changed)
  return rows.size === 0 ? [] : [{ snapshot: changed, rows }]
}

/** By part, the numbers of rows that are not the same in both. */
function rowsThatDiffer(one: Snapshot, other: Snapshot): Change['rows'] {
  const rows = new Map<string, number[]>()
  for (const [part, saved] of Object.entries(other.parts)) {
    const before = new Map(one.parts[part]?.rows.map((row) => [row.number, JSON.stringify(row)]))
    const numbers = saved.rows.flatMap((row) =>
      before.get(row.number) === JSON.stringify(row) ? [] : row.number,
    )
    if (numbers.length > 0) rows.set(part, numbers)
  }
  return rows
}
