import type { HostClock } from 'zinc-referee/host'
import type { MatchStream, Stored } from './ports.ts'

/** How long to wait before a message is sent again, in ms: longer each time. */
const [FIRST_WAIT, LONGEST_WAIT] = [50, 1000]

/** A message that is to be put into the stream. */
export interface Outgoing {
  readonly subject: string
  /** Of no other message, ever. */
  readonly id: string
  readonly text: string
  /** The sequence of the last message of the subject. */
  readonly expected: number
}
/** What a message is published with. */
export interface Publishing {
  readonly stream: MatchStream
  readonly clock: HostClock
  /** True when nobody waits for the message any more. It may be in the stream. */
  readonly isGivenUp: () => boolean
}

/**
 * Puts a message into the stream, however often its acknowledgement is lost. Returns its sequence, or what is there in its
 * place; undefined if it was given up.
 *
 * Without an answer nobody knows whether the message is in the stream. So it is looked for, and sent again with the same id,
 * behind the same message: however late the first one arrives, there is one of it.
 */
export async function publish(
  { subject, id, text, expected }: Outgoing,
  { stream, clock, isGivenUp }: Publishing,
): Promise<number | Stored | undefined> {
  for (let attempt = 0; !isGivenUp(); attempt++) {
    const sequence = await stream.publish(subject, id, text, expected).catch(noAnswer)
    if (sequence !== undefined) return sequence
    const last = await stream.last(subject).catch(noAnswer)
    if (last?.id === id) return last.sequence
    // What is older than the message before is an answer that came late.
    if (last !== undefined && last.sequence > expected) return last
    await pause(clock, Math.min(LONGEST_WAIT, FIRST_WAIT * 2 ** attempt))
  }
  return undefined
}

const noAnswer = (): undefined => undefined

/** Resolves after this many ms. */
export const pause = (clock: HostClock, ms: number): Promise<void> =>
  new Promise((done) => void clock.wakeAfter(ms, done))
