import type { AnyMatch, Seat } from 'zinc-referee'

/** One cell of one row of the state: its value on the server and its place in a view. */
export interface CellAt {
  /** For example `otter.health`, or the full `vitals.body.otter.health` if the short path is not unique. */
  readonly path: string
  readonly rule: string
  readonly part: string
  readonly seat: Seat | undefined
  readonly cell: string
  readonly value: unknown
  /** True if it is a time, in ms. */
  readonly isTime: boolean
}

/** Built-in rules. Cells that they keep to themselves say little about a mode. */
export const builtIn: ReadonlySet<string> = new Set([
  'roster',
  'phases',
  'rounds',
  'teams',
  'vitals',
  'credit',
  'respawn',
  'holds',
  'boosts',
  'scores',
  'verdict',
  'areas',
  'zones',
  'roles',
  'errands',
  'idle',
  'turns',
])

/** Returns all cells of per-seat and single parts, with the shortest unique paths. */
export function cellsOf(match: AnyMatch): CellAt[] {
  const cells = match.describe().rules.flatMap(({ name: rule, state }) =>
    Object.entries(state).flatMap(([part, { kind, cells: declared }]) => {
      const rows: readonly (Seat | undefined)[] =
        kind === 'perSeat' ? match.allSeats : kind === 'single' ? [undefined] : []
      return rows.flatMap((seat) =>
        Object.keys(declared).map((cell) => ({
          rule,
          part,
          seat,
          cell,
          value: cellValue(match, rule, part, seat, cell),
          isTime: declared[cell]?.kind === 'time',
        })),
      )
    }),
  )
  const short = ({ seat, cell, rule }: { seat: Seat | undefined; cell: string; rule: string }): string =>
    `${seat ?? rule}.${cell}`
  const counts = new Map<string, number>()
  for (const each of cells) counts.set(short(each), (counts.get(short(each)) ?? 0) + 1)
  return cells.map((each) => ({
    ...each,
    path:
      counts.get(short(each)) === 1
        ? short(each)
        : [each.rule, each.part, each.seat, each.cell].filter((step) => step !== undefined).join('.'),
  }))
}

function cellValue(
  match: AnyMatch,
  rule: string,
  part: string,
  seat: Seat | undefined,
  cell: string,
): unknown {
  const held = match.state[rule]?.[part] as { of?: (seat: Seat) => object }
  const row = seat === undefined ? held : held.of?.(seat)
  return (row as { readonly [cell: string]: unknown } | undefined)?.[cell]
}

/** Returns the text that a view shows for a cell: its value, or that it is hidden. */
export function shownIn(
  view: object,
  { rule, part, seat, cell }: CellAt,
): { readonly hidden: true } | { readonly hidden: false; readonly value: unknown } {
  const steps = [rule, part, ...(seat === undefined ? [] : [seat]), cell]
  let at: unknown = view
  for (const step of steps) {
    if (typeof at !== 'object' || at === null || !Object.hasOwn(at, step)) return { hidden: true }
    at = (at as { readonly [step: string]: unknown })[step]
  }
  return { hidden: false, value: at }
}
