import { type CompiledRow, escapeInPath, nameFor, SERVER } from '../state/index.ts'
import type { PartPatch } from './part-patch.ts'

/** Any viewer without a seat: it knows a row of a plain table as everyone does. */
const ANYBODY = ''

/** Where a row is in a view under one of its ids. */
export const rowPath = ({ $shape: { path, keyed } }: CompiledRow, id: string): string =>
  keyed ? `${path}/${escapeInPath(id)}` : path

/** What a row is sorted by in a patch. */
export const sortKey = ({ $shape: { drawn }, $number }: CompiledRow, id: string): string | number =>
  drawn ? id : $number

/** Adds what has changed of a row whose sight does not depend on it: for everyone, and for its owner. */
export function tellPlainRow(row: CompiledRow, patch: PartPatch): void {
  const was = row.$told ? row.$idUnder(nameFor(row.$toldNames, ANYBODY)) : undefined
  const is = row.$live ? row.$idUnder(nameFor(row.$names, ANYBODY)) : undefined
  const { everyone } = row.$shape
  const to = everyone >= 0 ? undefined : [row.id]
  if (was !== undefined && was !== is)
    patch.remove(sortKey(row, was), `,{"op":"remove","path":"${rowPath(row, was)}"}`, to)
  if (is !== undefined) {
    if (was === is) changed(row, is, patch)
    else added(row, is, patch)
  }
  row.$told = row.$live
  if (row.$shape.drawn) row.$toldNames = row.$names
  row.$clean()
}

function changed(row: CompiledRow, id: string, patch: PartPatch): void {
  const { everyone, owned } = row.$shape
  const [path, key] = [rowPath(row, id), sortKey(row, id)]
  if (everyone >= 0) patch.change(key, row.$edit(everyone, 'replace', path))
  if (owned >= 0) patch.change(key, row.$edit(owned, 'replace', path), [row.id])
}

function added(row: CompiledRow, id: string, patch: PartPatch): void {
  const { everyone, owned } = row.$shape
  const [path, key] = [rowPath(row, id), sortKey(row, id)]
  const whole = (facet: number): string => `,{"op":"add","path":"${path}","value":{${row.$members(facet)}}}`
  if (everyone >= 0) patch.add(key, whole(everyone))
  if (owned >= 0) patch.add(key, everyone >= 0 ? row.$edit(owned, 'add', path) : whole(owned), [row.id])
}

/** Adds what the server is sent of a row; to be done before others are, which takes its marks off. */
export function tellServerOfPlainRow(row: CompiledRow, patch: PartPatch): void {
  const facets = [row.$shape.everyone, row.$shape.owned].filter((facet) => facet >= 0)
  const path = rowPath(row, row.id)
  const key = sortKey(row, row.id)
  if (row.$told && row.$live)
    patch.change(key, facets.map((facet) => row.$edit(facet, 'replace', path)).join(''))
  else if (row.$live) {
    const members = facets.map((facet) => row.$members(facet)).join(',')
    patch.add(key, `,{"op":"add","path":"${path}","value":{${members}}}`)
  } else if (row.$told) patch.remove(key, `,{"op":"remove","path":"${path}"}`)
}

/** Who sees it as the inside of a JSON object; nothing where the viewer sees none of it. */
export function plainMembers(row: CompiledRow, viewer: string): string | undefined {
  const { everyone, owned, keyed } = row.$shape
  const all = everyone >= 0 ? row.$members(everyone) : undefined
  const isOwner = viewer === SERVER || (keyed && row.id === viewer)
  const own = owned >= 0 && isOwner ? row.$members(owned) : undefined
  return all !== undefined && own !== undefined ? `${all},${own}` : (all ?? own)
}
