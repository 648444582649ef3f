import { everyone, flag, int, json, maybe, type Seat, seatRef, table } from '../../cells/index.ts'
import { defineRule, refuse } from '../../rule/index.ts'
import { fields, listOf, whole } from '../../settings/index.ts'
import { roster } from '../roster/roster.ts'
import { verdict } from '../verdict/verdict.ts'
import { around, type Edge, isOn, joins, type Size, type Spot } from './board.ts'
import { runsThrough } from './lines.ts'

/** What it refuses with. */
const refusals = {
  'off-grid': 'That cell is not on the board. Choose one that is.',
  'cell-locked': 'Nothing can be laid there. Choose another cell.',
  'cell-taken': 'Somebody holds that cell. Choose a free one.',
}

/** What is on a cell. */
export interface Placed extends Spot {
  /** Its owner. */
  readonly holder: Seat | undefined
}
/** A board, and what a line on it is worth. */
export interface GridOptions extends Size {
  /** A straight line of this many cells of one seat wins the bout. Default: lines are up to the mode. */
  readonly line?: number
  /** If true, a longer line wins too. */
  readonly longer?: 'counts' | 'not'
}

const spots = json(listOf(fields({ x: whole(), y: whole() })))

/** A board of squares that everyone sees. Each cell is held by one seat or by none. */
export const gridOf = <const Name extends string>(name: Name, size: GridOptions) =>
  defineRule({
    name,
    needs: [roster],
    knows: [verdict],
    refusals,
    state: {
      cells: table({
        x: int().seenBy(everyone),
        y: int().seenBy(everyone),
        holder: maybe(seatRef()).seenBy(everyone),
        /** Nothing can be laid there. */
        locked: flag(false).seenBy(everyone),
      }).indexedBy('holder'),
    },
    events: {
      /** A seat holds a cell from now on. */
      placed: { seat: seatRef().seenBy(everyone), x: int().seenBy(everyone), y: int().seenBy(everyone) },
      /** A line is complete. One event for each line that a move has made. */
      line: { seat: seatRef().seenBy(everyone), spots: spots.seenBy(everyone) },
      /** No cell is free any more. */
      full: {},
    },
    drafts: {
      /** Lets a seat hold a cell. */
      place: { seat: seatRef(), x: int(), y: int() },
    },
    setUp(match) {
      for (let y = 0; y < size.height; y++) for (let x = 0; x < size.width; x++) match.own.cells.add({ x, y })
    },
    apply: {
      place(match, { seat, x, y }) {
        const [cell] = match.own.cells.where({ x, y })
        if (cell === undefined) return refuse('off-grid')
        if (cell.holder !== undefined) return refuse('cell-taken')
        if (cell.locked) return refuse('cell-locked')
        cell.holder = seat
        match.emit('placed', { seat, x, y })
        const { line, longer = 'counts' } = size
        if (line === undefined) return
        const own = match.own.cells.where({ holder: seat })
        const lines = runsThrough({ x, y }, own, size).filter(({ length }) =>
          longer === 'counts' ? length >= line : length === line,
        )
        for (const each of lines)
          match.emit('line', { seat, spots: each.map((spot) => ({ x: spot.x, y: spot.y })) })
        if (lines.length > 0) match.use(verdict)?.claim({ winners: [seat], reason: 'line' })
        else if (match.own.cells.where({ holder: undefined }).every(({ locked }) => locked)) {
          match.emit('full', {})
          match.use(verdict)?.claim({ winners: [...match.use(roster).inPlay()], reason: 'full' })
        }
        return
      },
    },
    calls: {
      /** Returns the cells on which something can be laid. */
      free: (match): Spot[] =>
        match.own.cells.where({ holder: undefined, locked: false }).map(({ x, y }) => ({ x, y })),
      /** Returns the cells that a seat holds. */
      held: (match, seat: Seat): Spot[] =>
        match.own.cells.where({ holder: seat }).map(({ x, y }) => ({ x, y })),
      /** Returns the neighbours of a cell. */
      around: (match, spot: Spot): Placed[] =>
        around(spot, size).flatMap(({ x, y }) =>
          match.own.cells.where({ x, y }).map(({ holder }) => ({ x, y, holder })),
        ),
      /** True if a place lies on the board. */
      isOn: (_match, spot: Spot, edge: Edge): boolean => isOn(spot, edge, size),
      /** True if an unbroken line of the seat's cells leads from one edge to the other. */
      joins: (match, seat: Seat, from: Edge, to: Edge): boolean =>
        joins(match.own.cells.where({ holder: seat }), from, to, size),
      /** Removes what lies on a cell. */
      clear(match, { x, y }: Spot) {
        const [cell] = match.own.cells.where({ x, y })
        if (cell !== undefined) cell.holder = undefined
      },
      /** Locks a cell, or unlocks it. */
      lock(match, { x, y }: Spot, locked = true) {
        const [cell] = match.own.cells.where({ x, y })
        if (cell !== undefined) cell.locked = locked
      },
    },
  })
