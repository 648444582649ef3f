import type { FastifyInstance } from 'fastify'
import type { CircuitLink } from '../circuit-link.ts'
import { type Operators, operatorsOnly } from './operators.ts'

/** `/circuit`: a page for browsers, and what it shows as data for operators. */
export function circuitRoutes(app: FastifyInstance, circuit: CircuitLink, operators: Operators): void {
  const { security, answers } = operators
  const onlyOperators = operatorsOnly(operators)
  app.get(
    '/circuit',
    {
      schema: {
        summary: 'Look at all venues of the circuit',
        security,
        response: {
          200: { description: 'The venues', type: 'object', additionalProperties: true },
          ...answers,
        },
      },
    },
    async (request, reply) => {
      if (request.headers.accept?.includes('text/html') === true)
        return reply
          .type('text/html; charset=utf-8')
          .serializer(String)
          .send(circuit.page as never)
      await onlyOperators(request, reply)
      return reply.sent ? reply : reply.send(await circuit.report())
    },
  )
}
