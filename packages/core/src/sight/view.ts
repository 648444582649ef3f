import type { PolicyRow, StoredPart } from '../state/index.ts'
import { clockNames, type Timekeeper } from '../time/index.ts'
import type { NamedRows } from './named-rows.ts'
import { inTellingOrder, plainMembers } from './plain-rows.ts'
import { membersFor } from './policy-rows.ts'

/** A part of a rule's state under its name in the view. */
export interface NamedPart {
  readonly name: string
  readonly single: boolean
  readonly stored: StoredPart
}
/** A rule's parts under its name in the view. */
export interface NamedParts {
  readonly rule: string
  readonly parts: readonly NamedPart[]
}

/** The whole view of one viewer from scratch, as JSON text: what the patched view must always equal. */
export function viewText(
  viewer: string,
  time: Timekeeper,
  rules: readonly NamedParts[],
  named: NamedRows,
): string {
  const inside = rules.map(
    ({ rule, parts }) =>
      `"${rule}":{${parts
        .filter(isSeen)
        .map((part) => `"${part.name}":{${partText(viewer, part, named)}}`)
        .join(',')}}`,
  )
  return `{"clocks":${clocksText(time)}${inside.map((text) => `,${text}`).join('')}}`
}

/** Each clock once: running, `at` is the match time at which it read zero; held, `at` is its reading (ms). */
export function clocksText(time: Timekeeper): string {
  return `{${clockNames.map((name) => `"${name}":${clockText(time, name)}`).join(',')}}`
}
export function clockText(time: Timekeeper, name: (typeof clockNames)[number]): string {
  const { at, runs } = time.state(name)
  return `{"at":${at},"runs":${runs}}`
}

const isSeen = ({ stored: { shape } }: NamedPart): boolean => shape.facets.length > 0

function partText(viewer: string, { single, stored }: NamedPart, named: NamedRows): string {
  const rows: string[] = []
  const all = stored.rows()
  for (const row of stored.shape.drawn ? [...all].sort(inTellingOrder) : all) {
    const seen = stored.shape.byRow ? membersFor(row as PolicyRow, viewer, named) : plainMembers(row, viewer)
    if (single) return seen ?? ''
    if (seen !== undefined) rows.push(`"${keyText(row.id)}":{${seen}}`)
  }
  return rows.join(',')
}

const keyText = (id: string): string => (/^[\w-]+$/.test(id) ? id : JSON.stringify(id).slice(1, -1))
