/** A message of a match's subject, as it is in the stream. */
export interface Stored {
  /** Its place in the stream. Those of one match grow, with gaps. */
  readonly sequence: number
  /** The id that it was published with. */
  readonly id: string
  readonly text: string
}

/**
 * The message that others stand behind. Its sequence alone would not do: the same message may be there twice, and others may
 * stand behind either.
 */
export type Behind = Pick<Stored, 'sequence' | 'id'>
/** Before the first message. */
export const nothing: Behind = { sequence: 0, id: '' }

/**
 * The replicated stream: what is in it is safe. Each match has a subject of its own. Whatever a method throws, apart from
 * `OutOfSequence`: what was asked for may have been done, may be done yet, or may never be done.
 */
export interface MatchStream {
  /**
   * Puts a message behind the last one of its subject, whose sequence should be `expected` (0: there is none yet). Returns its
   * sequence. A message of an id that is there already is not put in again. Neither is sure: of two messages that are on their
   * way at the same time, both may get in.
   * @throws OutOfSequence if the last message is another one
   */
  publish(subject: string, id: string, text: string, expected: number): Promise<number>
  /** Returns the last message of a subject, perhaps as it was a moment ago. */
  last(subject: string): Promise<Stored | undefined>
  /** Returns the message at a sequence. */
  at(sequence: number): Promise<Stored | undefined>
  /** Returns the first message of a subject at this sequence or behind it. */
  next(subject: string, sequence: number): Promise<Stored | undefined>
  /** Removes all messages of a subject up to this sequence. */
  remove(subject: string, until: number): Promise<void>
}

/** Keeps one text for each name: snapshots, which are too large for a message. */
export interface Shelf {
  /** Puts a text in place of the one before. */
  put(name: string, text: string): Promise<void>
  /** Returns the text; undefined if there is none, or if it is damaged. */
  get(name: string): Promise<string | undefined>
  remove(name: string): Promise<void>
}

/** An entry of a bucket, and its revision, which grows with each change of the bucket. */
export interface Entry {
  readonly text: string
  readonly revision: number
}

/** Small texts by key, which all venues see change. */
export interface Bucket {
  get(key: string): Promise<Entry | undefined>
  put(key: string, text: string): Promise<void>
  /**
   * Puts a text in place of the one of this revision (0: there is none). Returns its revision.
   * @throws OutOfSequence if there is another one
   */
  replace(key: string, text: string, revision: number): Promise<number>
  remove(key: string): Promise<void>
  /**
   * Calls `seen` for each entry there is and for each change from now on, in order; without a text when it was removed.
   * `caughtUp` is called once all that was there has been seen.
   */
  watch(seen: (key: string, text: string | undefined) => void, caughtUp?: () => void): () => void
}

/** Somebody else has written what was to stand behind another message. */
export class OutOfSequence extends Error {}
