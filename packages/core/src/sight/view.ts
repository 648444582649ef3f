import { idFor, type PolicyRow, type StoredPart } from '../rows/index.ts'
import { clockNames, type Timekeeper } from '../time/index.ts'
import { keyText } from './merge-box.ts'
import type { NamedRows } from './named-rows.ts'
import { plainMembers } from './plain-rows.ts'
import { membersFor } from './policy-rows.ts'

/** A rule with its parts, as they are under its name in the view. */
export interface ViewedRule {
  readonly name: string
  readonly parts: readonly StoredPart[]
}

/** The whole view of one viewer from scratch, as JSON text: what the patched view must always equal. */
export function viewText(
  viewer: string,
  time: Timekeeper,
  rules: Iterable<ViewedRule>,
  named: NamedRows,
  more: (rule: string) => readonly string[],
): string {
  let text = `{"clocks":${clocksText(time)}`
  for (const { name, parts } of rules) {
    const seen = parts.filter(({ shape }) => shape.isSeen)
    const members = seen.map((part) => `"${nameOf(part)}":{${partText(viewer, part, named)}}`)
    text += `,"${name}":{${[...members, ...more(name)].join(',')}}`
  }
  return `${text}}`
}

const nameOf = ({ shape: { path } }: StoredPart): string => path.slice(path.lastIndexOf('/') + 1)

/** Each clock once: running, `at` is the match time at which it read zero; held, `at` is its reading (ms). */
export function clocksText(time: Timekeeper): string {
  return `{${clockNames.map((name) => `"${name}":${clockText(time, name)}`).join(',')}}`
}
export function clockText(time: Timekeeper, name: (typeof clockNames)[number]): string {
  const { at, runs } = time.state(name)
  return `{"at":${at},"runs":${runs}}`
}

function partText(viewer: string, stored: StoredPart, named: NamedRows): string {
  const { byRow, keyed, drawn } = stored.shape
  const rows: { readonly id: string; readonly seen: string }[] = []
  for (const row of stored.rows()) {
    const seen = byRow ? membersFor(row as PolicyRow, viewer, named) : plainMembers(row, viewer)
    if (!keyed) return seen ?? ''
    if (seen !== undefined) rows.push({ id: idFor(row, viewer), seen })
  }
  // Sorted by the ids that the viewer knows: the order in which rows were made could reveal hidden values.
  if (drawn) rows.sort((a, b) => (a.id < b.id ? -1 : 1))
  return rows.map(({ id, seen }) => `"${keyText(id)}":{${seen}}`).join(',')
}
