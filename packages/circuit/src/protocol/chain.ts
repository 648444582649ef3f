import { type MatchMessage, messageIn } from './messages.ts'
import { type Behind, type MatchStream, nothing, type Stored } from './ports.ts'

/** The messages of a match are not whole. */
export class BrokenMatch extends Error {}

/**
 * Tells which messages of a match count. The servers refuse a message that stands behind another one than it says, but they look
 * only at what is in the stream: of two that are on their way at the same time, both get in. So each message says behind which one
 * it stands, and what does not stand behind the last one that counts, does not count itself. An announcement never does. The same
 * message may be there twice, and whoever wrote it may know of either.
 */
export class Chain {
  /** Where the last message that counts is. */
  private sequences: Set<number>
  private id: string

  /** `after`: the last message that counts so far. */
  constructor({ sequence, id }: Behind = nothing) {
    this.sequences = new Set([sequence])
    this.id = id
  }

  /** Returns the last message that counts. */
  get after(): Behind {
    return { sequence: Math.max(...this.sequences), id: this.id }
  }

  /** Takes the next message of the subject. Returns it if it counts. @throws BrokenMatch if it is damaged */
  take(stored: Stored): MatchMessage | undefined {
    if (stored.id === this.id) {
      this.sequences.add(stored.sequence)
      return undefined
    }
    const message = messageOf(stored)
    if (message.kind === 'announce' || !this.sequences.has(message.after)) return undefined
    this.sequences = new Set([stored.sequence])
    this.id = stored.id
    return message
  }
}

/** @throws BrokenMatch if it is damaged */
export function messageOf({ sequence, text }: Stored): MatchMessage {
  try {
    return messageIn(text)
  } catch {
    throw new BrokenMatch(`the message ${sequence} of the stream is damaged`)
  }
}

/** The messages of a subject behind a sequence, in their order. */
export async function* messagesAfter(
  stream: MatchStream,
  subject: string,
  sequence: number,
): AsyncGenerator<Stored> {
  for (let next = await stream.next(subject, sequence + 1); next !== undefined; ) {
    yield next
    next = await stream.next(subject, next.sequence + 1)
  }
}

/** Returns the first message that counts behind `after`. */
export async function firstThatCounts(
  stream: MatchStream,
  subject: string,
  after: Behind,
): Promise<Stored | undefined> {
  const chain = new Chain(after)
  for await (const stored of messagesAfter(stream, subject, after.sequence))
    if (chain.take(stored) !== undefined) return stored
  return undefined
}
