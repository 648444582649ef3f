import type { IncomingMessage, ServerResponse } from 'node:http'
import { fileURLToPath } from 'node:url'
import sirv from 'sirv'
import type { HostedMatch } from './hosted-match.ts'
import type { Meters } from './meters.ts'

/** What the answers are about. */
export interface Answering {
  readonly matches: ReadonlyMap<string, HostedMatch>
  readonly meters: Meters
  readonly isClosed: () => boolean
  /** A built page to serve next to the socket. */
  readonly page: URL | undefined
  readonly socketPath: string
}

/**
 * Answers over HTTP: `/health` and `/ready` for whoever restarts and routes, `/metrics` as OpenMetrics, `/matches`, and the
 * page. All else is a problem document (RFC 9457).
 */
export function httpAnswers({ matches, meters, isClosed, page, socketPath }: Answering) {
  const files = page && sirv(fileURLToPath(page), { single: true })
  const none = (response: ServerResponse): void =>
    json(response, 404, {
      title: 'There is nothing here',
      status: 404,
      detail: `The matches are listed under /matches; the socket is ${socketPath}.`,
    })
  const answers: { readonly [path: string]: (response: ServerResponse) => unknown } = {
    '/health': (response) => json(response, 200, { ok: true }),
    '/ready': (response) => {
      const stands = [...matches.values()].filter(({ isPaused }) => isPaused).map(({ id }) => id)
      const ready = !isClosed() && stands.length === 0
      json(response, ready ? 200 : 503, { ready, ...(stands.length > 0 && { stands }) })
    },
    '/matches': (response) =>
      json(
        response,
        200,
        [...matches.values()].map(({ id, match }) => ({ id, rulebook: match.rulebook })),
      ),
    '/metrics': async (response) => {
      const text = await meters.registry.metrics()
      response.writeHead(200, { 'content-type': meters.registry.contentType }).end(text)
    },
  }
  return (request: IncomingMessage, response: ServerResponse): void => {
    const answer = answers[request.url ?? '']
    if (answer !== undefined) answer(response)
    else if (files === undefined) none(response)
    else files(request, response, () => none(response))
  }
}

function json(response: ServerResponse, status: number, body: object): void {
  const type = status === 404 ? 'application/problem+json' : 'application/json'
  response.writeHead(status, { 'content-type': type }).end(JSON.stringify(body))
}
