import { SERVER } from '../cells/index.ts'
import { type CompiledRow, INNER, nameFor } from '../rows/index.ts'
import { mergedRow } from './merge-box.ts'
import type { Boxes, PartPatch } from './part-patch.ts'

/** Any viewer without a seat: it knows a row of a plain table as everyone does. */
const ANYBODY = ''

/** Returns the key that sorts a row in a patch: the id that viewers know, or its seat's number. */
export const sortKey = (row: CompiledRow, name: number): string | number =>
  row.$shape.drawn ? row.$idUnder(name) : row.$number

/** Adds what has changed of a row whose sight does not depend on it: for everyone, and for its owner. */
export function writePlainRow(row: CompiledRow, patch: PartPatch): void {
  const { drawn, everyone } = row.$shape
  const was = drawn ? nameFor(row.$sentNames, ANYBODY) : 0
  const is = drawn ? nameFor(row.$names, ANYBODY) : 0
  if (row.$sent && row.$live && was === is) changed(row, is, patch)
  else {
    const to = everyone >= 0 ? undefined : [row.id]
    if (row.$sent) patch.remove(sortKey(row, was), removal(row.$pathUnder(was)), to)
    if (row.$live) added(row, is, patch)
  }
  row.$sent = row.$live
  if (drawn) row.$sentNames = row.$names
  row.$clean()
}

/** True if everyone knows the row, under the same name as before: only its cells can have changed. */
export const isSteady = (row: CompiledRow): boolean =>
  row.$sent && row.$live && (!row.$shape.drawn || row.$sentNames === row.$names)

/** Writes what has changed of steady rows, in the order of their ids or seats: what most flushes are about. */
export function writeSteadyRows(rows: readonly CompiledRow[], { patches, merges }: Boxes): void {
  const [first] = rows
  const latest = first?.$shape.merges === true ? merges.part(first.$shape) : undefined
  for (const row of first?.$shape.drawn === true ? byId(rows) : rows) {
    const { everyone, owned } = row.$shape
    const name = nameOf(row)
    const path = row.$pathUnder(name)
    if (everyone >= 0) patches.everyone(row.$edit(everyone, 'replace', path))
    if (owned >= 0) patches.only(row.id, row.$edit(owned, 'replace', path))
    latest?.everyone(mergedRow(row, name, row.$merged(everyone)))
    row.$clean()
  }
}

const nameOf = (row: CompiledRow): number => (row.$shape.drawn ? nameFor(row.$names, ANYBODY) : 0)

/** Part by part, and in each by the numbers of the rows: those of seats. */
export const inSendingOrder = (a: CompiledRow, b: CompiledRow): number =>
  a.$shape.place - b.$shape.place || a.$number - b.$number

/** Rows of a table by the ids that all viewers know: their numbers would tell in which order they were made. */
function byId(rows: readonly CompiledRow[]): readonly CompiledRow[] {
  const keyed = rows.map((row) => ({ row, id: row.$idUnder(nameOf(row)) }))
  return keyed.sort((a, b) => (a.id < b.id ? -1 : 1)).map(({ row }) => row)
}

export const removal = (path: string): string => `,{"op":"remove","path":"${path}"}`
export const addition = (path: string, members: string): string =>
  `,{"op":"add","path":"${path}","value":{${members}}}`

function changed(row: CompiledRow, name: number, patch: PartPatch): void {
  const { everyone, owned } = row.$shape
  const path = row.$pathUnder(name)
  const key = sortKey(row, name)
  if (everyone >= 0) patch.change(key, row.$edit(everyone, 'replace', path))
  if (owned >= 0) patch.change(key, row.$edit(owned, 'replace', path), [row.id])
  if (row.$shape.merges) patch.merge(key, mergedRow(row, name, row.$merged(everyone)))
}

function added(row: CompiledRow, name: number, patch: PartPatch): void {
  const { everyone, owned } = row.$shape
  const path = row.$pathUnder(name)
  const key = sortKey(row, name)
  if (everyone >= 0) patch.add(key, addition(path, row.$members(everyone)))
  if (owned < 0) return
  const own = everyone >= 0 ? row.$edit(owned, 'add', path) : addition(path, row.$members(owned))
  patch.add(key, own, [row.id])
}

/** Adds the server's part of a row. Call it before the other viewers get theirs, which clears the row's marks. */
export function writePlainRowForServer(row: CompiledRow, patch: PartPatch): void {
  const facets = [row.$shape.everyone, row.$shape.owned].filter((facet) => facet >= 0)
  const path = row.$pathUnder(INNER)
  const key = sortKey(row, INNER)
  if (row.$sent && row.$live) {
    patch.change(key, facets.map((facet) => row.$edit(facet, 'replace', path)).join(''))
    if (row.$shape.merges) patch.merge(key, mergedRow(row, INNER, row.$merged(row.$shape.everyone)))
  } else if (row.$live) patch.add(key, addition(path, facets.map((facet) => row.$members(facet)).join(',')))
  else if (row.$sent) patch.remove(key, removal(path))
}

/** Returns the cells that a viewer sees as the inside of a JSON object, or nothing if it sees none. */
export function plainMembers(row: CompiledRow, viewer: string): string | undefined {
  const { everyone, owned, keyed } = row.$shape
  const all = everyone >= 0 ? row.$members(everyone) : undefined
  const isOwner = viewer === SERVER || (keyed && row.id === viewer)
  const own = owned >= 0 && isOwner ? row.$members(owned) : undefined
  return all !== undefined && own !== undefined ? `${all},${own}` : (all ?? own)
}
