import type { InputLine, RecordContent } from '../../record/index.ts'
import type { AnyMatch } from '../../rulebook/index.ts'

/** A moment of a record at which something was done: an input, or timers that were due. */
export interface Position {
  /** Match time, in ms. */
  readonly at: number
  /** The number of the line of an input; nothing for timers. */
  readonly line?: number
  readonly input?: InputLine
}

/** Plays lines of a record on, and stops after each position, in the order in which they came. */
export function* playedPositions(
  match: Pick<AnyMatch, 'now' | 'nextDue' | 'advanceTo'>,
  { lines }: Pick<RecordContent, 'lines'>,
  play: (line: InputLine, number: number) => void,
): Iterable<Position> {
  for (const { number, line } of lines) {
    for (let due = match.nextDue; due !== undefined && due <= line.t; due = match.nextDue) {
      match.advanceTo(due)
      yield { at: due }
    }
    if (line.t > match.now) match.advanceTo(line.t)
    if (!('input' in line)) continue
    play(line, number)
    yield { at: line.t, line: number, input: line }
  }
}
