import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, everyone, int, single } from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import { type Crowd, checkLaws, playMatch, ViewCopies } from 'zinc-referee/testing'
import { buildBook } from '../generated/build-book.ts'
import { bookData, history, type Move } from '../generated/describe-book.ts'
import { SEATS } from '../generated/play-history.ts'

/** Plays these moves, one at each beat. */
const playing = (moves: readonly Move[]): Crowd => {
  const left = moves.values()
  return {
    every: 500,
    beat(match) {
      const { value } = left.next()
      if (value !== undefined) match.direct('maze.act', value.deeds)
    },
  }
}

test('any rulebook, its rows compiled or not, looked at all the time or never, replayed, or resumed from any step: the same match to the byte', () => {
  fc.assert(
    fc.property(
      bookData,
      fc.boolean(),
      fc.array(history, { minLength: 4, maxLength: 4 }),
      (data, isCompiled, all) => {
        const book = buildBook(data, isCompiled)
        for (const moves of all) {
          const { breaks } = checkLaws(book, {
            seats: SEATS,
            crowd: () => playing(moves),
            until: 4000 + moves.length * 500,
            moments: 3,
          })
          expect(breaks).toEqual([])
        }
      },
    ),
    { numRuns: 30 },
  )
})

let outside = 0
const stall = (count: () => number) =>
  defineRulebook({
    name: 'stall',
    seats: { min: 1, max: 2 },
    rules: [
      defineRule({
        name: 'jar',
        state: { jar: single({ marbles: int(0).seenBy(everyone) }) },
        facts: {
          drop: {
            input: {},
            handle(match) {
              match.own.jar.marbles = count()
            },
          },
        },
      }),
    ],
  })

test.each([
  ['chance of its own', () => Math.floor(Math.random() * 1_000_000)],
  ['state outside of the match', () => outside++],
])('a mode that uses %s breaks the laws, and the report says where', (_what, count) => {
  const { breaks } = checkLaws(stall(count), { seats: ['otter'], until: 20_000 })
  expect(breaks.map(({ law }) => law)).toContain('replayed')
  expect(breaks.map(({ where }) => where)).toContain('otter/jar/jar/marbles')
})

test('a copy to which a patch was not applied differs from its view, and the report says where', () => {
  let marbles = 0
  const { match } = playMatch(
    stall(() => ++marbles),
    ['otter'],
  )
  const differences = [applyPatch, (view: object) => view].map((apply) => {
    const copies = new ViewCopies(match, apply)
    copies.addViewer('otter')
    match.report('jar.drop', {})
    copies.flush()
    return copies.differences()
  })
  expect(differences).toEqual([[], [{ viewer: 'otter', path: '/jar/jar/marbles', copy: '1', view: '2' }]])
})
