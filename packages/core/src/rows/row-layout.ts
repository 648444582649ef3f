import type { AnyCell } from '../cells/index.ts'
import { audienceOf, formOf, sightKey } from '../cells/index.ts'
import { assertCellName, lanesOf, RefereeError } from '../kit/index.ts'
import type { CompiledRow, Facet, MaskPlan, PlacedCell, RowLayout, RowPlan } from './row.ts'
import { referenceOf } from './row-references.ts'

/** Two positions of a viewer, each a set of facets, fit into one whole number. */
export const MAX_FACETS = 26
/** Bits of a word that stay small integers. */
const WORD = 30

export function rowLayout(plan: RowPlan): RowLayout {
  const { path, keyed, cells, wakes = 0, place = 0, drawn = false, owner, policies, indexed = [] } = plan
  const names = Object.keys(cells)
  for (const name of [...names, ...Object.keys(plan.masks ?? {})]) assertCellName(name)
  const rule = path.split('/')[1] ?? ''
  const written = names.map((name) => cells[name] as AnyCell)
  const references = written.map((cell) => referenceOf(cell, rule))
  const byRow =
    owner !== undefined ||
    policies !== undefined ||
    plan.masks !== undefined ||
    written.some(({ reach }, at) => reach === 'some' || (reach !== 'nobody' && references[at] !== undefined))
  const each = written.map((cell, at) => placed(plan, byRow, names[at] ?? '', cell, at, references[at]))
  const facets = facetsOf(each, plan)
  const masks = masksOf(facets, plan)
  if (facets.length + masks.length > MAX_FACETS)
    throw new RefereeError('ZR_RULE_TOO_MANY_SIGHTS', {
      part: path.slice(1).replace('/', '.'),
      most: MAX_FACETS,
    })
  return {
    path,
    keyed,
    cells,
    each,
    words: Math.ceil(names.length / WORD),
    facets,
    masks,
    merges: each.some(({ merges }) => merges),
    isSeen: facets.length + masks.length > 0,
    everyone: byRow ? -1 : facets.findIndex(({ names: [first = ''] }) => cells[first]?.reach === 'everyone'),
    owned: byRow ? -1 : facets.findIndex(({ names: [first = ''] }) => cells[first]?.reach === 'owner'),
    byRow,
    wakes,
    place,
    drawn,
    tag: lanesOf(path).low,
    indexed,
    firsts: Object.fromEntries(each.map(({ name, cell, form }) => [name, form.keep(cell.initial)])),
    unknown: (store, name) =>
      store.fail(
        new RefereeError('ZR_STATE_UNKNOWN_CELL', { cell: `${path}/${name}`.slice(1).replaceAll('/', '.') }),
      ),
    wrong: (store, name, value) =>
      store.fail(
        new RefereeError('ZR_STATE_BAD_VALUE', {
          cell: `${path}/${name}`.slice(1).replaceAll('/', '.'),
          says:
            cells[name]?.problem(value) ??
            (value === undefined ? 'was left out' : 'names no row that is there'),
        }),
      ),
  }
}

/**
 * A cell with its place in the row. Where sight does not depend on the row, its owner's cells go by the patch: a merge
 * patch names a row once, with what everyone sees.
 */
function placed(
  { policies, indexed = [] }: RowPlan,
  byRow: boolean,
  name: string,
  cell: AnyCell,
  at: number,
  reference: PlacedCell['reference'],
): PlacedCell {
  const seen = cell.reach !== 'nobody' || policies?.[name] !== undefined
  return {
    name,
    cell,
    form: formOf(cell),
    at,
    word: Math.floor(at / WORD),
    bit: 1 << (at % WORD),
    seen,
    indexed: indexed.includes(name),
    reference,
    every: seen ? cell.every : undefined,
    merges: seen && cell.every !== undefined && isNumber(cell) && (byRow || cell.reach === 'everyone'),
  }
}

/** In a merge patch, null would take a cell away: only those that always hold something can go by it. */
const isNumber = ({ kind }: AnyCell): boolean => kind === 'int' || kind === 'num'

/** Cells of the same sight together: first everyone's, then the owner's, then others, then those of each policy. */
function facetsOf(each: readonly PlacedCell[], { owner, policies = {} }: RowPlan): Facet[] {
  const facet = (cells: readonly PlacedCell[], policy: Facet['policy']): Facet => ({
    names: cells.map(({ name }) => name),
    references: cells.flatMap(({ name, reference }) => (reference === undefined ? [] : name)),
    policy,
  })
  const fixed = each.filter(({ name, cell }) => policies[name] === undefined && cell.reach !== 'nobody')
  const keyOf = ({ cell }: PlacedCell): string =>
    cell.reach === 'everyone' || cell.reach === 'owner' ? cell.reach : sightKey(cell.sights)
  const keys = [...new Set(['everyone', 'owner', ...fixed.map(keyOf)])]
  return [
    ...keys.flatMap((key) => {
      const cells = fixed.filter((cell) => keyOf(cell) === key)
      const sights = cells[0]?.cell.sights ?? []
      return cells.length === 0
        ? []
        : facet(cells, (row, look) => audienceOf(sights, ownerOf(row, owner), look))
    }),
    ...[...new Set(Object.values(policies))].map((policy) =>
      facet(
        each.filter(({ name }) => policies[name] === policy),
        policy as Facet['policy'],
      ),
    ),
  ]
}

function masksOf(facets: readonly Facet[], { owner, masks = {} }: RowPlan): MaskPlan[] {
  return Object.entries(masks).map(([name, { to, as }]) => ({
    name,
    facet: facets.findIndex(({ names }) => names.includes(name)),
    policy: (row, look) => audienceOf([to], ownerOf(row, owner), look),
    as: as as MaskPlan['as'],
  }))
}

const ownerOf = (row: CompiledRow, owner: string | undefined): string | undefined =>
  owner === undefined ? row.id : (row.$cell(owner) as string | undefined)

/** True if a cell may be empty. A seat or row cell is empty until it is written. */
export const mayBeNothing = ({ kind, initial }: AnyCell): boolean =>
  kind === 'maybe' || kind === 'time' || initial === undefined

/** Returns a facet's cells except references. A viewer gets those by the rows that it sees. */
export const sharedCells = (each: readonly PlacedCell[], { names }: Facet): PlacedCell[] =>
  each.filter(({ name, reference }) => names.includes(name) && reference === undefined)

/** True if a change is sent as operations inside the value. */
export const isEdited = ({ seen, form, reference }: PlacedCell): boolean =>
  seen && form.edit !== undefined && reference === undefined
