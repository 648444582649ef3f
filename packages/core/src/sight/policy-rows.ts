import { type Audience, anyOf, escapeInPath, noViewers, type PolicyRow, reaches } from '../state/index.ts'
import type { Outbox } from './outbox.ts'

const MASK = 2 ** 15

/** Whoever sees anything of a row with these sights. */
export const presence = (sights: readonly Audience[]): Audience => anyOf(noViewers, ...sights)

/** The members of a row that a viewer sees, as the inside of a JSON object; nothing where it sees none. */
export function membersFor(row: PolicyRow, viewer: string): string | undefined {
  const seen = row.$sights.flatMap((audience, facet) =>
    reaches(audience, viewer) ? row.$members(facet) : [],
  )
  return seen.length === 0 ? undefined : seen.join(',')
}

/**
 * Tells each viewer what has changed of a row: whole where it appears, gone where it vanishes, and between them a
 * removal or an addition for each cell that it lost or gained. Viewers in the same position share the text.
 */
export function tellRow(row: PolicyRow, viewers: Iterable<string>, outbox: Outbox): void {
  const before = row.$told ? row.$toldSights : []
  const after = row.$live ? row.$sights : []
  const change = new RowChange(row, row.$told ? row.$toldId : row.id)
  if (isPlain(before) && isPlain(after)) outbox.everyone(change.text(placed(before, ''), placed(after, '')))
  else
    for (const viewer of viewers)
      outbox.only(viewer, change.text(placed(before, viewer), placed(after, viewer)))
  row.$told = row.$live
  row.$toldSights = after
  row.$toldId = row.id
  row.$dirty = 0
  row.$listed = false
}

/** Whether all viewers are in the same position. */
const isPlain = (sights: readonly Audience[]): boolean => sights.every(({ seats }) => seats.size === 0)

/** The facets that a viewer sees, as bits. */
const placed = (sights: readonly Audience[], viewer: string): number =>
  sights.reduce((bits, audience, facet) => (reaches(audience, viewer) ? bits | (1 << facet) : bits), 0)

class RowChange {
  private readonly row: PolicyRow
  private readonly oldPath: string
  private readonly newPath: string
  private readonly renamed: boolean
  private readonly texts: Map<number, string> = new Map()

  constructor(row: PolicyRow, toldId: string) {
    this.row = row
    this.oldPath = `${row.$shape.path}/${escapeInPath(toldId)}`
    this.newPath = `${row.$shape.path}/${escapeInPath(row.id)}`
    this.renamed = toldId !== row.id
  }

  text(before: number, after: number): string {
    if (before === 0 && after === 0) return ''
    const position = before * MASK + after
    const known = this.texts.get(position)
    if (known !== undefined) return known
    const text = this.write(before, after)
    this.texts.set(position, text)
    return text
  }

  private write(before: number, after: number): string {
    const { row } = this
    const removal = `,{"op":"remove","path":"${this.oldPath}"}`
    const facets = row.$shape.facets ?? []
    const whole = (): string => {
      const members = facets.flatMap((_, facet) => (after & (1 << facet) ? row.$members(facet) : []))
      return `,{"op":"add","path":"${this.newPath}","value":{${members.join(',')}}}`
    }
    if (before === 0) return whole()
    if (after === 0) return removal
    if (this.renamed) return removal + whole()
    return facets
      .map(({ bits }, facet) => {
        const [had, has] = [before & (1 << facet), after & (1 << facet)]
        if (had && has) return row.$edit(facet, 'replace', row.$dirty)
        if (has) return row.$edit(facet, 'add', bits)
        return had ? row.$drop(facet) : ''
      })
      .join('')
  }
}
