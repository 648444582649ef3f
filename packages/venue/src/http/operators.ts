import type { FastifyReply, FastifyRequest } from 'fastify'
import type { AdmissionCheck } from '../admissions.ts'
import { problem, refuseWith } from './problem.ts'
import { problemAnswer } from './schemas.ts'

/** Who may begin and end matches: the holders of an operator's admission, or anybody where the venue is open. */
export interface Operators {
  /** True if a request is one's. */
  includes(request: FastifyRequest): Promise<boolean>
  /** What the document says of it. */
  readonly security: { readonly [scheme: string]: readonly string[] }[]
  readonly answers: { readonly [status: number]: object }
}

/** `admit`: checks a token; nothing where the venue is open. */
export function operatorsBy(admit: AdmissionCheck | undefined): Operators {
  if (admit === undefined) return { includes: async () => true, security: [], answers: {} }
  return {
    async includes({ headers }) {
      const [, token = ''] = /^Bearer (.+)$/.exec(headers.authorization ?? '') ?? []
      return (await admit(token))?.role === 'operator'
    },
    security: [{ admission: [] }],
    answers: { 401: problemAnswer('No admission of an operator') },
  }
}

/** Refuses what comes from somebody else. */
export const operatorsOnly =
  (operators: Operators) =>
  async (request: FastifyRequest, reply: FastifyReply): Promise<void> => {
    if (await operators.includes(request)) return
    await refuseWith(
      reply.header('www-authenticate', 'Bearer'),
      problem(401, 'not-admitted', "Only operators may do this. Send an admission with the role 'operator'."),
    )
  }
