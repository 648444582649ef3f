import type { Cells, Reach, Seat } from './cell.ts'
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
/** Rows that come and go. `Gap` is a sentence as long as something is wrong with it. */
export interface Table<F extends Cells, Gap extends string = never> {
  readonly part: 'table'
  readonly cells: F
  readonly span: Span
  readonly gap?: { readonly is: Gap }
  each(span: Span): Table<F, Gap>
}
/** A part of a rule's state. */
export type Part = {
  readonly part: 'perSeat' | 'single' | 'table'
  readonly cells: Cells
  readonly span: Span
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
): Table<
  F,
  [CellsSeenBy<F, 'owner'>] extends [never]
    ? never
    : 'the rows of a table have no owner: let everyone see the cell, or nobody'
> {
  return tableOf(cells, 'bout')
}
function tableOf<F extends Cells, Gap extends string>(cells: F, span: Span): Table<F, Gap> {
  return { part: 'table', cells, span, each: (other) => tableOf<F, Gap>(cells, other) }
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
