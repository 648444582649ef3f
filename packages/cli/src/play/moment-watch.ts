import type { AnyMatch, Seat } from 'zinc-referee'
import { builtIn, type CellAt, cellsOf, shownIn } from '../print/cell-paths.ts'

export const SPECTATOR = 'spectator'
/** Moments before this one are not compared. */
const FIRST_MOMENT = 30_000
const MOMENT_EVERY = 2000
const MAX_CELLS = 7
/** Built-in rules whose cells are only interesting if somebody sees them. */
const secretive: ReadonlySet<string> = new Set(['areas', 'zones', 'errands', 'roles'])

/** One moment, as the server knew it and as viewers saw it. */
export interface Moment {
  readonly at: number
  readonly viewers: readonly string[]
  readonly cells: readonly {
    readonly path: string
    readonly server: unknown
    readonly seen: readonly (unknown | { readonly hidden: true })[]
  }[]
}
/** Keeps the moment at which two seats hide the most from each other. */
export class MomentWatch {
  best: Moment | undefined
  private most = 0
  private next = FIRST_MOMENT
  private readonly match: AnyMatch
  private readonly viewers: readonly string[]
  private readonly nothing: ReadonlyMap<string, unknown>

  constructor(match: AnyMatch, seats: readonly Seat[]) {
    this.match = match
    this.viewers = [...seats, SPECTATOR]
    this.nothing = new Map(this.hideable(match.view(SPECTATOR)).map(({ path, value }) => [path, value]))
  }

  look(): void {
    if (this.match.now < this.next) return
    this.next = this.match.now + MOMENT_EVERY
    const views = this.viewers.map((viewer) => this.match.view(viewer))
    const telling = this.hideable(views.at(-1) ?? {})
      .filter(({ path, value }) => JSON.stringify(value) !== JSON.stringify(this.nothing.get(path)))
      .map((cell) => ({ cell, eyes: views.filter((view) => !shownIn(view, cell).hidden).length }))
      .filter(({ cell, eyes }) => eyes > 0 || !secretive.has(cell.rule))
      .sort((a, b) => b.eyes - a.eyes)
    // A cell that one seat sees and another does not is more interesting than one that nobody sees.
    const weight = telling.reduce((sum, { eyes }) => sum + (eyes > 0 ? 3 : 1), 0)
    if (weight <= this.most) return
    this.most = weight
    this.best = this.moment(
      telling.map(({ cell }) => cell),
      views,
    )
  }

  /** Returns the cells of the watched seats that are hidden from a spectator, without bookkeeping. */
  private hideable(spectator: object): CellAt[] {
    return cellsOf(this.match).filter(
      (cell) =>
        cell.seat !== undefined &&
        this.viewers.includes(cell.seat) &&
        (!builtIn.has(cell.rule) || secretive.has(cell.rule)) &&
        shownIn(spectator, cell).hidden,
    )
  }

  private moment(telling: readonly CellAt[], views: readonly object[]): Moment {
    const open = cellsOf(this.match).filter(
      ({ seat, cell }) => seat === this.viewers[0] && (cell === 'health' || cell === 'score'),
    )
    const cells = [...open, ...telling.slice(0, MAX_CELLS - open.length)].map((cell) => ({
      path: cell.path,
      server: cell.value ?? null,
      seen: views.map((view) => {
        const shown = shownIn(view, cell)
        return shown.hidden ? shown : shown.value
      }),
    }))
    return { at: this.match.now, viewers: this.viewers, cells }
  }
}
