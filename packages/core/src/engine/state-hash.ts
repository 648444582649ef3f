import type { Stream } from '../chance/index.ts'
import { canonicalJson, HashSum, type Lanes, lanesOf } from '../kit/index.ts'
import { type CompiledRow, KeyedTable, saveNames } from '../rows/index.ts'
import type { MatchState } from './match-state.ts'
import type { KeptStep } from './take-back.ts'

/** Settings are replaced as a whole, so their text, which is long, is hashed once. */
const settingsHashed = new WeakMap<object, Lanes>()

/** A sum over rows by part, number and cells, and over everything else that decides what comes next. */
export function stateHash(
  state: MatchState,
  streams: ReadonlyMap<string, Stream>,
  kept: readonly KeptStep[],
): string {
  const sum = new HashSum()
  for (const { plan, stored } of state.parts.flat()) {
    const { drawn } = plan.shape
    for (const row of stored.rows()) {
      const lanes = row.$lanes ?? lanesOf(`${plan.shape.path}#${row.$number}:${row.$text()}${namesText(row)}`)
      if (drawn) row.$lanes = lanes
      sum.include(lanes)
    }
    if (stored instanceof KeyedTable) sum.add(`${plan.shape.path} next ${stored.counter()}`)
  }
  for (const text of state.time.texts()) sum.add(text)
  for (const [name, { drawn }] of streams) if (drawn > 0) sum.add(`stream ${name} ${drawn}`)
  sum.add(`${state.seating.text()} bout ${state.bout}`)
  sum.include(settingsLanes(state.settings))
  if (kept.length > 0) sum.add(`past ${JSON.stringify(kept)}`)
  return sum.text()
}

function settingsLanes(settings: object): Lanes {
  const lanes = settingsHashed.get(settings) ?? lanesOf(canonicalJson(settings))
  settingsHashed.set(settings, lanes)
  return lanes
}

/** Under which names viewers know it, where it has had more than one. */
const namesText = ({ $names }: CompiledRow): string =>
  $names === undefined ? '' : `~${JSON.stringify(saveNames($names))}`
