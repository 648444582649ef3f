import { type Chance, chanceFrom } from '../chance/index.ts'
import type { AnyMatch, CellDescription, CellDescriptions, InputDescription } from '../rulebook/index.ts'
import type { Crowd } from './crowd.ts'

const BEAT = 500
/** Inputs that random players do not send: housekeeping, and giving up. */
const LEFT_OUT = new Set([
  'roster.leave',
  'roster.return',
  'roster.unready',
  'verdict.surrender',
  'phases.take-pause',
  'phases.end-pause',
])

/**
 * Returns a crowd that does anything that the rulebook's inputs allow, and reports any facts. With `facts: false` it
 * reports none: for matches whose facts come from a game.
 */
export function randomCrowd(
  seed: string,
  { facts: reports = true }: { readonly facts?: boolean } = {},
): Crowd {
  const chance = chanceFrom(seed, 'random crowd')
  let inputs:
    | { readonly actions: readonly InputDescription[]; readonly facts: readonly InputDescription[] }
    | undefined
  return {
    every: BEAT,
    beat(match, drives) {
      inputs ??= inputsOf(match)
      const { actions, facts } = inputs
      for (const seat of match.allSeats) {
        const input = drives(seat) ? randomAction(chance, actions, match, seat) : undefined
        if (input !== undefined) match.submit(seat, input.name, input.input)
      }
      const fact = reports ? randomInputOf(chance, facts, match) : undefined
      if (fact !== undefined) match.report(fact.name, fact.input)
    },
  }
}

function inputsOf(match: AnyMatch): {
  readonly actions: readonly InputDescription[]
  readonly facts: readonly InputDescription[]
} {
  const { rules } = match.describe()
  return {
    actions: rules.flatMap(({ actions }) => actions).filter(({ name }) => !LEFT_OUT.has(name)),
    facts: rules.flatMap(({ facts }) => facts),
  }
}

/** One of an action's options where its rule lists them, else anything that fits its cells. */
function randomAction(
  chance: Chance,
  among: readonly InputDescription[],
  match: AnyMatch,
  seat: string,
): { readonly name: string; readonly input: object } | undefined {
  const chosen = chance.pick(among)
  if (chosen?.offers !== true) return randomInputOf(chance, chosen === undefined ? [] : [chosen], match)
  const option = chance.pick(match.options(seat, chosen.name))
  return option === undefined ? undefined : { name: chosen.name, input: Object(option) }
}

/** One of these inputs with values that fit its cells. */
export function randomInputOf(
  chance: Chance,
  among: readonly InputDescription[],
  match: AnyMatch,
): { readonly name: string; readonly input: object } | undefined {
  const chosen = chance.pick(among.filter(({ cells }) => cells !== undefined))
  return chosen && { name: chosen.name, input: randomCells(chance, chosen.cells ?? {}, match) }
}

const randomCells = (chance: Chance, cells: CellDescriptions, match: AnyMatch): object =>
  Object.fromEntries(Object.entries(cells).map(([name, cell]) => [name, randomValue(chance, cell, match)]))

/** A value that fits the cell; a bounded number from within its bounds. */
export function randomValue(chance: Chance, cell: CellDescription, match: AnyMatch): unknown {
  const { kind, values = [], least = 0, most = least + 100, of } = cell
  if (kind === 'choice') return chance.pick(values)
  if (kind === 'seat') return chance.pick(match.allSeats)
  if (kind === 'flag') return chance.int(0, 1) === 1
  if (kind === 'text') return chance.pick(['reed', 'silt', 'lantern'])
  if (kind === 'list' && of !== undefined)
    return Array.from({ length: chance.int(0, 3) }, () => randomValue(chance, of, match))
  if (kind === 'maybe' && of !== undefined)
    return chance.int(0, 1) === 1 ? randomValue(chance, of, match) : undefined
  return chance.int(least, most)
}
