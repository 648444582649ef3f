import type { Cells } from './cell.ts'

// The `infer` step in these makes hovers and errors show `{ cargo: number }` instead of `Row<{ cargo: Cell<number, …> }>`.

/** A row as the rule's own handlers hold it: they may write. */
export type Row<F> = F extends infer G extends Cells ? { -readonly [K in keyof G]: G[K]['initial'] } : never
/** The same, read-only: events, settled drafts, inputs, rows from outside. */
export type Settled<F> = F extends infer G extends Cells
  ? { readonly [K in keyof G]: G[K]['initial'] }
  : never
/** What must be given to make a row: cells without an initial value. Others may be given too. */
export type Given<F> = F extends infer G extends Cells
  ? Flat<
      { readonly [K in keyof G as 'required' extends MarkOf<G[K]> ? K : never]: G[K]['initial'] } & {
        readonly [K in keyof G as 'required' extends MarkOf<G[K]> ? never : K]?: G[K]['initial']
      }
    >
  : never
export type MarkOf<C> = C extends { readonly mark?: { readonly is: infer M } } ? M : never
export type Flat<T> = T extends infer U ? { [K in keyof U]: U[K] } : never

/** A row with its id: the seat's for a row of `perSeat`, an inner id for one of a table. */
export type WithId<R> = R & { readonly id: string }

/** The rows of a table, in the order in which they were added. */
export interface Rows<F> {
  /** Returns the row with this inner id, or nothing. */
  get(id: string): WithId<Row<F>> | undefined
  /** Adds a row and returns it. */
  add(cells: Given<F>): WithId<Row<F>>
  /** Removes a row. Throws if it does not exist. */
  remove(id: string): void
  /** Gives the row a new public id, so that nobody can follow it: it disappears, and another appears. */
  renew(id: string): void
  /** Returns all rows. */
  all(): readonly WithId<Row<F>>[]
  /** Returns the rows with these values. */
  where(cells: Partial<Settled<F>>): readonly WithId<Row<F>>[]
}
/** `of` ends the step with the ruling `no-such-target` if there is no such seat. */
export interface Seats<R> {
  /** Returns the row of a seat. */
  of(seat: string): R
}
