import { gone, replayRecord } from 'zinc-referee'
import { type CellAt, cellsOf, shownIn } from './cell-paths.ts'
import { parseTime } from './clock-arg.ts'
import { columns, hidden, pairs, plain, print, printJson, strong } from './paper.ts'
import { openRecord } from './records.ts'
import { exit, noSuch, Trouble } from './trouble.ts'

export interface ViewOptions {
  readonly seat: string
  readonly at: string
  readonly rulebook?: string
  readonly json?: boolean
}

/** What one viewer of a recorded match saw at one moment. */
export async function view(file: string, { seat, at, ...options }: ViewOptions): Promise<number> {
  const until = parseTime(at)
  const { content, book } = await openRecord(file, options.rulebook)
  const last = content.lines.at(-1)?.line.t ?? 0
  if (until > last) throw new Trouble(`The record ends at ${gone(last)}. Choose a time up to then.`)
  const { match, differs } = replayRecord(book, content, { until })
  if (differs !== undefined)
    throw new Trouble(
      `The record does not replay as it was made: line ${differs.line}. Run \`npx zinc-referee replay ${file}\`.`,
    )
  const viewers = [...match.seats, 'spectator', 'server']
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
    `${strong(book.name)}   ${seat} at ${gone(until)}`,
    ...parts(cells).map(([name, some]) => table(name, some, seen)),
    pairs([
      [
        'next',
        `npx zinc-referee view ${file} --seat ${seat === 'spectator' ? 'server' : 'spectator'} --at ${at}   to see it with other eyes`,
      ],
    ]),
  )
  return exit.done
}

function parts(cells: readonly CellAt[]): [string, CellAt[]][] {
  const grouped = new Map<string, CellAt[]>()
  for (const cell of cells) {
    const name = `${cell.rule}.${cell.part}`
    grouped.set(name, [...(grouped.get(name) ?? []), cell])
  }
  return [...grouped]
}

/** A row for each seat, a column for each cell; a part that nobody but the server sees is left out of other views. */
function table(name: string, cells: readonly CellAt[], seen: object | undefined): string {
  const header = [...new Set(cells.map(({ cell }) => cell))]
  const rows = [...new Set(cells.map(({ seat }) => seat))]
  const shown = (cell: CellAt | undefined): string => {
    if (cell === undefined) return ''
    if (seen === undefined) return plain(cell.value)
    const look = shownIn(seen, cell)
    return look.hidden ? hidden() : plain(look.value)
  }
  return columns(
    [name, ...header],
    rows.map((seat) => [
      seat ?? '',
      ...header.map((column) => shown(cells.find((each) => each.seat === seat && each.cell === column))),
    ]),
  )
}
