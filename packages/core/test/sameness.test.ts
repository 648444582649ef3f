import fc from 'fast-check'
import { expect, test } from 'vitest'
import { beginMatch, resumeMatch } from 'zinc-referee'
import { auditSight } from 'zinc-referee/testing'
import { buildBook } from './generated/build-book.ts'
import { bookData, history } from './generated/describe-book.ts'
import { SEATS, VIEWERS } from './generated/play-history.ts'

const text = (value: unknown): string => JSON.stringify(value)

/** A match of a generated rulebook with its record, and all that anybody sees of it. */
function begun(book: any) {
  const lines: string[] = []
  const match: any = beginMatch(book, { seed: 'fair-1', record: (line) => lines.push(line) })
  for (const seat of SEATS) match.direct('roster.join', { seat, name: 'Same' })
  return { match, lines }
}
const seenOf = (match: any): string => text([match.hash(), ...VIEWERS.map((viewer) => match.view(viewer))])

/** Everything that looks without doing anything. */
const look = (match: any, at: number): void => {
  const viewer = VIEWERS[at % VIEWERS.length] ?? ''
  if (at % 7 < 3) match.view(viewer)
  if (at % 5 < 2) match.addViewer(viewer)
  if (at % 3 === 0) match.flush()
  if (at % 4 === 0) match.snapshot()
  if (at % 6 === 0) match.hash()
  if (at % 11 === 0) match.removeViewer(viewer)
  for (const seat of SEATS) match.options(seat, 'roster.ready')
}

test('whoever looks, and however often: same rulings, same views to the byte, same hash', () => {
  fc.assert(
    fc.property(
      bookData,
      fc.array(history, { minLength: 6, maxLength: 6 }),
      fc.nat(1000),
      (data, all, seed) => {
        const book = buildBook(data, true)
        for (const moves of all) {
          const [watched, alone] = [begun(book), begun(book)]
          for (const [at, { wait, deeds }] of moves.entries()) {
            look(watched.match, seed + at)
            if ((seed + at) % 29 === 0)
              auditSight(book, { record: watched.lines.join('\n'), checks: 1, comparisons: 1, steps: 2 })
            const rulings = [watched, alone].map(({ match }) => {
              match.advanceTo(match.now + wait)
              return { ...match.direct('maze.act', deeds), details: undefined } // a fault has an id of its own
            })
            expect(rulings[0]).toEqual(rulings[1])
          }
          expect(seenOf(watched.match)).toBe(seenOf(alone.match))
        }
      },
    ),
    { numRuns: 60 },
  )
})

test('resumed from a snapshot of any step, with the tail or with what comes next: the same views to the byte', () => {
  fc.assert(
    fc.property(
      bookData,
      fc.array(history, { minLength: 4, maxLength: 4 }),
      fc.nat(1000),
      (data, all, seed) => {
        const book = buildBook(data, true)
        for (const moves of all) {
          const { match, lines } = begun(book)
          const cut = seed % Math.max(1, moves.length)
          let [snapshot, from] = ['', 0]
          for (const [at, { wait, deeds }] of moves.entries()) {
            if (at === cut) {
              snapshot = text(match.snapshot())
              from = lines.length
              expect(seenOf(resumeMatch(book, JSON.parse(snapshot)))).toBe(seenOf(match))
            }
            look(match, seed + at)
            match.advanceTo(match.now + wait)
            match.direct('maze.act', deeds)
          }
          if (snapshot === '') continue
          const resumed: any = resumeMatch(book, JSON.parse(snapshot), { tail: lines.slice(from).join('\n') })
          resumed.advanceTo(match.now) // a tail says how far time ran only up to its last line
          expect(seenOf(resumed)).toBe(seenOf(match))
          for (const each of [match, resumed]) each.direct('maze.act', moves[0]?.deeds)
          expect(seenOf(resumed)).toBe(seenOf(match))
        }
      },
    ),
    { numRuns: 60 },
  )
})
