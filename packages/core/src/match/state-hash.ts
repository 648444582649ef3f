import type { Stream } from '../chance/index.ts'
import { canonicalJson, HashSum, lanesOf } from '../kit/index.ts'
import { type CompiledRow, KeyedTable, saveNames } from '../state/index.ts'
import type { Engine } from './engine.ts'

/** A sum over rows by part, number and cells, and over everything else that decides what comes next. */
export function stateHash(engine: Engine, streams: ReadonlyMap<string, Stream>): string {
  const sum = new HashSum()
  for (const { plan, stored } of engine.parts.flat()) {
    const { drawn } = plan.shape
    for (const row of stored.rows()) {
      const lanes = row.$lanes ?? lanesOf(`${plan.shape.path}#${row.$number}:${row.$text()}${namesText(row)}`)
      if (drawn) row.$lanes = lanes
      sum.include(lanes)
    }
    if (stored instanceof KeyedTable) sum.add(`${plan.shape.path} next ${stored.counter()}`)
  }
  for (const text of engine.time.texts()) sum.add(text)
  for (const [name, { drawn }] of streams) if (drawn > 0) sum.add(`stream ${name} ${drawn}`)
  sum.add(`${engine.seating.text()} bout ${engine.bout}`)
  sum.add(canonicalJson(engine.settings))
  const kept = engine.past?.save() ?? []
  if (kept.length > 0) sum.add(`past ${JSON.stringify(kept)}`)
  return sum.text()
}

/** Under which names viewers know it, where it has had more than one. */
const namesText = ({ $names }: CompiledRow): string =>
  $names === undefined ? '' : `~${JSON.stringify(saveNames($names))}`
