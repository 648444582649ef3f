import { formatElapsed, type ScoreSheet, type SheetColumn, type SheetNumbers } from 'zinc-referee/replica'
import { columns } from './output.ts'

const cell = ({ name, keeps }: SheetColumn, numbers: SheetNumbers): string => {
  const number = numbers[name]
  if (number === undefined) return ''
  return keeps === 'time' ? formatElapsed(number) : String(number)
}

/** Returns a score sheet as tables: its seats, and its teams if there are any. */
export function sheetLines({ columns: of, seats, teams }: ScoreSheet): string[] {
  const hasRanks = seats.some(({ rank }) => rank !== undefined)
  const headers = of.map(({ name }) => name)
  return [
    columns(
      [...(hasRanks ? ['rank'] : []), 'seat', ...(teams.length > 0 ? ['team'] : []), ...headers],
      seats.map(({ name, team, rank, total }) => [
        ...(hasRanks ? [String(rank ?? '')] : []),
        name,
        ...(teams.length > 0 ? [String(team ?? '')] : []),
        ...of.map((column) => cell(column, total)),
      ]),
    ),
    ...(teams.length === 0
      ? []
      : [
          columns(
            ['team', ...headers],
            teams.map(({ team, total }) => [String(team), ...of.map((column) => cell(column, total))]),
          ),
        ]),
  ]
}

/**
 * Returns a score sheet as comma-separated values (RFC 4180): for each seat a line for the bout, whose round is empty,
 * and one for each round. Times are in ms.
 */
export function sheetCsv({ columns: of, seats }: ScoreSheet): string {
  const headers = of.map(({ name }) => name)
  const rows = seats.flatMap(({ seat, name, team, rank, total, rounds }) =>
    [total, ...rounds].map((numbers, round) => [
      seat,
      name,
      team,
      rank,
      round === 0 ? '' : round,
      ...headers.map((header) => numbers[header]),
    ]),
  )
  return [['seat', 'name', 'team', 'rank', 'round', ...headers], ...rows]
    .map((row) => `${row.map(csvField).join(',')}\r\n`)
    .join('')
}

function csvField(value: string | number | undefined): string {
  const text = String(value ?? '')
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}
