import type { NatsConnection } from '@nats-io/transport-node'
import { type Matches, rulingText } from '@zinc-referee/venue/keeping'
import { tokenOf } from './protocol/places.ts'

/** What a game server or a tool may ask of a match. */
interface Order {
  readonly fact?: unknown
  readonly inputs?: unknown
  readonly directive?: unknown
  readonly input?: unknown
  /** Who directs. */
  readonly by?: unknown
}
/** Why an order was not carried out. */
export type OrderProblem = 'bad-request' | 'not-now'

/**
 * Takes facts and directives by subjects, for whoever the NATS servers allow to publish there: `NAME.do.MATCH.report` with
 * `{ fact, inputs }`, and `NAME.do.MATCH.direct` with `{ directive, input, by }`. The venue that has the match answers, once
 * it is safe: `{ rulings }`, or `{ problem }`.
 */
export function takeOrders(connection: NatsConnection, circuit: string, matches: Matches): void {
  for (const kind of ['report', 'direct'] as const)
    connection.subscribe(`${circuit}.do.*.${kind}`, {
      callback: (error, message) => {
        if (error !== null) return
        const [, , token] = message.subject.split('.')
        const hosted = matches.running.find(({ id }) => tokenOf(id) === token)
        if (hosted === undefined) return // another venue answers
        const answer = (text: object): void => void message.respond(JSON.stringify(text))
        const order = orderIn(message.string(), kind)
        if (order === undefined) answer({ problem: 'bad-request' satisfies OrderProblem })
        else if (hosted.isPaused) answer({ problem: 'not-now' satisfies OrderProblem })
        else {
          const rulings = hosted.run(order)
          const rulingTexts = rulings.map((ruling) => JSON.parse(rulingText(hosted, ruling)))
          hosted.whenSafe(() => answer({ rulings: rulingTexts }))
        }
      },
    })
}

type Run = Parameters<Matches['running'][number]['run']>[0]

/** What an order does to a match; undefined for what is none. */
function orderIn(text: string, kind: 'report' | 'direct') {
  const { fact, inputs = [{}], directive, input = {}, by } = parsed(text)
  if (kind === 'report' && typeof fact === 'string' && Array.isArray(inputs))
    return (match: Parameters<Run>[0]) => match.reportAll(fact, inputs)
  if (kind === 'direct' && typeof directive === 'string')
    return (match: Parameters<Run>[0]) => [
      match.direct(directive, input, typeof by === 'string' ? { referee: by } : {}),
    ]
  return undefined
}

function parsed(text: string): Order {
  try {
    return Object(JSON.parse(text)) as Order
  } catch {
    return {}
  }
}
