import { isDeepStrictEqual } from 'node:util'
import fc from 'fast-check'
import { expect } from 'vitest'
import { type BookData, bookData, history, type Move } from './describe-book.ts'
import type { Table } from './play-history.ts'

/** Fewer where a hundred errors are tried (scripts/mutate.mjs). */
const BOOKS = Number(process.env['ZR_BOOKS'] ?? 60)
const HISTORIES = 15
/** A generated rulebook, and histories of it. */
export const bookAndHistories = fc.tuple(
  bookData,
  fc.array(history, { minLength: HISTORIES, maxLength: HISTORIES }),
)

/** Checks a law on generated rulebooks, each with many histories. A failure prints its seed, the rulebook and the history. */
export const forAll = (law: (data: BookData, histories: readonly (readonly Move[])[]) => void): void =>
  fc.assert(
    fc.property(bookAndHistories, ([data, histories]) => law(data, histories)),
    { numRuns: BOOKS, endOnFailure: true },
  )

export function expectCurrent({ match, copies }: Table): void {
  for (const [viewer, both] of copies) {
    const fresh = match.view(viewer)
    for (const copy of both)
      if (!isDeepStrictEqual(copy, fresh)) expect(copy, `the copy of ${viewer}`).toEqual(fresh)
  }
}
