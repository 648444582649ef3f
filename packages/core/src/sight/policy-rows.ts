import { type Audience, SERVER } from '../cells/index.ts'
import { INNER, isOneName, MAX_FACETS, nameFor, type PolicyRow } from '../rows/index.ts'
import { mergedRow } from './merge-box.ts'
import type { NamedRows } from './named-rows.ts'
import type { PartPatch } from './part-patch.ts'
import { addition, removal, sortKey } from './plain-rows.ts'
import { everything, placed, placeOf } from './who-sees.ts'

const POSITIONS = 2 ** MAX_FACETS

/** Returns the members of a row that a viewer sees as the inside of a JSON object, or nothing if it sees none. */
export function membersFor(row: PolicyRow, viewer: string, named: NamedRows): string | undefined {
  const facets = placeOf(row, viewer)
  return facets === 0 ? undefined : membersOf(row, facets, named.texts(row, facets, viewer))
}

/**
 * Adds what each viewer is sent of a row: whole where it appears, gone where it vanishes, and between them a removal or
 * an addition for each cell that it lost or gained. Viewers who knew and know the row alike share the text.
 */
export function writeRow(
  row: PolicyRow,
  viewers: Iterable<string>,
  patch: PartPatch,
  named: NamedRows,
): void {
  const before = row.$sent ? row.$sentSights : []
  const after = row.$live ? row.$sights : []
  const change = new RowChange(row, patch)
  if (named.concerns(row))
    for (const viewer of viewers) {
      const facets = placed(after, viewer, row.$shape)
      const texts = named.texts(row, facets, viewer)
      const place = change.place(viewer, placed(before, viewer, row.$shape), facets)
      change.write(place, texts, named.sentTo(row, viewer), [viewer])
      named.noteSent(row, viewer, texts)
    }
  else if (isPlain(before) && isPlain(after) && knownAlike(row))
    change.write(change.place('', placed(before, '', row.$shape), placed(after, '', row.$shape)), none, none)
  else
    for (const viewer of concerned(before, after) ?? viewers)
      change.share(viewer, placed(before, viewer, row.$shape), placed(after, viewer, row.$shape))
  row.$sent = row.$live
  row.$sentSights = after
  row.$sentMasks = row.$masks
  if (row.$shape.drawn) row.$sentNames = row.$names
  row.$clean()
}

/** Adds the server's part of a row. Call it before the other viewers get theirs, which clears the row's marks. */
export function writeRowForServer(row: PolicyRow, patch: PartPatch, named: NamedRows): void {
  const all = everything(row.$shape)
  const facets = row.$live ? all : 0
  const texts = named.texts(row, facets, SERVER)
  const place = { before: row.$sent ? all : 0, after: facets, was: INNER, is: INNER }
  new RowChange(row, patch).write(place, texts, named.sentTo(row, SERVER))
  named.noteSent(row, SERVER, texts)
}

/** True if all viewers know the row by one name, now and when they were last sent it. */
const knownAlike = ({ $shape, $sentNames, $names }: PolicyRow): boolean =>
  !$shape.drawn || (isOneName($sentNames) && isOneName($names))

/** Returns the only seats that see anything before or after, or nothing if a sight covers everyone but some. */
function concerned(before: readonly Audience[], after: readonly Audience[]): ReadonlySet<string> | undefined {
  const seats = new Set<string>()
  for (const sights of [before, after])
    for (const { all, seats: named } of sights) {
      if (all) return undefined
      for (const seat of named) seats.add(seat)
    }
  return seats
}

/** True if all viewers are in the same position. */
const isPlain = (sights: readonly Audience[]): boolean => sights.every(({ seats }) => seats.size === 0)

/** By cell: the text that a viewer gets of a cell that names rows. */
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

/** A viewer's knowledge of a row before and now, and the names it knows it by. */
interface Known {
  readonly before: number
  readonly after: number
  readonly was: number
  readonly is: number
}

class RowChange {
  private readonly row: PolicyRow
  private readonly patch: PartPatch
  /** Viewers who are sent the same, by what they knew and know. */
  private readonly alike: Map<string | number, string[]> = new Map()

  constructor(row: PolicyRow, patch: PartPatch) {
    this.row = row
    this.patch = patch
  }

  place(viewer: string, before: number, after: number): Known {
    const { $shape, $sentNames, $names } = this.row
    return $shape.drawn
      ? { before, after, was: nameFor($sentNames, viewer), is: nameFor($names, viewer) }
      : { before, after, was: 0, is: 0 }
  }

  /** Adds the same for all viewers that are alike, where no cell names rows. */
  share(viewer: string, before: number, after: number): void {
    if (before === 0 && after === 0) return
    const { $shape, $sentNames, $names } = this.row
    const hasNames = $shape.drawn && ($sentNames ?? $names) !== undefined
    const key = hasNames
      ? `${before} ${after} ${nameFor($sentNames, viewer)} ${nameFor($names, viewer)}`
      : before * POSITIONS + after
    const alike = this.alike.get(key)
    if (alike !== undefined) {
      alike.push(viewer)
      return
    }
    const to = [viewer]
    this.alike.set(key, to)
    this.write(this.place(viewer, before, after), none, none, to)
  }

  write({ before, after, was, is }: Known, texts: Texts, sent: Texts, to?: readonly string[]): void {
    if (before === 0 && after === 0) return
    const { row, patch } = this
    if (row.$shape.keyed && (before === 0 || after === 0 || was !== is)) {
      if (before !== 0) patch.remove(sortKey(row, was), removal(row.$pathUnder(was)), to)
      if (after === 0) return
      patch.add(sortKey(row, is), addition(row.$pathUnder(is), membersOf(row, after, texts)), to)
      return
    }
    const path = row.$pathUnder(is)
    const edits =
      this.cells(before, after, path) + this.named(texts, sent, path) + this.masks(before, after, path)
    patch.change(sortKey(row, is), edits, to)
    if (row.$shape.merges) patch.merge(sortKey(row, is), mergedRow(row, is, this.merged(before & after)), to)
  }

  private merged(facets: number): string {
    const { row } = this
    return row.$shape.facets.map((_, facet) => (facets & (1 << facet) ? row.$merged(facet) : '')).join('')
  }

  private cells(before: number, after: number, path: string): string {
    const { row } = this
    return row.$shape.facets
      .map((_, facet) => {
        const [had, has] = [before & (1 << facet), after & (1 << facet)]
        if (had && has) return row.$edit(facet, 'replace', path)
        if (has) return row.$edit(facet, 'add', path)
        return had ? row.$drop(facet, path) : ''
      })
      .join('')
  }

  /** A mask comes once the cell that it replaces has gone. When the cell comes back, it takes the mask's place. */
  private masks(before: number, after: number, path: string): string {
    const { row } = this
    return row.$shape.masks
      .map(({ name, facet }, at) => {
        const bit = 1 << (at + row.$shape.facets.length)
        const text = row.$masks[at] ?? 'null'
        if (after & bit && before & bit)
          return text === row.$sentMasks[at] ? '' : operation('replace', path, name, text)
        if (after & bit) return operation('add', path, name, text)
        return before & bit && (facet < 0 || (after & (1 << facet)) === 0)
          ? operation('remove', path, name)
          : ''
      })
      .join('')
  }

  private named(texts: Texts, sent: Texts, path: string): string {
    const lost = [...sent.keys()]
      .filter((cell) => !texts.has(cell))
      .map((cell) => operation('remove', path, cell))
    const come = [...texts].map(([cell, text]) => {
      const before = sent.get(cell)
      return before === text ? '' : operation(before === undefined ? 'add' : 'replace', path, cell, text)
    })
    return [...lost, ...come].join('')
  }
}

const operation = (op: string, path: string, cell: string, text?: string): string =>
  `,{"op":"${op}","path":"${path}/${cell}"${text === undefined ? '' : `,"value":${text}`}}`
