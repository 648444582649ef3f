import { readFileSync } from 'node:fs'
import {
  type ConnectionOptions,
  connect as connectNats,
  credsAuthenticator,
  errors,
  type NatsConnection,
} from '@nats-io/transport-node'
import { circuitError } from '../errors.ts'

/** Which NATS servers a circuit is on, and as whom. */
export interface NatsOptions {
  /** The addresses of the servers, such as `nats://10.0.0.1:4222`. A user and a password may stand before the `@`. */
  readonly servers: readonly string[]
  /** The path of a credentials file (JWT and seed). Default: none. */
  readonly credentials?: string
  /** TLS: the authority that has signed the servers' certificates, and this client's own, as PEM. Default: no TLS. */
  readonly tls?: { readonly ca?: string; readonly cert?: string; readonly key?: string }
}

/** How long a server may take to answer, in ms. */
export const ANSWER = 2000

/**
 * Connects to the servers, and again whenever the connection is lost.
 * @throws ZR_CIRCUIT_UNREACHABLE, ZR_CIRCUIT_NOT_ALLOWED
 */
export async function connectTo(
  { servers, credentials, tls }: NatsOptions,
  name: string,
): Promise<NatsConnection> {
  const urls = servers.map((server) => new URL(server.includes('://') ? server : `nats://${server}`))
  const [first] = urls
  const options: ConnectionOptions = {
    servers: urls.map(({ host }) => host),
    name,
    timeout: ANSWER,
    maxReconnectAttempts: -1,
    reconnectTimeWait: 250,
    pingInterval: 2000,
    maxPingOut: 2,
    ...(first !== undefined &&
      first.username !== '' && {
        user: decodeURIComponent(first.username),
        pass: decodeURIComponent(first.password),
      }),
    ...(credentials !== undefined && { authenticator: credsAuthenticator(readFileSync(credentials)) }),
    ...(tls !== undefined && { tls: { ...tls } }),
  }
  const names = urls.map(({ host }) => host).join(', ')
  try {
    return await connectNats(options)
  } catch (error) {
    if (error instanceof errors.AuthorizationError)
      throw circuitError('ZR_CIRCUIT_NOT_ALLOWED', { servers: names }, error)
    const why = error instanceof Error ? error.message : String(error)
    throw circuitError('ZR_CIRCUIT_UNREACHABLE', { servers: names, why }, error)
  }
}
