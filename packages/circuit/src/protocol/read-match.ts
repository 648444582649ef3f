import type { Suspended } from '@zinc-referee/venue/keeping'
import { BrokenMatch, Chain, messageOf, messagesAfter } from './chain.ts'
import type { Shelved } from './circuit-record.ts'
import type { MatchMessage } from './messages.ts'
import { type Behind, type MatchStream, nothing, type Shelf, type Stored } from './ports.ts'

/** A match as it is in the stream. */
export interface Found {
  /** The last message that counts, where the last of all is, and how many lines there are up to there. */
  readonly after: Behind
  readonly expected: number
  readonly lines: number
  readonly epoch: number
  readonly last: MatchMessage
  readonly suspended: Suspended
  /** The lines behind what was suspended. */
  readonly tail: readonly string[]
}
/** Where matches are read from. */
export interface Sources {
  readonly stream: MatchStream
  readonly shelf: Shelf
}

/**
 * Reads a match: its last snapshot, or all from its beginning if there is none that is whole, and the lines behind it. Returns
 * nothing if there is no such match.
 * @throws BrokenMatch if a message is missing or damaged
 */
export async function readMatch(subject: string, sources: Sources): Promise<Found | undefined> {
  const last = await sources.stream.last(subject)
  if (last === undefined) return undefined
  for await (const start of startsOf(subject, last, sources)) {
    const found = await readFrom(subject, start, last.sequence, sources)
    if (found !== undefined) return found
  }
  throw new BrokenMatch('its first message is gone')
}

/** Returns nothing if what begins there is not enough to go on from. */
async function readFrom(
  subject: string,
  start: Start,
  until: number,
  { stream }: Pick<Sources, 'stream'>,
): Promise<Found | undefined> {
  const chain = new Chain(start.after)
  const messages: MatchMessage[] = []
  let [epoch, expected] = [0, start.after.sequence]
  for await (const stored of messagesAfter(stream, subject, start.after.sequence)) {
    const counts = chain.take(stored)
    if (counts !== undefined) messages.push(counts)
    epoch = Math.max(epoch, messageOf(stored).epoch)
    expected = stored.sequence
    if (stored.sequence >= until) break // what comes later is found by whoever writes
  }
  const newest = messages.at(-1) ?? start.message
  const base = messages.findLast((message) => message.base !== undefined)?.base ?? start.base
  if (newest === undefined || base === undefined) return undefined
  return {
    after: chain.after,
    expected,
    lines: newest.from + newest.lines.length,
    epoch: Math.max(epoch, newest.epoch),
    last: newest,
    suspended: base,
    tail: linesBehind(base.lines, messages),
  }
}

/** From where a match is read: behind a message that counts. */
interface Start {
  readonly after: Behind
  readonly message?: MatchMessage
  readonly base?: Suspended
}

/** The farewell of its venue has all that is needed. Else there is a snapshot; else it is read from its first message on. */
async function* startsOf(subject: string, last: Stored, { stream, shelf }: Sources): AsyncGenerator<Start> {
  const { kind, base, after } = messageOf(last)
  const before = kind === 'hand' && base !== undefined ? await stream.at(after) : undefined
  if (before !== undefined) yield { after: before }
  const shelved = parsed(await shelf.get(subject))
  const stored = shelved && (await stream.at(shelved.after))
  if (shelved !== undefined && stored?.id.startsWith(`${subject} `) === true)
    yield { after: stored, message: messageOf(stored), base: shelved.base }
  yield { after: nothing }
}

/** Returns the lines behind the first `covered` ones. @throws BrokenMatch if some are missing */
function linesBehind(covered: number, messages: readonly MatchMessage[]): readonly string[] {
  let next: number | undefined
  const lines: string[] = []
  for (const { from, lines: more } of messages) {
    if (next !== undefined && from !== next) throw new BrokenMatch(`lines ${next} to ${from} are missing`)
    next = from + more.length
    lines.push(...more.slice(Math.max(0, covered - from)))
  }
  return lines
}

/** What was on the shelf; nothing, if it is damaged. */
function parsed(text: string | undefined): Shelved | undefined {
  try {
    return text === undefined ? undefined : JSON.parse(text)
  } catch {
    return undefined
  }
}

/** Returns all lines of a match, from its beginning, and where its last message is. @throws BrokenMatch if some are missing */
export async function wholeMatch(
  subject: string,
  { stream }: Pick<Sources, 'stream'>,
): Promise<{ readonly lines: readonly string[]; readonly until: number }> {
  const chain = new Chain()
  const messages: MatchMessage[] = []
  let until = 0
  for await (const stored of messagesAfter(stream, subject, nothing.sequence)) {
    const counts = chain.take(stored)
    if (counts !== undefined) messages.push(counts)
    until = stored.sequence
  }
  if (messages[0]?.kind !== 'begin') throw new BrokenMatch('its first message is gone')
  return { lines: linesBehind(0, messages), until }
}
