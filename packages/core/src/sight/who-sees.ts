import { type Audience, anyOf, noViewers, reaches, SERVER } from '../cells/index.ts'
import type { CompiledRow, PolicyRow } from '../rows/index.ts'

/** Whoever sees anything of a row with these sights. */
export const presence = (sights: readonly Audience[]): Audience => anyOf(noViewers, ...sights)

/** True if a viewer sees anything of a row. */
export function seesRow(row: CompiledRow, viewer: string): boolean {
  if (viewer === SERVER) return row.$shape.isSeen
  const { byRow, everyone, owned } = row.$shape
  if (byRow) return isInSight((row as PolicyRow).$sights, viewer)
  return everyone >= 0 || (owned >= 0 && row.id === viewer)
}

/** True if a viewer sees a cell of a row, the cell itself and no mask of it. */
export function seesCell(row: CompiledRow, cell: string, viewer: string): boolean {
  const { byRow, facets, everyone, owned } = row.$shape
  const facet = facets.findIndex(({ names }) => names.includes(cell))
  if (facet < 0) return false
  if (viewer === SERVER) return true
  if (byRow) return reaches((row as PolicyRow).$sights[facet] ?? noViewers, viewer)
  return facet === everyone || (facet === owned && row.id === viewer)
}

/** True if a viewer sees anything of a row with these sights. */
export const isInSight = (sights: readonly Audience[], viewer: string): boolean =>
  sights.some((audience) => reaches(audience, viewer))

/** Returns the facets of a row that a viewer sees now, as bits. */
export const placeOf = (row: PolicyRow, viewer: string): number =>
  viewer === SERVER ? everything(row.$shape) : placed(row.$sights, viewer, row.$shape)

/** All cells, and those masks that stand for none. */
export const everything = ({ facets, masks }: PolicyRow['$shape']): number =>
  masks.reduce(
    (bits, { facet }, at) => (facet < 0 ? bits | (1 << (at + facets.length)) : bits),
    2 ** facets.length - 1,
  )

/** The facets that a viewer sees, as bits, and after them the masks that it gets: of cells that it does not see. */
export function placed(
  sights: readonly Audience[],
  viewer: string,
  { facets, masks }: PolicyRow['$shape'],
): number {
  let bits = 0
  for (let at = 0; at < sights.length; at++)
    if (reaches(sights[at] ?? noViewers, viewer)) {
      const masked = masks[at - facets.length]?.facet ?? -1
      if (masked < 0 || (bits & (1 << masked)) === 0) bits |= 1 << at
    }
  return bits
}
