import type { Chance } from '../../chance/index.ts'
import type { Snapshot } from '../../record/index.ts'
import type { CellDescription, RulebookDescription } from '../../rulebook/index.ts'

/** A cell that some may see and others not. */
export interface Secret {
  /** 'rule.part.cell' */
  readonly name: string
  readonly part: string
  readonly kind: string
  readonly cell: string
  readonly column: number
  readonly of: CellDescription
}
/** One cell of one row, as views have it. */
export type CellPath = string

/** The cells that are seen by some and not by everyone, and those named in `also`. */
export const secretsOf = ({ rules }: RulebookDescription, also: readonly string[]): Secret[] =>
  rules.flatMap(({ name: rule, state }) =>
    Object.entries(state).flatMap(([part, { kind, cells }]) =>
      Object.entries(cells).flatMap(([cell, of], column) => {
        const name = `${rule}.${part}.${cell}`
        const isSecret = (of.seenBy !== 'everyone' && of.seenBy !== 'nobody') || also.includes(name)
        return isSecret ? [{ name, part: `${rule}.${part}`, kind, cell, column, of }] : []
      }),
    ),
  )

export const pathOf = ({ part, kind, cell }: Secret, row: string): CellPath =>
  kind === 'single' ? `/${part.replace('.', '/')}/${cell}` : `/${part.replace('.', '/')}/${row}/${cell}`

/** A snapshot with other values in it, and where those stand now: a row may have another id when it is shown. */
export interface Varied {
  readonly snapshot: Snapshot
  where(now: Snapshot): readonly CellPath[]
}

/**
 * The snapshot with other values where the viewer sees none: those of the hidden rows change places, so that whatever
 * holds of all of them together still holds; where there is none to change with, each becomes another one of its kind,
 * in each way there is. Nothing where no other values can be found.
 */
export function varied(
  snapshot: Snapshot,
  secret: Secret,
  seen: ReadonlyMap<CellPath, string>,
  chance: Chance,
): readonly Varied[] {
  const before = hiddenRows(snapshot, secret, seen).map(([, , cells]) => cells[secret.column])
  const mixed = shuffled(before, chance)
  const ways = mixed === undefined ? others(valued(secret.of, snapshot), before) : [mixed]
  return ways.flatMap((after) => withValues(snapshot, secret, seen, after))
}

/** A number and a word that nothing else is likely to be; small enough for something to be done so many times. */
export const MARK = 48_271
const MARK_WORD = `marked-${MARK}`

/** The snapshot with marks where the viewer sees none, to be looked for in what it is sent; nothing where none fits. */
export function marked(
  snapshot: Snapshot,
  secret: Secret,
  seen: ReadonlyMap<CellPath, string>,
): readonly Varied[] {
  const { kind, least = MARK, most = MARK } = valued(secret.of, snapshot)
  const mark =
    kind === 'text' ? MARK_WORD : kind === 'int' && least <= MARK && most >= MARK ? MARK : undefined
  if (mark === undefined) return []
  const before = hiddenRows(snapshot, secret, seen).map(([, , cells]) => cells[secret.column])
  const after = before.map((value) => (value === null ? value : mark))
  return withValues(snapshot, secret, seen, after)
}

function hiddenRows(snapshot: Snapshot, secret: Secret, seen: ReadonlyMap<CellPath, string>) {
  const rows = snapshot.parts[secret.part]?.rows ?? []
  return rows.filter(([, id]) => !seen.has(pathOf(secret, id)))
}

/** The snapshot with these values in the hidden rows, in their order; nothing where they are the same. */
function withValues(
  snapshot: Snapshot,
  secret: Secret,
  seen: ReadonlyMap<CellPath, string>,
  after: readonly unknown[],
): readonly Varied[] {
  const saved = snapshot.parts[secret.part]
  const changed = hiddenRows(snapshot, secret, seen).flatMap(([, id, cells], at) =>
    isSame(cells[secret.column], after[at]) ? [] : [[id, after[at]] as const],
  )
  if (saved === undefined || changed.length === 0) return []
  const values = new Map(changed)
  const rows = saved.rows.map(([number, id, cells]) =>
    values.has(id)
      ? ([number, id, cells.with(secret.column, values.get(id))] as const)
      : ([number, id, cells] as const),
  )
  const parts = { ...snapshot.parts, [secret.part]: { ...saved, rows } }
  const numbers = new Set(saved.rows.flatMap(([number, id]) => (values.has(id) ? number : [])))
  const where = ({ parts: now }: Snapshot): readonly CellPath[] =>
    (now[secret.part]?.rows ?? []).flatMap(([number, id]) => (numbers.has(number) ? pathOf(secret, id) : []))
  return [{ snapshot: { ...snapshot, parts }, where }]
}

const isSame = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

function shuffled(values: readonly unknown[], chance: Chance): readonly unknown[] | undefined {
  if (values.every((value) => isSame(value, values[0]))) return undefined
  for (;;) {
    const mixed = chance.shuffle(values)
    if (!isSame(mixed, values)) return mixed
  }
}

/** What a cell holds; of one that names a seat, with the seats that there are as its values. */
function valued(of: CellDescription, { seats }: Snapshot): CellDescription {
  const inner = of.kind === 'maybe' ? (of.of ?? of) : of
  return inner.kind === 'seat'
    ? { ...inner, kind: 'choice', values: seats.places.map(([seat]) => seat) }
    : inner
}

/** The values all made into others of their kind: a choice into each of its values, others in one way. */
function others(inner: CellDescription, before: readonly unknown[]): readonly (readonly unknown[])[] {
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
  if (Array.isArray(value)) return [...value].reverse()
  if (typeof value !== 'number') return value
  return value < most ? value + 1 : value > least ? value - 1 : value
}
