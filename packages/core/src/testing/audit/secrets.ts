import type { Chance } from '../../chance/index.ts'
import type { Snapshot } from '../../record/index.ts'
import type { CompiledRow } from '../../rows/index.ts'
import type { CellDescription, OpenMatch, RulebookDescription } from '../../rulebook/index.ts'
import { seesCell } from '../../sight/index.ts'
import type { Change } from './twins.ts'

/** A cell that some may see and others not. */
export interface Secret {
  /** 'rule.part.cell' */
  readonly name: string
  /** 'rule.part' */
  readonly part: string
  readonly kind: string
  readonly cell: string
  readonly of: CellDescription
}

/**
 * The cells that are seen by some and not by everyone, and those named in `also`. References are none: what they name is
 * in the rows themselves, and another row could be one that cannot be there.
 */
export const secretsOf = ({ rules }: RulebookDescription, also: readonly string[]): Secret[] =>
  rules.flatMap(({ name: rule, state, varies = {} }) =>
    Object.entries(state).flatMap(([part, { kind, cells }]) =>
      Object.entries(cells).flatMap(([cell, of]) => {
        const name = `${rule}.${part}.${cell}`
        if (varies[part]?.includes(cell) === false && !also.includes(name)) return []
        const isSecret = (of.seenBy !== 'everyone' && of.seenBy !== 'nobody') || also.includes(name)
        return isSecret && !namesRows(of) ? [{ name, part: `${rule}.${part}`, kind, cell, of }] : []
      }),
    ),
  )

const namesRows = ({ kind, of }: CellDescription): boolean =>
  kind === 'row' || (of !== undefined && namesRows(of))

/** True if a viewer sees the cell of one of these rows now. */
export const isShown = (
  twin: OpenMatch,
  { part, cell }: Secret,
  rows: Change['rows'],
  viewer: string,
): boolean =>
  rowsOf(twin, part).some((row) => rows.get(part)?.includes(row.$number) && seesCell(row, cell, viewer))

/** Returns the number of cells of these rows that a viewer sees now. */
export function cellsSeen(twin: OpenMatch, rows: Change['rows'], viewer: string): number {
  let seen = 0
  for (const [part, numbers] of rows)
    for (const row of rowsOf(twin, part))
      if (numbers.includes(row.$number))
        seen += row.$shape.each.filter(({ name }) => seesCell(row, name, viewer)).length
  return seen
}

export function rowsOf({ engine }: OpenMatch, part: string): CompiledRow[] {
  const [rule, name] = part.split('.')
  const index = engine.plan.rules.findIndex((each) => each.name === rule)
  const stored = engine.parts[index]?.find(({ plan }) => plan.name === name)?.stored
  return [...(stored?.rows() ?? [])]
}

/** The numbers of the rows whose cell a viewer does not see. */
export const hiddenFrom = (twin: OpenMatch, { part, cell }: Secret, viewer: string): readonly number[] =>
  rowsOf(twin, part).flatMap((row) => (seesCell(row, cell, viewer) ? [] : row.$number))

/** Other values to try for hidden rows. */
export interface Ways {
  /** All of them mixed. A property of all of them together still holds. */
  readonly mixed: readonly Change[]
  /** As little as can be: two that change places, or, where all are alike, each made into another of its kind. */
  readonly few: readonly Change[]
}

export function waysOf(snapshot: Snapshot, secret: Secret, hidden: readonly number[], chance: Chance): Ways {
  const column = valuesOf(snapshot, secret)
  const rows = hidden.filter((number) => column.has(number))
  const before = rows.map((number) => column.get(number))
  if (before.every((value) => isSame(value, before[0]))) {
    const others = otherValues(valued(secret.of, snapshot), before)
    return { mixed: [], few: others.flatMap((after) => withValues(snapshot, secret, rows, after)) }
  }
  return {
    mixed: withValues(snapshot, secret, rows, shuffled(before, chance)),
    few: withValues(snapshot, secret, rows, swapped(before, chance)),
  }
}

function valuesOf(snapshot: Snapshot, { part, cell }: Secret): ReadonlyMap<number, unknown> {
  const rows = snapshot.parts[part]?.rows ?? []
  return new Map(rows.map(({ number, cells }) => [number, cells[cell] ?? null]))
}

/** Returns the snapshot with these values in a cell of these rows, or nothing if the rows have them already. */
function withValues(
  snapshot: Snapshot,
  secret: Secret,
  numbers: readonly number[],
  after: readonly unknown[],
): readonly Change[] {
  const { part, cell } = secret
  const saved = snapshot.parts[part]
  if (saved === undefined) return []
  const now = valuesOf(snapshot, secret)
  const values = new Map(numbers.map((number, at) => [number, after[at]]))
  for (const [number, value] of values) if (isSame(value, now.get(number))) values.delete(number)
  if (values.size === 0) return []
  const rows = saved.rows.map((row) =>
    values.has(row.number) ? { ...row, cells: { ...row.cells, [cell]: values.get(row.number) } } : row,
  )
  const parts = { ...snapshot.parts, [part]: { ...saved, rows } }
  return [{ snapshot: { ...snapshot, parts }, rows: new Map([[part, [...values.keys()]]]) }]
}

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

function shuffled(values: readonly unknown[], chance: Chance): readonly unknown[] {
  for (;;) {
    const mixed = chance.shuffle(values)
    if (!isSame(mixed, values)) return mixed
  }
}

/** Two different ones change places. */
function swapped(values: readonly unknown[], chance: Chance): readonly unknown[] {
  const one = chance.int(0, values.length - 1)
  const others = values.flatMap((value, at) => (isSame(value, values[one]) ? [] : at))
  const other = chance.pick(others) ?? one
  return values.with(one, values[other]).with(other, values[one])
}

/** Returns a cell's description. A cell that names a seat gets the seats of the match as its values. */
function valued(of: CellDescription, { seats }: Snapshot): CellDescription {
  const inner = of.kind === 'maybe' ? (of.of ?? of) : of
  return inner.kind === 'seat'
    ? { ...inner, kind: 'choice', values: seats.places.map(([seat]) => seat) }
    : inner
}

/** The values all made into others of their kind: a choice into each of its values, others in one way. */
function otherValues(inner: CellDescription, before: readonly unknown[]): readonly (readonly unknown[])[] {
  const ways = inner.kind === 'choice' ? (inner.values ?? []).length - 1 : 1
  return Array.from({ length: ways }, (_, way) =>
    before.map((value) => (value === null ? value : another(inner, value, way + 1))),
  )
}

/** The same value where none can be made up. */
function another(
  { kind, values = [], least = -Infinity, most = Infinity }: CellDescription,
  value: unknown,
  way: number,
): unknown {
  if (kind === 'flag') return !value
  if (kind === 'choice') return values[(values.indexOf(String(value)) + way) % values.length]
  if (kind === 'list' && Array.isArray(value)) return [...value].reverse()
  if (typeof value !== 'number') return value
  return value < most ? value + 1 : value > least ? value - 1 : value
}
