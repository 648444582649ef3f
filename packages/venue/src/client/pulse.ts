import type { Line } from './line.ts'
import { idle, inTime } from './waiting.ts'

/** How long to wait before the next question, in ms: not long at first, to know the time and the other venues of a circuit. */
const waitAfter = (asked: number): number => (asked < 3 ? 200 : asked < 7 ? 2000 : 10_000)

/** The answer to `ping`. */
export interface Pulse {
  /** The match time, in ms. */
  readonly at?: number
  /** By which other venues a client may come back. */
  readonly others?: readonly string[]
}

/** Asks a venue for its time again and again, as long as the line is in use. `gone` is called if it does not answer. */
export async function keepAsking(
  line: Line,
  clock: () => number,
  on: {
    readonly isInUse: () => boolean
    /** `sent`: when it was asked, by `clock`. */
    readonly answered: (pulse: Pulse, sent: number) => void
    readonly gone: () => void
  },
): Promise<void> {
  for (let asked = 0; on.isInUse(); asked++) {
    const sent = clock()
    const answer = await inTime(line.ask('ping', {}), on.gone).catch(() => undefined)
    if (on.isInUse()) on.answered(Object(answer), sent)
    await idle(waitAfter(asked))
  }
}
