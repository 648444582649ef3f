import type { Audience } from './audience.ts'
import type { Cell, Cells, Reach, Seat } from './cell.ts'
import type { MarkOf, Row, Rows, Seats, Settled, WithId } from './rows.ts'

/** Cells go back to their first values when a new one begins; nothing said: each bout. */
export type Span = 'life' | 'round' | 'bout' | 'match'

/** One row for each seat. */
export interface PerSeat<F extends Cells> {
  readonly part: 'perSeat'
  readonly cells: F
  readonly span: Span
  each(span: Span): PerSeat<F>
}
/** One row for the match. */
export interface Single<F extends Cells> {
  readonly part: 'single'
  readonly cells: F
  readonly span: Span
  each(span: Span): Single<F>
}
/** Sight that depends on the row: for a cell, who sees it of this row. */
export type Policies = { readonly [cell: string]: (row: never) => Audience }
/** Rows that come and go. `Gap` is a sentence as long as something is left to say. */
export interface Table<F extends Cells, Gap extends string = never> {
  readonly part: 'table'
  readonly cells: F
  readonly span: Span
  readonly owner?: string
  readonly policies?: Policies
  readonly indexed?: readonly string[]
  readonly gap?: { readonly is: Gap }
  each(span: Span): Table<F, Gap>
  /** Makes `where` quick for these cells, however many rows there are. */
  indexedBy(...cells: readonly (keyof F & string)[]): Table<F, Gap>
  /** The seat cell that says whose a row is. */
  ownedBy(cell: SeatCells<F>): Table<F>
  /**
   * Who sees these cells of a row, by the row itself: each function returns an audience. It reads its row and nothing
   * else, and runs again whenever the row has changed; it may neither write nor read the time.
   */
  seenWhen<W extends { readonly [K in keyof F]?: (row: WithId<Settled<F>>) => Audience }>(
    when: W & { readonly [K in Exclude<keyof W, keyof F>]: never },
  ): Table<{ [K in keyof F]: K extends keyof W ? Cell<F[K]['initial'], 'some', MarkOf<F[K]>> : F[K] }, Gap>
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
  readonly indexed?: readonly string[]
}
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

/** State of which each seat has its own. It stands from the seat's joining on. */
export function perSeat<F extends Cells>(cells: F & Begins<NoInfer<F>>): PerSeat<F> {
  return perSeatOf<F>(cells, 'bout')
}
function perSeatOf<F extends Cells>(cells: F, span: Span): PerSeat<F> {
  return { part: 'perSeat', cells, span, each: (other) => perSeatOf<F>(cells, other) }
}

/** State of which the match has one. */
export function single<F extends Cells>(cells: F & Begins<NoInfer<F>>): Single<F> {
  return singleOf<F>(cells, 'bout')
}
function singleOf<F extends Cells>(cells: F, span: Span): Single<F> {
  return { part: 'single', cells, span, each: (other) => singleOf<F>(cells, other) }
}

/** Rows that handlers add and remove. */
export function table<F extends Cells>(
  cells: F,
): Table<F, [CellsSeenBy<F, 'owner'>] extends [never] ? never : "say whose the rows are: .ownedBy('…')"> {
  return tableOf({ cells, span: 'bout' })
}
interface TableParts {
  readonly cells: Cells
  readonly span: Span
  readonly owner?: string
  readonly policies?: Policies
  readonly indexed?: readonly string[]
}
/** The one place where a table is made; its type parameters are a promise that the words below keep. */
function tableOf<F extends Cells, Gap extends string>(parts: TableParts): Table<F, Gap> {
  const made = {
    part: 'table',
    ...parts,
    each: (span: Span) => tableOf({ ...parts, span }),
    ownedBy: (owner: string) => tableOf({ ...parts, owner }),
    indexedBy: (...indexed: readonly string[]) => tableOf({ ...parts, indexed }),
    seenWhen: (policies: Policies) => tableOf({ ...parts, policies }),
  }
  return made as object as Table<F, Gap>
}

/** A part that is not whole shows its sentence at its own name in `state`. */
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
/** A rule's state from outside: to be read only. */
export type LookAt<St> = St extends infer T ? { readonly [K in keyof T]: Look<T[K]> } : never
