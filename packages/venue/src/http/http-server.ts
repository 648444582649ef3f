import { fileURLToPath } from 'node:url'
import swagger from '@fastify/swagger'
import { type FastifyInstance, fastify } from 'fastify'
import sirv from 'sirv'
import type { AdmissionCheck } from '../admissions.ts'
import type { CircuitLink } from '../circuit-link.ts'
import { type Log, placeOf } from '../log.ts'
import type { Matches, NewerRulebook } from '../matches/index.ts'
import type { Meters } from '../meters.ts'
import { circuitRoutes } from './circuit-routes.ts'
import { matchRoutes } from './match-routes.ts'
import { operatorsBy } from './operators.ts'
import { isOwnHost } from './own-host.ts'
import { problem, problemOf, refuseWith } from './problem.ts'

/** What the answers are about. */
export interface Answering {
  readonly matches: Matches
  /** Checks a token; nothing where the venue is open. */
  readonly admit: AdmissionCheck | undefined
  readonly meters: Meters
  readonly log: Log
  readonly renew: ((mode: string) => Promise<NewerRulebook>) | undefined
  readonly isClosed: () => boolean
  readonly circuit: CircuitLink | undefined
  /** A built page to serve next to the socket. */
  readonly page: URL | undefined
  readonly socketPath: string
  /** The certificate and its key, as PEM. */
  readonly tls: { readonly cert: string; readonly key: string } | undefined
}

/**
 * Answers over HTTP: `/health` and `/ready` for whoever restarts and routes, `/metrics` as OpenMetrics, `/matches`,
 * `/openapi.json`, and the page. All else is a problem document (RFC 9457).
 */
export async function httpServer(asked: Answering): Promise<FastifyInstance> {
  const { matches, admit, renew, meters, log, isClosed, circuit, page, socketPath, tls } = asked
  // Nothing is made of another type, and nothing is left out: what does not fit is refused.
  const ajv = { customOptions: { coerceTypes: false, removeAdditional: false } as const }
  const app: FastifyInstance = fastify({
    ajv,
    ...(tls && { https: tls as never }),
    forceCloseConnections: true,
  })
  await app.register(swagger, {
    openapi: {
      openapi: '3.1.0',
      info: {
        title: 'A venue of Zinc Referee',
        version: '1',
        description: 'Matches, and how the venue does.',
      },
      components: { securitySchemes: { admission: { type: 'http', scheme: 'bearer', bearerFormat: 'JWT' } } },
    },
  })
  // Anybody may ask an open venue for anything, so no page of a name that leads here may.
  if (admit === undefined)
    app.addHook('onRequest', async ({ headers }, reply) => {
      if (!isOwnHost(headers.host))
        await refuseWith(
          reply,
          problem(403, 'not-here', 'This venue is for this machine alone. Ask for it as localhost.'),
        )
    })
  app.setErrorHandler((error: Parameters<typeof problemOf>[0], _request, reply) => {
    const known = problemOf(error)
    if (known === undefined) log.error(placeOf(error), 'HTTP failed')
    return refuseWith(reply, known ?? problem(500, 'internal-error', 'Nothing happened. Try again.'))
  })
  app.after(() => {
    app.get('/health', { schema: { summary: 'True while the process lives' } }, () => ({ ok: true }))
    app.get('/ready', { schema: { summary: 'Whether new players may be sent here' } }, (_request, reply) => {
      const stands = matches.running.filter(({ isPaused }) => isPaused).map(({ id }) => id)
      const ready = !isClosed() && stands.length === 0
      return reply.code(ready ? 200 : 503).send({ ready, ...(stands.length > 0 && { stands }) })
    })
    app.get('/metrics', { schema: { summary: 'What to watch, as OpenMetrics' } }, async (_request, reply) =>
      reply.type(meters.registry.contentType).send(await meters.registry.metrics()),
    )
    app.get('/openapi.json', { schema: { hide: true } }, () => app.swagger())
    const operators = operatorsBy(admit)
    if (circuit !== undefined) circuitRoutes(app, circuit, operators)
    matchRoutes(app, { matches, operators, renew, circuit })
  })
  const files = page && sirv(fileURLToPath(page), { single: true })
  app.setNotFoundHandler((request, reply) => {
    const none = () =>
      refuseWith(
        reply,
        problem(404, 'nothing-here', `The matches are listed under /matches; the socket is ${socketPath}.`),
      )
    if (files === undefined || request.method !== 'GET') return none()
    return files(request.raw, reply.hijack().raw, () => {
      reply.raw.writeHead(404).end()
    })
  })
  await app.ready()
  return app
}
