import {
  type Audience,
  anyOf,
  type CompiledRow,
  escapeInPath,
  MOST_FACETS,
  noViewers,
  type PolicyRow,
  reaches,
  SERVER,
} from '../state/index.ts'
import type { NamedRows } from './named-rows.ts'
import type { Outbox } from './outbox.ts'

const POSITIONS = 2 ** MOST_FACETS

/** Whoever sees anything of a row with these sights. */
export const presence = (sights: readonly Audience[]): Audience => anyOf(noViewers, ...sights)

/** Whether a viewer sees anything of a row. */
export function seesRow(row: CompiledRow, viewer: string): boolean {
  if (viewer === SERVER) return row.$shape.isSeen
  const { byRow, everyone, owned } = row.$shape
  if (byRow) return (row as PolicyRow).$sights.some((audience) => reaches(audience, viewer))
  return everyone >= 0 || (owned >= 0 && row.id === viewer)
}

/** What a viewer sees of a row now. */
export const placeOf = (row: PolicyRow, viewer: string): number =>
  viewer === SERVER ? everything(row.$shape) : placed(row.$sights, viewer, row.$shape)

/** All cells, and those masks that stand for none. */
const everything = ({ facets, masks }: PolicyRow['$shape']): number =>
  masks.reduce(
    (bits, { facet }, at) => (facet < 0 ? bits | (1 << (at + facets.length)) : bits),
    2 ** facets.length - 1,
  )

/** The members of a row that a viewer sees, as the inside of a JSON object; nothing where it sees none. */
export function membersFor(row: PolicyRow, viewer: string, named: NamedRows): string | undefined {
  const facets = placeOf(row, viewer)
  return facets === 0 ? undefined : membersOf(row, facets, named.texts(row, facets, viewer))
}

/**
 * Tells each viewer what has changed of a row: whole where it appears, gone where it vanishes, and between them a
 * removal or an addition for each cell that it lost or gained. Viewers in the same position share the text.
 */
export function tellRow(row: PolicyRow, viewers: Iterable<string>, outbox: Outbox, named: NamedRows): void {
  const before = row.$told ? row.$toldSights : []
  const after = row.$live ? row.$sights : []
  const change = new RowChange(row, row.$told ? row.$toldId : row.id)
  if (named.concerns(row))
    for (const viewer of viewers) {
      const facets = placed(after, viewer, row.$shape)
      const texts = named.texts(row, facets, viewer)
      outbox.only(
        viewer,
        change.write(placed(before, viewer, row.$shape), facets, texts, named.told(row, viewer)),
      )
      named.tell(row, viewer, texts)
    }
  else if (isPlain(before) && isPlain(after))
    outbox.everyone(change.text(placed(before, '', row.$shape), placed(after, '', row.$shape)))
  else
    for (const viewer of concerned(before, after) ?? viewers)
      outbox.only(viewer, change.text(placed(before, viewer, row.$shape), placed(after, viewer, row.$shape)))
  row.$told = row.$live
  row.$toldSights = after
  row.$toldMasks = row.$masks
  row.$toldId = row.id
  row.$clean()
}

/** What the server is told of a row; to be done before others are told, which takes its marks off. */
export function tellServerOfRow(row: PolicyRow, outbox: Outbox, named: NamedRows): void {
  const all = everything(row.$shape)
  const facets = row.$live ? all : 0
  const texts = named.texts(row, facets, SERVER)
  const change = new RowChange(row, row.$told ? row.$toldId : row.id)
  outbox.everyone(change.write(row.$told ? all : 0, facets, texts, named.told(row, SERVER)))
  named.tell(row, SERVER, texts)
}

/** The only seats that see anything before or after; nothing where a sight is for all but some. */
function concerned(before: readonly Audience[], after: readonly Audience[]): ReadonlySet<string> | undefined {
  const seats = new Set<string>()
  for (const sights of [before, after])
    for (const { all, seats: named } of sights) {
      if (all) return undefined
      for (const seat of named) seats.add(seat)
    }
  return seats
}

/** Whether all viewers are in the same position. */
const isPlain = (sights: readonly Audience[]): boolean => sights.every(({ seats }) => seats.size === 0)

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

/** What a viewer gets of the cells that name rows, by cell. */
type Texts = ReadonlyMap<string, string>
const none: Texts = new Map()

function membersOf(row: PolicyRow, facets: number, texts: Texts): string {
  const shared = row.$shape.facets.map((_, facet) => (facets & (1 << facet) ? row.$members(facet) : ''))
  const named = [...texts].map(([cell, text]) => `"${cell}":${text}`)
  const masks = row.$shape.masks.map(({ name }, at) =>
    facets & (1 << (at + shared.length)) ? `"${name}":${row.$masks[at]}` : '',
  )
  return [...shared, ...named, ...masks].filter((text) => text !== '').join(',')
}

class RowChange {
  private readonly row: PolicyRow
  private readonly oldPath: string
  private readonly newPath: string
  private readonly renamed: boolean
  private readonly shared: Map<number, string> = new Map()

  constructor(row: PolicyRow, toldId: string) {
    const { path, keyed } = row.$shape
    const at = (id: string): string => (keyed ? `${path}/${escapeInPath(id)}` : path)
    this.row = row
    this.oldPath = at(toldId)
    this.newPath = at(row.id)
    this.renamed = toldId !== row.id
  }

  /** The same for all viewers in one position, where no cell names rows. */
  text(before: number, after: number): string {
    const position = before * POSITIONS + after
    const known = this.shared.get(position)
    if (known !== undefined) return known
    const text = this.write(before, after, none, none)
    this.shared.set(position, text)
    return text
  }

  write(before: number, after: number, texts: Texts, told: Texts): string {
    if (before === 0 && after === 0) return ''
    if (this.row.$shape.keyed) {
      const removal = `,{"op":"remove","path":"${this.oldPath}"}`
      const whole = (): string =>
        `,{"op":"add","path":"${this.newPath}","value":{${membersOf(this.row, after, texts)}}}`
      if (before === 0) return whole()
      if (after === 0) return removal
      if (this.renamed) return removal + whole()
    }
    return this.cells(before, after) + this.named(texts, told) + this.masks(before, after)
  }

  private cells(before: number, after: number): string {
    const { row } = this
    return row.$shape.facets
      .map((_, facet) => {
        const [had, has] = [before & (1 << facet), after & (1 << facet)]
        if (had && has) return row.$edit(facet, 'replace')
        if (has) return row.$edit(facet, 'add')
        return had ? row.$drop(facet) : ''
      })
      .join('')
  }

  /** A mask comes after the cell that it stands for has gone; where the cell has come, it has taken the mask's place. */
  private masks(before: number, after: number): string {
    const { row } = this
    return row.$shape.masks
      .map(({ name, facet }, at) => {
        const bit = 1 << (at + row.$shape.facets.length)
        const text = row.$masks[at] ?? 'null'
        if (after & bit && before & bit)
          return text === row.$toldMasks[at] ? '' : this.operation('replace', name, text)
        if (after & bit) return this.operation('add', name, text)
        return before & bit && (facet < 0 || (after & (1 << facet)) === 0)
          ? this.operation('remove', name)
          : ''
      })
      .join('')
  }

  private operation(op: string, cell: string, text?: string): string {
    return `,{"op":"${op}","path":"${this.newPath}/${cell}"${text === undefined ? '' : `,"value":${text}`}}`
  }

  private named(texts: Texts, told: Texts): string {
    const operation = this.operation.bind(this)
    const lost = [...told.keys()].filter((cell) => !texts.has(cell)).map((cell) => operation('remove', cell))
    const come = [...texts].map(([cell, text]) => {
      const before = told.get(cell)
      return before === text ? '' : operation(before === undefined ? 'add' : 'replace', cell, text)
    })
    return [...lost, ...come].join('')
  }
}
