import { VenueError } from '@zinc-referee/venue'

const messages = {
  ZR_CIRCUIT_UNREACHABLE: (d: { servers: string; why: string }) =>
    `No NATS server answers at ${d.servers}: ${d.why}. Start one, or correct the addresses.`,
  ZR_CIRCUIT_NOT_ALLOWED: (d: { servers: string }) =>
    `The NATS servers at ${d.servers} do not accept these credentials. Correct the user and password, or the credentials file.`,
  ZR_CIRCUIT_NO_JETSTREAM: (d: { servers: string; why: string }) =>
    `JetStream is not ready at ${d.servers}: ${d.why}. Turn it on (\`jetstream {}\`), and start enough servers for a quorum.`,
  ZR_CIRCUIT_NOT_OPEN: (_: object) =>
    'No venue has been opened with this circuit. Pass it to openVenue first.',
  ZR_CIRCUIT_NAME_TAKEN: (d: { name: string }) =>
    `Another venue has taken the name '${d.name}' in the circuit. Give each venue a name of its own.`,
} as const

type Messages = typeof messages
/** The code of an error of this package. */
export type CircuitErrorCode = keyof Messages
/** The codes of all errors that a circuit throws. */
export const circuitErrorCodes: readonly CircuitErrorCode[] = Object.keys(messages) as CircuitErrorCode[]

/** Returns an error that an operator can fix. */
export function circuitError<C extends CircuitErrorCode>(
  code: C,
  details: Parameters<Messages[C]>[0],
  cause?: unknown,
): VenueError {
  return new VenueError(code, (messages[code] as (given: typeof details) => string)(details), cause)
}
