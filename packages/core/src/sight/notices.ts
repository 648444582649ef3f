import { type Audience, reaches, SERVER, withEach } from '../cells/index.ts'
import type { EventFacet, EventReference } from '../plan/index.ts'
import { type CompiledRow, idFor, nameFor, type PolicyRow, type RowNames, type Store } from '../rows/index.ts'
import { isInSight, seesRow } from './who-sees.ts'

/** Something that happened, sent to the viewers who may know it. */
export interface Notice {
  /** The event's name, such as `credit.given`. */
  readonly name: string
  /** Match time (ms) at which it happened, and at which a client takes it off its screen. */
  readonly at: number
  /** Match time at which a client takes it off its screen, ms. */
  readonly until: number
  /** The cells of the event that the viewer may know. */
  readonly cells: { readonly [cell: string]: unknown }
}

/** A row as it was seen when something happened to it. */
interface SeenRow {
  readonly row: CompiledRow
  readonly sights: readonly Audience[]
  readonly names: RowNames | undefined
}

/** Something that happened as a snapshot has it, for as long as its notices last. */
export interface SavedNotice {
  readonly name: string
  readonly at: number
  readonly step: number
  readonly players: number
  readonly cells: { readonly [cell: string]: unknown }
  /** By facet; undefined if everyone gets all of it. */
  readonly audiences?: readonly { readonly all: boolean; readonly seats: readonly string[] }[]
}

const noRows: ReadonlyMap<unknown, SeenRow> = new Map()

/** Something that happened, with its viewers and values fixed: each gets a notice of what it may know. */
export class PendingNotice {
  /** The number of the step in which it happened. */
  readonly step: number
  private readonly kind: NoticeKind
  private readonly at: number
  /** Players with this number or a higher one were not there when it happened. */
  readonly players: number
  private readonly event: Notice['cells']
  /** By facet, who gets it; undefined if everyone gets all of it. */
  private readonly audiences: readonly Audience[] | undefined
  /** By inner id, the rows that it names. */
  private readonly rows: ReadonlyMap<unknown, SeenRow> | undefined
  /** The notice that was made last, for those who see the same facets. */
  private made: { readonly seen: number; readonly notice: Notice } | undefined

  constructor(
    kind: NoticeKind,
    at: number,
    step: number,
    players: number,
    event: Notice['cells'],
    audiences: readonly Audience[] | undefined,
    store: Store,
  ) {
    this.kind = kind
    this.at = at
    this.step = step
    this.players = players
    this.event = event
    this.audiences = audiences
    this.rows = kind.references.length === 0 ? undefined : rowsNamed(kind.references, event, store)
    this.made = undefined
  }

  get name(): string {
    return this.kind.name
  }

  /** Rows are left out: who saw which when it happened is not known any more once it is restored. */
  save(): SavedNotice {
    const { name, at, step, players, event, audiences, kind } = this
    const named = new Set(kind.references.map((reference) => reference.name))
    const cells = Object.fromEntries(Object.entries(event).filter(([cell]) => !named.has(cell)))
    const reached = audiences?.map(({ all, seats }) => ({ all, seats: [...seats] }))
    return { name, at, step, players, cells, ...(reached && { audiences: reached }) }
  }

  /** Makes a saved notice of the same event. Steps before the restore are numbered from -1 down. */
  static restored(kind: NoticeKind, saved: SavedNotice, step: number, store: Store): PendingNotice {
    const audiences = saved.audiences?.map(({ all, seats }) => ({ all, seats: new Set(seats) }))
    return new PendingNotice(kind, saved.at, step, saved.players, saved.cells, audiences, store)
  }

  get until(): number {
    return this.at + this.kind.lasts
  }

  /** True if viewers who come while it lasts get it too. */
  get later(): boolean {
    return this.kind.later
  }

  /**
   * Returns one viewer's part of it, or nothing if the viewer may know nothing of it. `player` is the number of the
   * player in its seat, or 0. `knows`: the viewer has rows in view.
   */
  for(viewer: string, player: number, knows = true): Notice | undefined {
    if (player >= this.players) return undefined
    const seen =
      (viewer === SERVER ? undefined : this.audiences)?.reduce(
        (bits, audience, at) => (reaches(audience, viewer) ? bits | (1 << at) : bits),
        0,
      ) ?? -1
    if (seen === 0) return undefined
    if (this.rows !== undefined) return this.notice(seen, this.withIds(knows ? this.rows : noRows, viewer))
    if (this.made?.seen !== seen) this.made = { seen, notice: this.notice(seen, this.event) }
    return this.made.notice
  }

  /** True if all viewers who were there get the same notice. */
  get isForAll(): boolean {
    return this.audiences === undefined && this.rows === undefined
  }

  /** Returns the part that everyone gets. */
  forAll(): Notice {
    this.made ??= { seen: -1, notice: this.notice(-1, this.event) }
    return this.made.notice
  }

  /** Lets go of what can be made again. */
  rest(): void {
    this.made = undefined
  }

  private notice(seen: number, event: Notice['cells']): Notice {
    const cells: Record<string, unknown> = {}
    for (const [at, { names }] of this.kind.facets.entries())
      if (seen & (1 << at)) for (const name of names) cells[name] = event[name] ?? null
    return { name: this.name, at: this.at, until: this.until, cells }
  }

  /**
   * The event with rows by the ids that the viewer knows. It knows a row here only if it has seen it since: with an id
   * that it got later, it could follow the row to where it has gone.
   */
  private withIds(rows: ReadonlyMap<unknown, SeenRow>, viewer: string): Notice['cells'] {
    if (viewer === SERVER) return this.event
    const idOf = (inner: unknown): string | undefined => {
      const seen = rows.get(inner)
      if (seen === undefined) return undefined
      const { row, sights, names } = seen
      const wasSeen = row.$shape.byRow ? isInSight(sights, viewer) : seesRow(row, viewer)
      const isKnown = row.$live && wasSeen && seesRow(row, viewer)
      return isKnown && nameFor(names, viewer) === nameFor(row.$names, viewer)
        ? idFor(row, viewer)
        : undefined
    }
    const cells = { ...this.event }
    for (const { name, cell } of this.kind.references)
      if (cells[name] !== undefined) cells[name] = withEach(cell, cells[name], idOf)
    return cells
  }
}

/** Declarations of an event that its notices need. */
interface NoticeKind {
  readonly name: string
  readonly lasts: number
  readonly later: boolean
  readonly facets: readonly EventFacet[]
  readonly references: readonly EventReference[]
}

/** The rows that an event names, as they are seen now that its step has settled. */
function rowsNamed(
  references: readonly EventReference[],
  event: Notice['cells'],
  store: Store,
): ReadonlyMap<unknown, SeenRow> {
  const rows = new Map<unknown, SeenRow>()
  for (const { name, cell, table } of references)
    if (event[name] !== undefined)
      withEach(cell, event[name], (id) => {
        const row = store.tables.get(table)?.get(String(id))
        if (row !== undefined)
          rows.set(id, { row, sights: row.$shape.byRow ? (row as PolicyRow).$sights : [], names: row.$names })
        return id
      })
  return rows
}
