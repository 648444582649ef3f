import { Command } from 'commander'
import { formatElapsed } from 'zinc-referee'
import { exit } from '../errors.ts'
import { noSuch } from '../modes/no-such.ts'
import { named } from '../modes/open-record.ts'
import { replayTo } from '../modes/replay-to.ts'
import { builtIn, type CellAt, cellsOf, shownIn } from '../print/cell-paths.ts'
import { columns, hidden, pairs, plain, print, printJson, strong } from '../print/output.ts'
import { tableBlocks } from '../print/table-rows.ts'
import { exitWith, shared } from './options.ts'
import { parseTime } from './parse-time.ts'

/** zinc-referee view */
export const verb: Command = new Command('view')
  .argument('<record>')
  .requiredOption('--seat <id>', "a seat, 'spectator' or 'server'")
  .requiredOption('--at <time>', 'match time: 0:57, 57s or 57000ms')
  .addOption(shared.rulebook)
  .addOption(shared.json)
  .action(exitWith(view))

export interface ViewOptions {
  readonly seat: string
  readonly at: string
  readonly rulebook?: string
  readonly json?: boolean
}

/** Prints what one viewer of a recorded match saw at one moment. */
export async function view(file: string, { seat, at, ...options }: ViewOptions): Promise<number> {
  const { book, match, until } = await replayTo(file, options.rulebook, parseTime(at))
  const viewers = [...match.allSeats, 'spectator', 'server']
  if (!viewers.includes(seat)) throw noSuch('viewer', seat, viewers)
  const seen = seat === 'server' ? undefined : match.view(seat)
  if (options.json) {
    printJson(
      seen ??
        Object.fromEntries(
          cellsOf(match).map(({ rule, part, seat: row, cell, value }) => [
            [rule, part, row, cell].filter((step) => step !== undefined).join('.'),
            value ?? null,
          ]),
        ),
    )
    return exit.done
  }
  const cells = cellsOf(match)
  print(
    `${strong(book.name)}   ${seat} at ${formatElapsed(until)}`,
    ...blocks(cells, seen),
    ...tableBlocks(match, seen),
    pairs([
      [
        'next',
        `npx zinc-referee view ${file} --seat ${seat === 'spectator' ? 'server' : 'spectator'} --at ${at}${named(options.rulebook)}   to see it with other eyes`,
      ],
    ]),
  )
  return exit.done
}

/**
 * The mode's own rules come first, each with a row per seat. Cells that built-in rules keep to themselves are shown
 * for the server only.
 */
function blocks(all: readonly CellAt[], seen: object | undefined): string[] {
  const inside = (cell: CellAt): boolean =>
    builtIn.has(cell.rule) && all.every((each) => !isSame(each, cell) || !isShown(each, seen))
  const cells = all.filter((cell) => !inside(cell))
  const rules = [...new Set(cells.map(({ rule }) => rule))].sort(
    (a, b) => Number(builtIn.has(a)) - Number(builtIn.has(b)),
  )
  return rules.flatMap((rule) => {
    const own = cells.filter((cell) => cell.rule === rule)
    const [seats, single] = [
      own.filter(({ seat }) => seat !== undefined),
      own.filter(({ seat }) => seat === undefined),
    ]
    return [
      ...(seats.length === 0 ? [] : [table(rule, seats, seen)]),
      ...(single.length === 0
        ? []
        : [columns([rule, ...headers(single)], [['', ...single.map((cell) => shown(cell, seen))]])]),
    ]
  })
}

/** Returns the names of columns: the cell's, with its part if another column has the same. */
const headers = (cells: readonly CellAt[]): string[] =>
  cells.map(({ part, cell }) =>
    cells.filter((each) => each.cell === cell).length > 1 ? `${part}.${cell}` : cell,
  )

const isSame = (a: CellAt, b: CellAt): boolean => a.rule === b.rule && a.part === b.part && a.cell === b.cell
const isShown = (cell: CellAt, seen: object | undefined): boolean =>
  seen === undefined || !shownIn(seen, cell).hidden

function table(rule: string, cells: readonly CellAt[], seen: object | undefined): string {
  const header = [...new Map(cells.map((cell) => [`${cell.part}.${cell.cell}`, cell])).values()]
  const rows = [...new Set(cells.map(({ seat }) => seat))]
  return columns(
    [rule, ...headers(header)],
    rows.map((seat) => [
      seat ?? '',
      ...header.map((column) =>
        shown(
          cells.find((each) => each.seat === seat && isSame(each, column)),
          seen,
        ),
      ),
    ]),
  )
}

function shown(cell: CellAt | undefined, seen: object | undefined): string {
  if (cell === undefined) return ''
  const look = seen === undefined ? { hidden: false as const, value: cell.value } : shownIn(seen, cell)
  if (look.hidden) return hidden()
  return cell.isTime && typeof look.value === 'number' ? formatElapsed(look.value) : plain(look.value)
}
