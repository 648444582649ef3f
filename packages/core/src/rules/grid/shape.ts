import { everyone, flag, int, json, maybe, type Seat, seatRef, table } from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, listOf, whole } from '../../settings/index.ts'
import { roster } from '../roster/roster.ts'
import { verdict } from '../verdict/verdict.ts'
import type { Size, Spot } from './board.ts'

/** What is on a cell. */
export interface Placed extends Spot {
  /** Its owner. */
  readonly holder: Seat | undefined
}
/** A board, and what a line on it is worth. */
export interface GridOptions extends Size {
  /** A straight line of this many cells of one seat wins the bout. Default: lines are up to the mode. */
  readonly line?: number
  /** How many things can lie on one cell. Who laid the topmost one holds it. Default: 1. */
  readonly most?: number
  /** If true, a longer line wins too. */
  readonly longer?: 'counts' | 'not'
}

const spots = json(listOf(fields({ x: whole(), y: whole() })))
const spot = { x: int().seenBy(everyone), y: int().seenBy(everyone) }

export const ruleOf = <const N extends string>(name: N) =>
  declareRule({
    name,
    needs: [roster],
    knows: [verdict],
    state: {
      cells: table({
        ...spot,
        holder: maybe(seatRef()).seenBy(everyone),
        /** Nothing can be laid there. */
        locked: flag(false).seenBy(everyone),
      }).indexedBy('holder'),
      /** What lies beneath the topmost thing of a cell, the lowest first. */
      beneath: table({ ...spot, of: seatRef().seenBy(everyone) }),
    },
    events: {
      /** A seat holds a cell from now on. */
      placed: { seat: seatRef().seenBy(everyone), ...spot },
      /** A line is complete. One event for each line that a move has made. */
      line: { seat: seatRef().seenBy(everyone), spots: spots.seenBy(everyone) },
      /** No cell is free any more. */
      full: {},
    },
    drafts: {
      /** Lets a seat hold a cell. */
      place: { seat: seatRef(), x: int(), y: int() },
    },
  })
export type Match<N extends string> = MatchOf<ReturnType<typeof ruleOf<N>>>
