import type { Seat } from '../../cells/index.ts'
import { assertOptions } from '../../kit/index.ts'
import { around, type Edge, isOn, joins, type Spot } from './board.ts'
import { cellAt, free, lay, layersOf, lift } from './laying.ts'
import { type GridOptions, type Placed, ruleOf } from './shape.ts'

/** What it refuses with. */
const refusals = {
  'off-grid': 'That cell is not on the board. Choose one that is.',
  'cell-locked': 'Nothing can be laid there. Choose another cell.',
  'cell-taken': 'Somebody holds that cell. Choose a free one.',
}

/** A board of squares that everyone sees. Each cell is held by one seat or by none. */
export const gridOf = <const Name extends string>(name: Name, size: GridOptions) => {
  assertOptions(`gridOf '${name}'`, size, ['width', 'height', 'neighbours', 'wrap', 'line', 'most', 'longer'])
  return ruleOf(name).does({
    refusals,
    setUp(match) {
      for (let y = 0; y < size.height; y++) for (let x = 0; x < size.width; x++) match.own.cells.add({ x, y })
    },
    apply: { place: (match, { seat, x, y }) => lay(match, seat, { x, y }, size) },
    calls: {
      /** Returns the cells on which something can be laid. */
      free: (match): Spot[] => free(match, size),
      /** Returns the cells that a seat holds. */
      held: (match, seat: Seat): Spot[] =>
        match.own.cells.where({ holder: seat }).map(({ x, y }) => ({ x, y })),
      /** Returns the neighbours of a cell. */
      around: (match, spot: Spot): Placed[] =>
        around(spot, size).flatMap(({ x, y }) =>
          match.own.cells.where({ x, y }).map(({ holder }) => ({ x, y, holder })),
        ),
      /** Returns who has laid something on a cell, the lowest thing first. */
      on: (match, spot: Spot): Seat[] => layersOf(match, spot),
      /** True if a place lies on the board. */
      isOn: (_match, spot: Spot, edge: Edge): boolean => isOn(spot, edge, size),
      /** True if an unbroken line of the seat's cells leads from one edge to the other. */
      joins: (match, seat: Seat, from: Edge, to: Edge): boolean =>
        joins(match.own.cells.where({ holder: seat }), from, to, size),
      /** Removes the topmost thing of a cell. */
      lift: (match, spot: Spot) => lift(match, spot),
      /** Removes everything that lies on a cell. */
      clear(match, { x, y }: Spot) {
        const cell = cellAt(match, { x, y })
        if (cell !== undefined) cell.holder = undefined
        for (const { id } of match.own.beneath.where({ x, y })) match.own.beneath.remove(id)
      },
      /** Locks a cell, or unlocks it. */
      lock(match, spot: Spot, locked = true) {
        const cell = cellAt(match, spot)
        if (cell !== undefined) cell.locked = locked
      },
    },
  })
}
