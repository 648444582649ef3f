import { RefereeError } from '../kit/index.ts'
import type { Spec } from '../rule/index.ts'
import {
  type BeginOptions,
  beginMatch,
  type Match,
  type ReplayedMatch,
  type Rulebook,
  replayRecord,
} from '../rulebook/index.ts'
import { timeFrom } from './scenario/time-from.ts'

/** A match in virtual time for a test: with its record, and with seats taken and started in one call. */
export interface TestMatch<S extends Spec, O extends Spec = never> {
  /** The match. */
  readonly match: Match<S, O>
  /** Lets time pass: ms, or a text such as '3s' or '1:30'. @throws ZR_TIME_NOT_WHOLE for another text */
  advance(by: string | number): void
  /** The record so far. */
  record(): string
  /** Closes the match and replays its record. */
  replay(): ReplayedMatch
}

/**
 * Begins a match with these seats and, unless `start: false`, plays on to the first ms of live play.
 *
 * @example
 * ```ts
 * const { match } = playMatch(regatta, ['otter', 'heron'])
 * match.report('raft.rammed', { target: 'otter', by: 'heron' })
 * ```
 */
export function playMatch<S extends Spec, O extends Spec = never>(
  book: Rulebook<S, O>,
  seats: readonly string[],
  given: Partial<BeginOptions<NoInfer<S>, NoInfer<O>>> & { readonly start?: boolean } = {},
): TestMatch<S, O> {
  const lines: string[] = []
  const { start = true, seed = 'fair-1', record: sink, ...rest } = given
  const match = beginMatch<S, O>(book, {
    ...rest,
    seed,
    record: (line) => {
      lines.push(line)
      sink?.(line)
    },
  })
  const host = match as object as Match // roster and phases are in every rulebook
  for (const seat of seats) host.direct('roster.join', { seat, name: seat })
  if (start) {
    for (const seat of seats) host.submit(seat, 'roster.ready', {})
    if (host.nextDue !== undefined) host.advanceTo(host.nextDue)
  }
  const record = (): string => lines.join('\n')
  return {
    match,
    advance(by) {
      const ms = timeFrom(by)
      if (ms === undefined)
        throw new RefereeError('ZR_TIME_NOT_WHOLE', { what: 'The time to let pass', got: by })
      host.advanceTo(host.now + ms)
    },
    record,
    replay() {
      host.close()
      return replayRecord(book, record())
    },
  }
}
