import type { PolicyRow, StoredPart } from '../state/index.ts'
import { clockNames, type Timekeeper } from '../time/index.ts'
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
export function viewText(viewer: string, time: Timekeeper, rules: readonly NamedParts[]): string {
  const inside = rules.map(
    ({ rule, parts }) =>
      `"${rule}":{${parts
        .filter(isSeen)
        .map((part) => `"${part.name}":{${partText(viewer, part)}}`)
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

const isSeen = ({ stored: { shape } }: NamedPart): boolean =>
  shape.seenByEveryone || shape.seenByOwner || shape.facets !== undefined

function partText(viewer: string, { single, stored }: NamedPart): string {
  const rows: string[] = []
  for (const row of stored.rows()) {
    if (single) return row.$everyone()
    if (stored.shape.facets !== undefined) {
      const seen = membersFor(row as PolicyRow, viewer)
      if (seen !== undefined) rows.push(`"${keyText(row.id)}":{${seen}}`)
      continue
    }
    const own = stored.shape.seenByOwner && row.id === viewer ? row.$owner() : ''
    const all = row.$everyone()
    if (all === '' && own === '') continue
    rows.push(`"${keyText(row.id)}":{${all}${all !== '' && own !== '' ? ',' : ''}${own}}`)
  }
  return rows.join(',')
}

const keyText = (id: string): string => (/^[\w-]+$/.test(id) ? id : JSON.stringify(id).slice(1, -1))
