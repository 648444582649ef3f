import { type Audience, reaches, SERVER, type Seat, someoneLost } from '../cells/index.ts'
import type { CompiledRow, RowNames } from './row.ts'

/** As a snapshot has it. */
export type SavedNames = readonly [
  next: number,
  rest: number,
  seats: readonly (readonly [seat: Seat, name: number])[],
]

/** The name of a row's inner id, which handlers, records and the viewer 'server' use. No other viewer is sent it. */
export const INNER = 0xffff_ffff

const nobody: ReadonlyMap<Seat, number> = new Map()
const unchanged: RowNames = { next: 0, rest: 0, seats: nobody }

/** Returns the name by which a viewer knows the row, for a viewer that sees it. */
export const nameFor = (names: RowNames | undefined, viewer: string): number =>
  names === undefined ? 0 : (names.seats.get(viewer) ?? names.rest)

/** True if all viewers know the row by the same name. */
export const isOneName = (names: RowNames | undefined): boolean =>
  names === undefined || names.seats.size === 0

/**
 * The names after a step in which the viewers of a row have changed. Whoever keeps sight keeps its name. Once anybody
 * has lost sight, newcomers get a name that nobody has known: else two viewers could follow the row together.
 */
export function namesAfter(
  names: RowNames | undefined,
  before: Audience,
  after: Audience,
): RowNames | undefined {
  const isLost = someoneLost(before, after)
  if (names === undefined && !isLost) return undefined
  const old = names ?? unchanged
  const next = isLost ? old.next + 1 : old.next
  const rest = before.all && after.all ? old.rest : next
  const seats = new Map<Seat, number>()
  for (const seat of new Set([...old.seats.keys(), ...before.seats, ...after.seats])) {
    if (!reaches(after, seat)) continue
    const name = reaches(before, seat) ? nameFor(old, seat) : next
    if (name !== rest) seats.set(seat, name)
  }
  const isSame =
    next === old.next &&
    rest === old.rest &&
    seats.size === old.seats.size &&
    [...seats].every(([seat, name]) => old.seats.get(seat) === name)
  return isSame ? names : { next, rest, seats }
}

/** Returns new names for everyone, so that nobody can follow the row. */
export function renewed(names: RowNames | undefined): RowNames {
  const next = (names?.next ?? 0) + 1
  return { next, rest: next, seats: nobody }
}

/** The names that were shown before, when a step is taken back. Those given since are never given again. */
export function namesBack(names: RowNames | undefined, shown: RowNames | undefined): RowNames | undefined {
  if (names === undefined) return shown
  const { rest, seats } = shown ?? unchanged
  return { next: Math.max(names.next, shown?.next ?? 0), rest, seats }
}

export const saveNames = ({ next, rest, seats }: RowNames): SavedNames => [
  next,
  rest,
  [...seats].sort(([a], [b]) => (a < b ? -1 : 1)),
]

export const loadNames = ([next, rest, seats]: SavedNames): RowNames => ({
  next,
  rest,
  seats: seats.length === 0 ? nobody : new Map(seats),
})

/** Returns the id by which a viewer knows a row that it sees. A seat's row has the seat's id. */
export function idFor(row: CompiledRow, viewer: string): string {
  return row.$shape.drawn && viewer !== SERVER ? row.$idUnder(nameFor(row.$names, viewer)) : row.id
}
