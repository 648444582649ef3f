import type { IncomingMessage, Server } from 'node:http'
import proxyAddr from 'proxy-addr'
import { type WebSocket, WebSocketServer } from 'ws'
import { isOwnHost } from '../http/own-host.ts'
import type { Connections } from './connections.ts'
import type { Transport } from './transport.ts'

/** The subprotocol that clients may ask for (RFC 6455, 1.9). */
export const SUBPROTOCOL = 'zinc-referee.v1'
const CLOSE_UNSUPPORTED = 1003
/** Why a connection is not accepted, with its HTTP status. */
const refusals = { origin: 403, 'too-many': 429 } as const

/** Options of `openSockets`. */
export interface SocketsOptions {
  readonly path: string
  /** Pages of other origins whose scripts may connect. */
  readonly origins: () => readonly string[]
  /** Addresses of proxies whose `X-Forwarded-For` is believed. */
  readonly proxies: readonly string[]
  /** True if anybody may come in: then only this machine may. */
  readonly isOpen: boolean
  readonly compress: boolean
}

/** Returns what tells the address of a request: that of its connection, or what a proxy among these says. */
export function addressesBy(proxies: readonly string[]): (request: IncomingMessage) => string {
  const isProxy = proxyAddr.compile([...proxies])
  return (request) => proxyAddr(request, isProxy) ?? ''
}

/**
 * True if a connection is refused for where it comes from. Browsers say from which page a script connects; other clients
 * say nothing.
 */
export function originRefusal(
  origin: string | undefined,
  { headers: { host } }: IncomingMessage,
  { origins, isOpen }: { readonly origins: readonly string[]; readonly isOpen: boolean },
): boolean {
  const isOwn = !origin || (URL.canParse(origin) && new URL(origin).host === host)
  return (!isOwn && !origins.includes(origin)) || (isOpen && !isOwnHost(host))
}

/** Takes WebSockets (RFC 6455) of a server. Returns what closes them. */
export function openSockets(http: Server, connections: Connections, options: SocketsOptions): () => void {
  const { path, origins, proxies, isOpen, compress } = options
  const { limits, meters, log } = connections.context
  const addressOf = addressesBy(proxies)
  const refusalOf = (
    origin: string | undefined,
    request: IncomingMessage,
  ): keyof typeof refusals | undefined => {
    if (originRefusal(origin, request, { origins: origins(), isOpen })) return 'origin'
    return connections.hasRoomFor(addressOf(request)) ? undefined : 'too-many'
  }
  const server = new WebSocketServer({
    server: http,
    path,
    maxPayload: limits.messageBytes,
    perMessageDeflate: compress,
    handleProtocols: (offered) => (offered.has(SUBPROTOCOL) ? SUBPROTOCOL : false),
    verifyClient: ({ origin, req }, accept) => {
      const why = refusalOf(origin, req)
      if (why !== undefined) {
        meters.refusedConnections.inc({ why })
        log.warn({ address: addressOf(req), why }, 'connection refused')
      }
      accept(why === undefined, why && refusals[why])
    },
  })
  server.on('connection', (socket, request) => {
    const connection = connections.add(new SocketTransport(socket, addressOf(request)))
    socket.on('message', (data, isBinary) =>
      isBinary ? socket.close(CLOSE_UNSUPPORTED, 'text frames only') : connection.received(String(data)),
    )
    socket.on('pong', () => connection.isThere())
    socket.on('close', () => connections.remove(connection))
    socket.on('error', () => socket.terminate())
  })
  server.on('error', () => {}) // the HTTP server reports what keeps it from listening
  return () => server.close()
}

/** A class, since there are many: V8 keeps an object with getters of its own as a dictionary. */
class SocketTransport implements Transport {
  readonly address: string
  readonly patience = 1
  private readonly socket: WebSocket

  constructor(socket: WebSocket, address: string) {
    this.socket = socket
    this.address = address
  }

  get isOpen(): boolean {
    return this.socket.readyState === this.socket.OPEN
  }

  get waiting(): number {
    return this.socket.bufferedAmount
  }

  send(text: string): void {
    this.socket.send(text)
  }

  close(code: number, reason: string): void {
    this.socket.close(code, reason)
  }

  terminate(): void {
    this.socket.terminate()
  }

  ping(): void {
    this.socket.ping()
  }
}
