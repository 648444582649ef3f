import { type CompiledRow, escapeInPath, SERVER } from '../state/index.ts'
import type { Outbox } from './outbox.ts'

/** Tells what has changed of a row whose sight does not depend on it: to everyone, and to its owner. */
export function tellPlainRow(row: CompiledRow, outbox: Outbox): void {
  const { everyone, owned, drawn } = row.$shape
  if (drawn) {
    if (row.$told && row.$toldId !== row.$id && everyone >= 0) {
      // Its id is another one: the row that was known vanishes.
      outbox.everyone(`,{"op":"remove","path":"${row.$shape.path}/${escapeInPath(row.$toldId)}"}`)
      row.$told = false
    }
    row.$toldId = row.$id
  }
  if (row.$live && row.$told) {
    if (everyone >= 0) outbox.everyone(row.$edit(everyone, 'replace'))
    if (owned >= 0) outbox.only(row.id, row.$edit(owned, 'replace'))
  } else if (row.$live) {
    row.$told = true
    if (everyone >= 0) outbox.everyone(added(row, everyone))
    if (owned >= 0) outbox.only(row.id, everyone >= 0 ? row.$edit(owned, 'add') : added(row, owned))
  } else if (row.$told) {
    row.$told = false
    const removal = `,{"op":"remove","path":"${row.$path()}"}`
    if (everyone >= 0) outbox.everyone(removal)
    else outbox.only(row.id, removal)
  }
  row.$clean()
}

/** What the server is told of a row; to be done before others are told, which takes its marks off. */
export function tellServerOfPlainRow(row: CompiledRow, outbox: Outbox): void {
  const { path, drawn, everyone, owned } = row.$shape
  const facets = [everyone, owned].filter((facet) => facet >= 0)
  const isRenamed = drawn && row.$told && row.$toldId !== row.$id
  const isKnown = row.$told && !isRenamed
  if (isRenamed) outbox.everyone(`,{"op":"remove","path":"${path}/${escapeInPath(row.$toldId)}"}`)
  if (isKnown && row.$live) for (const facet of facets) outbox.everyone(row.$edit(facet, 'replace'))
  else if (row.$live) {
    const members = facets.map((facet) => row.$members(facet)).join(',')
    outbox.everyone(`,{"op":"add","path":"${row.$path()}","value":{${members}}}`)
  } else if (isKnown) outbox.everyone(`,{"op":"remove","path":"${row.$path()}"}`)
}

const added = (row: CompiledRow, facet: number): string =>
  `,{"op":"add","path":"${row.$path()}","value":{${row.$members(facet)}}}`

/**
 * The order in which rows are told: by part, and in it by seat number or by public id, which is drawn. The order of
 * changes, and that in which rows were made, could tell what may not be known.
 */
export function inTellingOrder(a: CompiledRow, b: CompiledRow): number {
  const { place, drawn } = a.$shape
  if (place !== b.$shape.place) return place - b.$shape.place
  // One that was taken back comes again under its id, after it has gone.
  if (a.$id === b.$id && drawn) return a.$live ? 1 : -1
  return drawn ? (a.$id < b.$id ? -1 : 1) : a.$number - b.$number
}

/** Who sees it as the inside of a JSON object; nothing where the viewer sees none of it. */
export function plainMembers(row: CompiledRow, viewer: string): string | undefined {
  const { everyone, owned, keyed } = row.$shape
  const all = everyone >= 0 ? row.$members(everyone) : undefined
  const isOwner = viewer === SERVER || (keyed && row.id === viewer)
  const own = owned >= 0 && isOwner ? row.$members(owned) : undefined
  return all !== undefined && own !== undefined ? `${all},${own}` : (all ?? own)
}
