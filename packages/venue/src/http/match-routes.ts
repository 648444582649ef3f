import type { FastifyInstance } from 'fastify'
import type { CircuitLink } from '../circuit-link.ts'
import { venueError } from '../errors.ts'
import { type HostedMatch, type Matches, type NewerRulebook, notUpgraded } from '../matches/index.ts'
import { type Operators, operatorsOnly } from './operators.ts'
import { type Problem, problem, refuseWith } from './problem.ts'
import { detailsSchema, type NewMatch, newMatchSchema, problemAnswer, summarySchema } from './schemas.ts'

/** What the routes of matches are about. */
export interface MatchRoutes {
  readonly matches: Matches
  readonly operators: Operators
  readonly circuit: CircuitLink | undefined
  /** Returns the newest version of a mode's rulebook. */
  readonly renew: ((mode: string) => Promise<NewerRulebook>) | undefined
}
type ById = { readonly Params: { readonly id: string } }

const noMatch = (id: string): Problem =>
  problem(404, 'unknown-match', `The venue has no match '${id}'. Ask for one of /matches.`)
const noNewer = problem(
  409,
  'no-newer-version',
  'The venue was opened without a way to newer versions. Restart it with the new rulebook.',
)
const noSuchMatch: object = problemAnswer('There is no such match')
const params = { type: 'object', properties: { id: { type: 'string' } }, required: ['id'] }

/** `/matches`: list, look, begin and end. Whoever begins or ends one needs the admission of an operator. */
export function matchRoutes(app: FastifyInstance, asked: MatchRoutes): void {
  looking(app, asked)
  changing(app, asked)
}

function looking(app: FastifyInstance, { matches, operators, circuit }: MatchRoutes): void {
  const querystring = {
    type: 'object',
    properties: {
      mode: { type: 'string', description: 'Only matches of this mode.' },
      free: { const: 'true', description: 'Only matches with a free seat.' },
    },
    additionalProperties: false,
  }
  app.get<{ Querystring: { readonly mode?: string; readonly free?: 'true' } }>(
    '/matches',
    {
      schema: {
        summary: 'List the matches',
        description: 'Matches that are not listed are shown to operators only.',
        querystring,
        response: { 200: { description: 'The matches', type: 'array', items: summarySchema } },
      },
    },
    async (request) => {
      const { mode, free } = request.query
      const all = await operators.includes(request)
      const own = matches.running
        .filter(({ hosting }) => hosting.listed || all)
        .map((hosted) => hosted.summary)
      return [...own, ...((await circuit?.elsewhere()) ?? [])]
        .filter((each) => mode === undefined || each.mode === mode)
        .filter(({ seats }) => free === undefined || seats.free > 0)
    },
  )
  app.get<ById>(
    '/matches/:id',
    {
      schema: {
        summary: 'Look at a match',
        description:
          'It shows what every spectator may know. Who sits in it is for operators, where the venue has operators.',
        params,
        response: { 200: { description: 'The match', ...detailsSchema }, 404: noSuchMatch },
      },
    },
    async (request, reply) => {
      const { id } = request.params
      const all = await operators.includes(request)
      const hosted = matches.get(id)
      if (hosted === undefined) return refuseWith(reply, noMatch(id))
      return reply.send({ ...hosted.summary, ...(all && detailsOf(hosted)) })
    },
  )
}

/** Resolves when all of a match is safe, or with false when it is another venue's. */
const isSafe = (hosted: HostedMatch): Promise<boolean> =>
  new Promise((done) => {
    const ended = (): void => done(false)
    hosted.ends.add(ended)
    hosted.whenSafe(() => {
      hosted.ends.delete(ended)
      done(true)
    })
  })

function changing(app: FastifyInstance, { matches, operators, renew, circuit }: MatchRoutes): void {
  const { security, answers } = operators
  const preHandler = operatorsOnly(operators)
  app.post<{ Body: NewMatch }>(
    '/matches',
    {
      preHandler,
      schema: {
        summary: 'Begin a match',
        security,
        body: newMatchSchema,
        response: {
          201: { description: 'It has begun', ...summarySchema },
          400: problemAnswer('The settings do not fit'),
          404: problemAnswer('The venue has no such mode'),
          409: problemAnswer('There is a match of this id'),
          503: problemAnswer('The venue is full, or closing'),
          ...answers,
        },
      },
    },
    async ({ body: { mode, id, ...given } }, reply) => {
      const hosted = matches.beginMode(mode, { led: true, emptyFor: 60_000, filled: true, ...given }, id)
      const { summary } = hosted
      // In a circuit, another venue may have begun one of this id in the same moment.
      if (circuit !== undefined && !(await isSafe(hosted)))
        throw venueError('ZR_VENUE_MATCH_TWICE', { match: hosted.id })
      return reply.code(201).header('location', `/matches/${hosted.id}`).send(summary)
    },
  )
  app.post<ById>(
    '/matches/:id/upgrade',
    {
      preHandler,
      schema: {
        summary: 'Go on with the newest version of its rulebook',
        description:
          'It is tried first: a match that cannot go on with it goes on undisturbed. Clients come back by themselves.',
        security,
        params,
        response: {
          200: { description: 'It goes on', ...summarySchema },
          404: noSuchMatch,
          409: problemAnswer('It cannot go on with that version, or the venue knows no newer one'),
          ...answers,
        },
      },
    },
    async ({ params: { id } }, reply) => {
      const hosted = matches.get(id)
      if (hosted === undefined) return refuseWith(reply, noMatch(id))
      if (renew === undefined) return refuseWith(reply, noNewer)
      const newer = await renew(hosted.match.rulebook).catch((error: unknown) => {
        throw notUpgraded(id, error)
      })
      const upgraded = await matches.upgrade(id, newer)
      return reply.send(upgraded.summary)
    },
  )
  app.delete<ById>(
    '/matches/:id',
    {
      preHandler,
      schema: {
        summary: 'End a match',
        security,
        params,
        response: { 204: { description: 'It has ended', type: 'null' }, 404: noSuchMatch, ...answers },
      },
    },
    ({ params: { id } }, reply) => {
      const hosted = matches.get(id)
      if (hosted === undefined) return refuseWith(reply, noMatch(id))
      hosted.close('ended-by-operator')
      return reply.code(204).send()
    },
  )
}

function detailsOf(hosted: HostedMatch): object {
  const { match } = hosted
  const { seats } = match.state.roster
  return {
    players: match.allSeats.map((seat) => {
      const { name, presence, bot } = seats.of(seat)
      return { seat, name, presence, bot }
    }),
    organiser: hosted.organiser ?? null,
    faults: Object.values(match.faultCounts).reduce((sum, count) => sum + count, 0),
  }
}
