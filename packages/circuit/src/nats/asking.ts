import { errors, type Msg, type NatsConnection } from '@nats-io/transport-node'
import { within } from './within.ts'

/** What one venue asks of another, by a name of its own, and the answer: JSON both ways. */
export type Answerer = (question: string, given: unknown) => unknown

/** How long another venue may take to answer, in ms. */
const ANSWER = 1500

/** Questions between the venues of a circuit. Nothing depends on an answer: it is a matter of finding, and of speed. */
export class Asking {
  private readonly connection: NatsConnection
  private readonly subject: string

  constructor(connection: NatsConnection, circuit: string) {
    this.connection = connection
    this.subject = `${circuit}.ask`
  }

  /** Answers from now on what is asked of this venue, and of all. */
  answer(venue: string, answerer: Answerer): void {
    for (const subject of [`${this.subject}.one.${venue}`, `${this.subject}.all`])
      this.connection.subscribe(subject, {
        callback: (error, message) => {
          if (error !== null) return
          Promise.resolve()
            .then(() => message.json<{ readonly question: string; readonly given: unknown }>())
            .then(({ question, given }) => answerer(question, given))
            .then((answer) => message.respond(JSON.stringify(answer ?? null)))
            .catch((failed: unknown) => message.respond(JSON.stringify({ code: codeOf(failed) })))
        },
      })
  }

  /** Asks one venue. Returns undefined if it does not answer. */
  async one<R>(
    venue: string,
    question: string,
    given: unknown = null,
    timeout: number = ANSWER,
  ): Promise<R | undefined> {
    try {
      return (await this.request(venue, { question, given }, timeout)).json<R>()
    } catch {
      return undefined
    }
  }

  /** Asks all venues. Returns what those say who answer soon. `count`: how many are there. */
  async all<R>(question: string, count: number, given: unknown = null): Promise<readonly R[]> {
    const all: R[] = []
    const asked = async (): Promise<void> => {
      const answers = await this.connection.requestMany(
        `${this.subject}.all`,
        JSON.stringify({ question, given }),
        { strategy: 'count', maxMessages: count, maxWait: ANSWER },
      )
      for await (const answer of answers) all.push(answer.json<R>())
    }
    await within(ANSWER + SLACK, asked()).catch(() => undefined)
    return [...all]
  }

  /** Returns true if nobody listens for what is asked of a venue. */
  async isSilent(venue: string): Promise<boolean> {
    try {
      await this.request(venue, { question: 'there', given: null }, ANSWER)
      return false
    } catch (error) {
      return (
        error instanceof errors.NoRespondersError ||
        (error instanceof errors.RequestError && error.isNoResponders())
      )
    }
  }

  private request(venue: string, asked: object, timeout: number): Promise<Msg> {
    const subject = `${this.subject}.one.${venue}`
    return within(timeout + SLACK, this.connection.request(subject, JSON.stringify(asked), { timeout }))
  }
}

/** How much longer than its time a call of the client is waited for, in ms: while a server is silent some never end. */
const SLACK = 1000

const codeOf = (error: unknown): string => String(Object(error).code ?? 'failed')
