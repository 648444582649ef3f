import { defineRule, refuse } from '../match/index.ts'
import { everyone, int, maybe, type Seat, seatRef, table } from '../state/index.ts'
import { roster } from './roster/roster.ts'

/** A cell of a board, from 0 at its west and north edges. */
export interface Spot {
  readonly x: number
  readonly y: number
}
/** What stands on a cell. */
export interface Placed extends Spot {
  readonly holder: Seat | undefined
}
export type Edge = 'west' | 'east' | 'north' | 'south'

interface Size {
  readonly width: number
  readonly height: number
  readonly neighbours?: 4 | 8
}

/** The cells beside a cell that lie on the board. */
export function around({ x, y }: Spot, { width, height, neighbours = 4 }: Size): Spot[] {
  const steps = [-1, 0, 1].flatMap((dx) => [-1, 0, 1].map((dy) => ({ dx, dy })))
  return steps
    .filter(({ dx, dy }) => (dx !== 0 || dy !== 0) && (neighbours === 8 || dx === 0 || dy === 0))
    .map(({ dx, dy }) => ({ x: x + dx, y: y + dy }))
    .filter((spot) => spot.x >= 0 && spot.y >= 0 && spot.x < width && spot.y < height)
}

export function isOn({ x, y }: Spot, edge: Edge, { width, height }: Size): boolean {
  return { west: x === 0, east: x === width - 1, north: y === 0, south: y === height - 1 }[edge]
}

/** Whether an unbroken line of these cells leads from one edge to another. */
export function joins(spots: readonly Spot[], from: Edge, to: Edge, size: Size): boolean {
  const left = new Map(spots.map((spot) => [`${spot.x},${spot.y}`, spot]))
  const reached = spots.filter((spot) => isOn(spot, from, size))
  for (const { x, y } of reached) left.delete(`${x},${y}`)
  for (let spot = reached.pop(); spot !== undefined; spot = reached.pop()) {
    if (isOn(spot, to, size)) return true
    for (const { x, y } of around(spot, size)) {
      const next = left.get(`${x},${y}`)
      if (next === undefined) continue
      left.delete(`${x},${y}`)
      reached.push(next)
    }
  }
  return false
}

/** A square board that everyone sees, each of its cells held by one seat or by none. */
export const gridOf = <const Name extends string>(name: Name, size: Size) =>
  defineRule({
    name,
    needs: [roster],
    state: {
      cells: table({
        x: int().seenBy(everyone),
        y: int().seenBy(everyone),
        holder: maybe(seatRef()).seenBy(everyone),
      }),
    },
    events: {
      placed: { seat: seatRef().seenBy(everyone), x: int().seenBy(everyone), y: int().seenBy(everyone) },
    },
    drafts: { place: { seat: seatRef(), x: int(), y: int() } },
    setUp(match) {
      for (let y = 0; y < size.height; y++) for (let x = 0; x < size.width; x++) match.own.cells.add({ x, y })
    },
    apply: {
      place(match, { seat, x, y }) {
        const [cell] = match.own.cells.where({ x, y })
        if (cell === undefined) return refuse('off-grid')
        if (cell.holder !== undefined) return refuse('cell-taken')
        cell.holder = seat
        match.emit('placed', { seat, x, y })
        return
      },
    },
    calls: {
      free: (match): Spot[] => match.own.cells.where({ holder: undefined }).map(({ x, y }) => ({ x, y })),
      held: (match, seat: Seat): Spot[] =>
        match.own.cells.where({ holder: seat }).map(({ x, y }) => ({ x, y })),
      around: (match, spot: Spot): Placed[] =>
        around(spot, size).flatMap(({ x, y }) =>
          match.own.cells.where({ x, y }).map(({ holder }) => ({ x, y, holder })),
        ),
      isOn: (_match, spot: Spot, edge: Edge): boolean => isOn(spot, edge, size),
      /** Whether an unbroken line of the seat's cells leads from one edge to the other. */
      joins: (match, seat: Seat, from: Edge, to: Edge): boolean =>
        joins(match.own.cells.where({ holder: seat }), from, to, size),
    },
  })
