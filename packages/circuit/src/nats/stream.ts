import {
  JetStreamApiError,
  type JetStreamClient,
  type JetStreamManager,
  type NextMsgRequest,
  type StoredMsg,
} from '@nats-io/jetstream'
import { type MatchStream, OutOfSequence, type Stored } from '../protocol/ports.ts'
import { ANSWER } from './connect.ts'
import { within } from './within.ts'

/** Codes of JetStream: another message is the last one of its subject; there is no such message. */
const [WRONG_LAST, NO_MESSAGE] = [10071, 10037]
const ID = 'Nats-Msg-Id'
/** How long an answer may take, in ms, however often the client asks again. */
const PATIENCE = 5000

/** Returns the stream of a circuit. Its subjects begin with its name. */
export function natsStream(
  stream: string,
  subjectOf: (match: string) => string,
  { client, manager }: { readonly client: JetStreamClient; readonly manager: JetStreamManager },
): MatchStream {
  const found = (asked: Promise<StoredMsg | null>): Promise<Stored | undefined> =>
    within(PATIENCE, asked).then((message) => storedIn(message), nothingIf(NO_MESSAGE))
  return {
    async publish(subject, id, text, after) {
      try {
        const published = client.publish(subjectOf(subject), text, {
          msgID: id,
          timeout: ANSWER,
          retries: 0,
          expect: { lastSubjectSequence: after },
        })
        return (await within(PATIENCE, published)).seq
      } catch (error) {
        if (error instanceof JetStreamApiError && error.code === WRONG_LAST) throw new OutOfSequence()
        throw error
      }
    },
    last: (subject) => found(manager.streams.getMessage(stream, { last_by_subj: subjectOf(subject) })),
    next(subject, sequence) {
      const asked: NextMsgRequest & { readonly seq: number } = {
        seq: sequence,
        next_by_subj: subjectOf(subject),
      }
      return found(manager.streams.getMessage(stream, asked))
    },
    at: (sequence) => found(manager.streams.getMessage(stream, { seq: sequence })),
    async remove(subject, until) {
      const purged = manager.streams.purge(stream, { filter: subjectOf(subject), seq: until + 1 })
      await within(PATIENCE, purged)
    },
  }
}

function storedIn(message: StoredMsg | null): Stored | undefined {
  if (message === null) return undefined
  return { sequence: message.seq, id: message.header.get(ID), text: message.string() }
}

const nothingIf =
  (code: number) =>
  (error: unknown): undefined => {
    if (error instanceof JetStreamApiError && error.code === code) return undefined
    throw error
  }
