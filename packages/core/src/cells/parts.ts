import type { Audience, Seat } from './audience.ts'
import type { Cell, Cells } from './cell.ts'
import type { MarkOf, Row, Rows, Seats, Settled, WithId } from './row-types.ts'
import type { Reach, Sight, SightContext } from './sights.ts'

/** When cells go back to their initial values. Default: at each bout. */
export type Span = 'turn' | 'life' | 'round' | 'bout' | 'match'

/** Sight that depends on the row: for each cell, who sees it in this row. */
export type Policies = { readonly [cell: string]: (row: never, look: SightContext) => Audience }
type PolicyFor<F extends Cells> = {
  readonly [K in keyof F]?: (row: WithId<Settled<F>>, look: SightContext) => Audience
}
/** A misspelt cell of `seenWhen` is named where it is written. */
type Only<W, F> = { readonly [K in Exclude<keyof W, keyof F>]: never }
/** What viewers get in place of a cell that they may not see. It depends on the row alone. */
export interface Mask<Row = never> {
  /** Who gets it in place of the cell. */
  readonly to: Sight
  /** What it shows, computed from the row. */
  readonly as: (row: Row, look: SightContext) => string | number | boolean | null
}
/** What views show of a part besides its cells: computed from the row, and from anything else that the function reads. */
export type Derived<W> = {
  readonly derived?: {
    readonly is: {
      readonly [K in keyof W]: W[K] extends { readonly as: (...args: never) => infer R } ? R : never
    }
  }
}
export type Masks = { readonly [cell: string]: Mask }
type MaskFor<F extends Cells> = { readonly [K in keyof F]?: Mask<WithId<Settled<F>>> }
type Masked<F extends Cells, W> = {
  [K in keyof F]: W extends { readonly [P in K]: { readonly as: (row: never) => infer R } }
    ? Cell<F[K]['initial'], 'some', MarkOf<F[K]>> & { readonly masked?: { readonly is: R } }
    : F[K]
}
type SeenSome<F extends Cells, W> = {
  [K in keyof F]: K extends keyof W ? Cell<F[K]['initial'], 'some', MarkOf<F[K]>> : F[K]
}

/** One row for each seat. */
export interface PerSeat<F extends Cells> {
  /** Tells the kinds of parts apart. */
  readonly part: 'perSeat'
  /** The cells of each row. */
  readonly cells: F
  /** The span after which its cells go back to their initial values. */
  readonly span: Span
  /** Audiences of cells, for cells whose audience depends on the row. */
  readonly policies?: Policies
  /** Values shown in place of a cell, or in addition to the cells. */
  readonly masks?: Masks
  /** Says when its cells go back to their initial values. Default: 'bout'. */
  each(span: Span): PerSeat<F>
  /** Says who sees these cells of a row, by the row itself; its `id` is its seat. See {@link Table.seenWhen}. */
  seenWhen<W extends PolicyFor<F>>(when: W & Only<W, F>): PerSeat<SeenSome<F, W>>
  /** Says what others get in place of these cells. See {@link Table.maskedBy}. */
  maskedBy<W extends MaskFor<F>>(masks: W & Only<W, F>): PerSeat<Masked<F, W>>
  /** Says what views show besides these cells. See {@link Table.derives}. */
  derives<W extends { readonly [name: string]: Mask<WithId<Settled<F>>> }>(
    derived: W,
  ): PerSeat<F> & Derived<W>
}
/** One row for the match. */
export interface Single<F extends Cells> {
  /** Tells the kinds of parts apart. */
  readonly part: 'single'
  /** The cells of its only row. */
  readonly cells: F
  /** The span after which its cells go back to their initial values. */
  readonly span: Span
  /** Audiences of cells, for cells whose audience depends on the row. */
  readonly policies?: Policies
  /** Values shown in place of a cell, or in addition to the cells. */
  readonly masks?: Masks
  /** Says when its cells go back to their initial values. Default: 'bout'. */
  each(span: Span): Single<F>
  /** Says who sees these cells, by the row itself. See {@link Table.seenWhen}. */
  seenWhen<W extends PolicyFor<F>>(when: W & Only<W, F>): Single<SeenSome<F, W>>
  /** Says what others get in place of these cells. See {@link Table.maskedBy}. */
  maskedBy<W extends MaskFor<F>>(masks: W & Only<W, F>): Single<Masked<F, W>>
  /** Says what views show besides these cells. See {@link Table.derives}. */
  derives<W extends { readonly [name: string]: Mask<WithId<Settled<F>>> }>(derived: W): Single<F> & Derived<W>
}
/** Rows that handlers add and remove. `Gap` is a sentence as long as something is missing. */
export interface Table<F extends Cells, Gap extends string = never> {
  /** Tells the kinds of parts apart. */
  readonly part: 'table'
  /** The cells of each row. */
  readonly cells: F
  /** The span after which its rows are removed. */
  readonly span: Span
  /** The cell that names a row's owner. */
  readonly owner?: string
  /** Audiences of cells, for cells whose audience depends on the row. */
  readonly policies?: Policies
  /** Values shown in place of a cell, or in addition to the cells. */
  readonly masks?: Masks
  /** Cells by which rows can be found without scanning the table. */
  readonly indexed?: readonly string[]
  /** Known to types only. */
  readonly gap?: { readonly is: Gap }
  /** Says when its rows are removed. Default: 'bout'. */
  each(span: Span): Table<F, Gap>
  /** Makes `where` fast for these cells, however many rows there are. */
  indexedBy(...cells: readonly (keyof F & string)[]): Table<F, Gap>
  /** Names the seat cell that holds a row's owner. */
  ownedBy(cell: SeatCells<F>): Table<F>
  /**
   * Says who sees these cells of a row. Each function returns an audience. It may read its row and, through `look`,
   * seats, groups and other rules' calls. It runs again whenever something that it read has changed. It can't write,
   * and it can't read the time.
   */
  seenWhen<W extends PolicyFor<F>>(when: W & Only<W, F>): Table<SeenSome<F, W>, Gap>
  /**
   * Says what viewers get in place of cells that they may not see, such as a count: `{ cards: { to: everyone, as:
   * (hand) => hand.cards.length } }`. A viewer who gets a mask of a row knows that the row exists.
   */
  maskedBy<W extends MaskFor<F>>(masks: W & Only<W, F>): Table<Masked<F, W>, Gap>
  /**
   * Says what views show besides the cells: `{ total: { to: everyone, as: (row) => row.a + row.b } }`. It is computed
   * at the end of a step, and again whenever something that it read has changed. Handlers don't have it. Call it
   * last.
   */
  derives<W extends { readonly [name: string]: Mask<WithId<Settled<F>>> }>(
    derived: W,
  ): Table<F, Gap> & Derived<W>
}
type SeatCells<F extends Cells> = { [K in keyof F]: 'seat' extends MarkOf<F[K]> ? K : never }[keyof F] &
  string
/** A part of a rule's state. */
export type Part = {
  readonly part: 'perSeat' | 'single' | 'table'
  readonly cells: Cells
  readonly span: Span
  readonly owner?: string
  readonly policies?: Policies
  readonly masks?: Masks
  readonly indexed?: readonly string[]
}
/** The parts of a rule's state, by name. */
export type State = { readonly [part: string]: Part }

type Begins<F extends Cells> = {
  readonly [K in keyof F]: 'no-zero' extends MarkOf<F[K]>
    ? 'write its first value, or maybe(…): it has none of its own'
    : unknown
}
type CellsSeenBy<F extends Cells, R extends Reach> = {
  [K in keyof F]: R extends F[K]['reach'] ? K : never
}[keyof F] &
  string

/** State with one row for each seat, from the moment it joins. */
export function perSeat<F extends Cells>(cells: F & Begins<NoInfer<F>>): PerSeat<F> {
  return partOf<PerSeat<F>>({ part: 'perSeat', cells, span: 'bout' })
}

/** State with one row for the match. */
export function single<F extends Cells>(cells: F & Begins<NoInfer<F>>): Single<F> {
  return partOf<Single<F>>({ part: 'single', cells, span: 'bout' })
}

/** State in rows that handlers add and remove. */
export function table<F extends Cells>(
  cells: F,
): Table<F, [CellsSeenBy<F, 'owner'>] extends [never] ? never : "say whose the rows are: .ownedBy('…')"> {
  return partOf({ part: 'table', cells, span: 'bout' })
}

/** The one place where a part is made. The types of the three kinds are a promise that these methods keep. */
function partOf<P>(parts: Part): P {
  const made = {
    ...parts,
    each: (span: Span) => partOf({ ...parts, span }),
    ownedBy: (owner: string) => partOf({ ...parts, owner }),
    indexedBy: (...indexed: readonly string[]) => partOf({ ...parts, indexed }),
    seenWhen: (policies: Policies) => partOf({ ...parts, policies }),
    maskedBy: (masks: Masks) => partOf({ ...parts, masks: { ...parts.masks, ...masks } }),
    derives: (derived: Masks) => partOf({ ...parts, masks: { ...parts.masks, ...derived } }),
  }
  return made as object as P
}

/** A part that is not complete shows its sentence at its own name in `state`. */
export type Complete<St> = {
  readonly [K in keyof St]: St[K] extends { readonly gap?: { readonly is: infer Gap } }
    ? [Gap] extends [never]
      ? unknown
      : Gap
    : unknown
}

type Handle<P> = P extends { readonly part: infer Kind; readonly cells: infer F }
  ? Kind extends 'perSeat'
    ? Seats<Row<F>>
    : Kind extends 'table'
      ? Rows<F>
      : Row<F>
  : never
/** A rule's own state as its handlers hold it. */
export type Own<St> = St extends infer T ? { readonly [K in keyof T]: Handle<T[K]> } : never

interface SeenRows<F> {
  get(id: string): WithId<Settled<F>> | undefined
  all(): readonly WithId<Settled<F>>[]
  where(cells: Partial<Settled<F>>): readonly WithId<Settled<F>>[]
}
type Look<P> = P extends { readonly part: infer Kind; readonly cells: infer F }
  ? Kind extends 'perSeat'
    ? { of(seat: Seat): Settled<F> }
    : Kind extends 'table'
      ? SeenRows<F>
      : Settled<F>
  : never
/** A rule's state from outside: read-only. */
export type LookAt<St> = St extends infer T ? { readonly [K in keyof T]: Look<T[K]> } : never
