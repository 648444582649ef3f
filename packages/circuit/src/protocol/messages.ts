import type { Suspended } from '@zinc-referee/venue/keeping'

/**
 * What a message does. `begin`: the match is new. `announce`: another venue, or the same one once more, is about to take it; what
 * its owner writes is refused from then on. `take`: it does. `hand`: its venue has let go of it. `end`: it is over.
 */
export type Kind = 'begin' | 'lines' | 'announce' | 'take' | 'hand' | 'end'

/** A message of a match: who has the match from there on, and what was recorded since the message before. */
export interface MatchMessage {
  readonly kind: Kind
  /** How often the match has changed hands. It grows with each `take`. */
  readonly epoch: number
  /** Who writes it: a venue, by its name and the number of its start. */
  readonly by: string
  /** The sequence of the last message before it that counts; 0 for the first. */
  readonly after: number
  /** How many lines there were before it. */
  readonly from: number
  readonly lines: readonly string[]
  /** All that is needed to go on from here. */
  readonly base?: Suspended
}

/** The head of a message, then its lines as they are in the record. */
export function textOf({ lines, ...head }: MatchMessage): string {
  return [JSON.stringify(head), ...lines].join('\n')
}

/** @throws SyntaxError for what is not a message */
export function messageIn(text: string): MatchMessage {
  const [head = '', ...lines] = text.split('\n')
  return { ...(JSON.parse(head) as Omit<MatchMessage, 'lines'>), lines }
}
