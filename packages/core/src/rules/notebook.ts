import { int, json, owner, type Seat, seatRef, table } from '../cells/index.ts'
import type { Schema } from '../kit/index.ts'
import { declareRule, type MatchOf } from '../rule/index.ts'
import { phases } from './phases/phases.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'

const ruleOf = <N>(note: Schema<unknown, N>) =>
  declareRule({
    name: 'notebook',
    needs: [roster, phases],
    knows: [rounds],
    state: {
      /** What a seat was shown, in the order in which that happened. Nobody else sees it. */
      notes: table({
        to: seatRef(),
        note: json(note).seenBy(owner),
        /** In match time, ms. */
        at: int().seenBy(owner),
        round: int().seenBy(owner),
      })
        .ownedBy('to')
        .indexedBy('to'),
    },
    events: {
      /** A seat has a new note. */
      written: { seat: seatRef() },
    },
  })
type Match<N> = MatchOf<ReturnType<typeof ruleOf<N>>>

/**
 * What a seat alone was shown, and may look up again: peeks, whispers, cards that it has passed on. Notes are plain
 * values and stay as they were written, whatever becomes of what they speak of. They last for the bout.
 *
 * @example
 * ```ts
 * const notebook = notebookOf(fields({ whose: word, colour: word, value: whole() }))
 * ```
 */
export const notebookOf = <N>(note: Schema<unknown, N>) =>
  ruleOf(note).does({
    calls: {
      /** Writes a note for a seat. Don't put ids of rows into it: they change. */
      write(match: Match<N>, seat: Seat, written: N) {
        const round = match.use(rounds)?.round() ?? 1
        // Only code that knows the note knows what a row of it requires.
        const row = { to: seat, note: written, at: match.time.match, round }
        match.own.notes.add(row as Parameters<typeof match.own.notes.add>[0])
        match.emit('written', { seat })
      },
      /** Returns the notes of a seat, the oldest first. */
      of: (match: Match<N>, seat: Seat): readonly N[] =>
        match.own.notes.where({ to: seat }).map((row) => row.note),
    },
  })
