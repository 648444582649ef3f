import type { Rehearsal } from 'zinc-referee/testing'
import { sharesOf } from './shares-of.ts'

/** A rehearsal, and the value of the setting that was varied; nothing if none was. */
export interface Rehearsed {
  readonly value: string | undefined
  readonly went: Rehearsal
}

const HEADER = ['setting', 'what', 'name', 'times', 'of', 'low', 'high']

/**
 * Returns rehearsals as CSV (RFC 4180): a line for each share with its confidence interval, each ending, and how often each
 * action and choice was made in so many matches.
 */
export function csvOf(all: readonly Rehearsed[]): string {
  const rows = all.flatMap(({ value = '', went }) => {
    const counted = (what: string, tallies: Rehearsal['actions']) =>
      tallies.map(({ name, times }) => [value, what, name, times, went.matches, '', ''])
    return [
      ...sharesOf(went).map(({ what, name, times, of, interval: [low, high] }) => [
        value,
        what,
        name,
        times,
        of,
        low.toFixed(4),
        high.toFixed(4),
      ]),
      ...counted('ending', went.endings),
      ...counted('action', went.actions),
      ...counted('choice', went.choices),
    ]
  })
  return `${[HEADER, ...rows].map((row) => row.map(field).join(',')).join('\r\n')}\r\n`
}

/** A field is quoted where it has to be. */
const field = (value: string | number): string =>
  /[",\r\n]/.test(String(value)) ? `"${String(value).replaceAll('"', '""')}"` : String(value)
