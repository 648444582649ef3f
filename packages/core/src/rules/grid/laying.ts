import type { Seat } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { roster } from '../roster/roster.ts'
import { verdict } from '../verdict/verdict.ts'
import type { Spot } from './board.ts'
import { runsThrough } from './lines.ts'
import type { GridOptions, Match } from './shape.ts'

type Cell<N extends string> = ReturnType<Match<N>['own']['cells']['all']>[number]

export const cellAt = <N extends string>(match: Match<N>, { x, y }: Spot): Cell<N> | undefined =>
  match.own.cells.where({ x, y })[0]

const hasRoom = <N extends string>(match: Match<N>, { x, y, holder, locked }: Cell<N>, most = 1): boolean =>
  !locked && (holder === undefined || (most > 1 && match.own.beneath.where({ x, y }).length + 1 < most))

/** Returns the cells on which something can be laid. */
export const free = <N extends string>(match: Match<N>, { most }: GridOptions): Spot[] =>
  match.own.cells
    .all()
    .filter((cell) => hasRoom(match, cell, most))
    .map(({ x, y }) => ({ x, y }))

/** Lays something of a seat on a cell. A line that it completes, or a board that is full, may end the bout. */
export function lay<N extends string>(match: Match<N>, seat: Seat, at: Spot, size: GridOptions) {
  const cell = cellAt(match, at)
  if (cell === undefined) return refuse('off-grid')
  if (!hasRoom(match, cell, size.most))
    return refuse(cell.locked && !cell.holder ? 'cell-locked' : 'cell-taken')
  const { x, y, holder } = cell
  if (holder !== undefined) match.own.beneath.add({ x, y, of: holder })
  cell.holder = seat
  match.emit('placed', { seat, x, y })
  if (size.line === undefined) return undefined
  if (announceLines(match, seat, at, size, size.line))
    match.use(verdict)?.claim({ winners: [seat], reason: 'line' })
  else if (!match.own.cells.all().some((each) => hasRoom(match, each, size.most))) {
    match.emit('full', {})
    match.use(verdict)?.claim({ winners: [...match.use(roster).inPlay()], reason: 'full' })
  }
  return undefined
}

/** Announces each line of a seat through a cell, and returns true if there is one. */
function announceLines<N extends string>(
  match: Match<N>,
  seat: Seat,
  at: Spot,
  size: GridOptions,
  line: number,
): boolean {
  const lines = runsThrough(at, match.own.cells.where({ holder: seat }), size).filter(({ length }) =>
    size.longer === 'not' ? length === line : length >= line,
  )
  for (const each of lines) match.emit('line', { seat, spots: each.map(({ x, y }) => ({ x, y })) })
  return lines.length > 0
}

/** Removes the topmost thing of a cell. */
export function lift<N extends string>(match: Match<N>, at: Spot): void {
  const cell = cellAt(match, at)
  const next = match.own.beneath.where({ x: at.x, y: at.y }).at(-1)
  if (cell !== undefined) cell.holder = next?.of
  if (next !== undefined) match.own.beneath.remove(next.id)
}

/** Returns who has laid something on a cell, the lowest thing first. */
export const layersOf = <N extends string>(match: Match<N>, { x, y }: Spot): Seat[] => [
  ...match.own.beneath.where({ x, y }).map(({ of }) => of),
  ...match.own.cells.where({ x, y }).flatMap(({ holder }) => holder ?? []),
]
