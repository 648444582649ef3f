import type { AnyCell } from '../cells/index.ts'
import { withEach } from '../cells/index.ts'
import type { CompiledRow } from './row.ts'

/** Puts another word wherever a row names a seat: in cells that hold seats, at any depth, and as the key of a map. */
export function renameSeat(row: CompiledRow, seat: string, to: string): void {
  for (const { name, cell } of row.$shape.each) {
    const value = row.$cell(name)
    if (!namesSeat(cell, value, seat)) continue
    const renamed = holdsSeats(cell) ? withEach(cell, value, (each) => (each === seat ? to : each)) : value
    Object.assign(row, { [name]: cell.kind === 'map' ? withKey(renamed, seat, to) : renamed })
  }
}

const holdsSeats = ({ kind, of }: AnyCell): boolean => kind === 'seat' || (of !== undefined && holdsSeats(of))

function namesSeat(cell: AnyCell, value: unknown, seat: string): boolean {
  if (cell.kind === 'map' && (value as ReadonlyMap<string, unknown>).has(seat)) return true
  if (!holdsSeats(cell)) return false
  let isNamed = false
  withEach(cell, value, (each) => {
    isNamed ||= each === seat
    return each
  })
  return isNamed
}

function withKey(value: unknown, seat: string, to: string): unknown {
  return new Map(
    [...(value as ReadonlyMap<string, unknown>)].map(([key, item]) => [key === seat ? to : key, item]),
  )
}
