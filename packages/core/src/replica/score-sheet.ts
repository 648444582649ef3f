import { joinCounts, type Keeps } from '../kit/index.ts'

/** A column of a score sheet. */
export interface SheetColumn {
  /** `score`, `kills`, `deaths`, `assists`, or a counter of the rule `sheet`. */
  readonly name: string
  /** How several counts become one: added up, added up in ms, or the highest or lowest of them. */
  readonly keeps: Keeps
}
/** Numbers by column. A column in which nothing was counted is left out. */
export type SheetNumbers = { readonly [column: string]: number }

/** A seat's line of a score sheet. */
export interface SheetRow {
  /** The seat. */
  readonly seat: string
  /** The name of its player. */
  readonly name: string
  /** Its team, or undefined in a match without teams. */
  readonly team: number | undefined
  /** Its rank by score, or undefined in a match without scores. */
  readonly rank: number | undefined
  /** Its numbers for the bout. */
  readonly total: SheetNumbers
  /** Its counters by round, the first round first. */
  readonly rounds: readonly SheetNumbers[]
}
/** The numbers of a bout, by seat and team. */
export interface ScoreSheet {
  /** The columns in which somebody has a number. */
  readonly columns: readonly SheetColumn[]
  /** Best rank first, then by seat number. */
  readonly seats: readonly SheetRow[]
  /** Numbers of each team: those of its seats, and its own. By team number; empty in a match without teams. */
  readonly teams: readonly { readonly team: number; readonly total: SheetNumbers }[]
}

interface Line extends SheetColumn {
  readonly to: unknown
  readonly round: number
  readonly count: number
}
type Cells = { readonly [cell: string]: unknown }

/** Columns from built-in rules, each with the place of its cell in a view. */
const builtIn = [
  ['score', 'scores', 'sums', 'score'],
  ['kills', 'credit', 'tally', 'kills'],
  ['deaths', 'credit', 'tally', 'deaths'],
  ['assists', 'credit', 'tally', 'assists'],
] as const

/**
 * Returns the score sheet of a bout from a view: what its viewer may see of it while the bout runs, and all of it when
 * the bout is over. It has columns for `scores`, `credit` and the counters of `sheet`, if the rulebook has these rules.
 */
export function scoreSheet(view: object): ScoreSheet {
  const lines = Object.values(rowsOf(view, 'sheet', 'lines')).flatMap((row) => lineOf(row, row['to']))
  const teamLines = Object.values(rowsOf(view, 'sheet', 'teamLines')).flatMap((row) =>
    lineOf(row, row['team']),
  )
  const columns = [
    ...builtIn.flatMap(([name, rule, part]): SheetColumn[] =>
      Object.keys(rowsOf(view, rule, part)).length > 0 ? [{ name, keeps: 'sum' }] : [],
    ),
    ...new Map([...lines, ...teamLines].map(({ name, keeps }) => [name, { name, keeps }])).values(),
  ]
  const seats = Object.entries(rowsOf(view, 'roster', 'seats'))
    .map(([seat, row]) => rowFor(view, seat, row, columns, lines))
    .sort((a, b) => (a.rank ?? 0) - (b.rank ?? 0) || a.number - b.number)
    .map(({ number: _, ...row }) => row)
  const teams = [...new Set(seats.flatMap(({ team }) => team ?? []))].sort((a, b) => a - b)
  return {
    columns,
    seats,
    teams: teams.map((team) => ({
      team,
      total: totalOf(columns, [
        ...seats.filter((row) => row.team === team).map(({ total }) => total),
        ...teamLines.filter(({ to }) => to === team).map(({ name, count }) => ({ [name]: count })),
      ]),
    })),
  }
}

function rowFor(
  view: object,
  seat: string,
  { name, number }: Cells,
  columns: readonly SheetColumn[],
  all: readonly Line[],
): SheetRow & { readonly number: number } {
  const own = all.filter(({ to }) => to === seat)
  const rounds = Array.from({ length: Math.max(0, ...own.map(({ round }) => round)) }, (_, at) =>
    numbersOf(own.filter(({ round }) => round === at + 1).map((line) => [line.name, line.count])),
  )
  const given = builtIn.map(([column, rule, part, cell]) => [column, rowsOf(view, rule, part)[seat]?.[cell]])
  return {
    seat,
    name: String(name),
    number: Number(number),
    team: wholeOf(rowsOf(view, 'teams', 'side')[seat]?.['team']),
    rank: wholeOf(rowsOf(view, 'scores', 'places')[seat]?.['rank']),
    total: { ...numbersOf(given), ...totalOf(columns, rounds) },
    rounds,
  }
}

/** Joins numbers of several rounds, or of several seats, column by column. */
function totalOf(columns: readonly SheetColumn[], all: readonly SheetNumbers[]): SheetNumbers {
  return numbersOf(
    columns.map(({ name, keeps }) => {
      const counts = all.flatMap((each) => each[name] ?? [])
      return [name, counts.length === 0 ? undefined : joinCounts(keeps, counts)]
    }),
  )
}

const wholeOf = (value: unknown): number | undefined => (typeof value === 'number' ? value : undefined)

const numbersOf = (entries: readonly (readonly unknown[])[]): SheetNumbers =>
  Object.fromEntries(
    entries.flatMap(([name, value]) => (typeof value === 'number' ? [[String(name), value]] : [])),
  )

function lineOf({ counter, keeps, round, count }: Cells, to: unknown): Line[] {
  if (keeps !== 'sum' && keeps !== 'time' && keeps !== 'most' && keeps !== 'least') return []
  return typeof counter === 'string' && typeof round === 'number' && typeof count === 'number'
    ? [{ to, name: counter, keeps, round, count }]
    : []
}

/** Returns the rows of a part of a view. Empty if the rulebook has no such rule. */
function rowsOf(view: object, rule: string, part: string): { readonly [key: string]: Cells } {
  const rows: unknown = Object(Object(Reflect.get(view, rule))[part])
  return rows as { readonly [key: string]: Cells }
}
