import type { IncomingMessage, Server } from 'node:http'
import { WebSocketServer } from 'ws'
import { Connection, type Lobby } from './connection.ts'

/** Why a connection is not accepted, with its HTTP status. */
const refusals = { origin: 403, 'too-many': 429 } as const

/** The WebSockets of a venue (RFC 6455). */
export class Sockets {
  private readonly server: WebSocketServer
  private readonly lobby: Lobby
  private readonly origins: readonly string[]
  private readonly connections: Set<Connection> = new Set()
  /** By address, how many connections it has. */
  private readonly addresses: Map<string, number> = new Map()
  private readonly pulse: NodeJS.Timeout

  constructor(http: Server, path: string, lobby: Lobby, origins: readonly string[]) {
    this.lobby = lobby
    this.origins = origins
    this.server = new WebSocketServer({
      server: http,
      path,
      maxPayload: lobby.limits.messageBytes,
      verifyClient: ({ origin, req }, accept) => {
        const why = this.refusalOf(origin, req)
        if (why !== undefined) lobby.meters.refusedConnections.inc({ why })
        accept(why === undefined, why && refusals[why])
      },
    })
    this.server.on('connection', (socket, { socket: { remoteAddress = '' } }) => {
      const connection = new Connection(socket, lobby)
      this.connections.add(connection)
      this.count(remoteAddress, 1)
      socket.on('close', () => {
        this.connections.delete(connection)
        this.count(remoteAddress, -1)
      })
    })
    this.server.on('error', () => {}) // the HTTP server reports what keeps it from listening
    this.pulse = setInterval(() => {
      for (const each of this.connections) each.checkPulse()
    }, lobby.limits.heartbeat).unref()
  }

  /** Number of open connections. */
  get size(): number {
    return this.connections.size
  }

  close(): void {
    clearInterval(this.pulse)
    for (const client of this.server.clients) client.close(1001, 'the venue closes')
    this.server.close()
  }

  /** Browsers say from which page a script connects; other clients say nothing. */
  private refusalOf(
    origin: string | undefined,
    { headers, socket }: IncomingMessage,
  ): keyof typeof refusals | undefined {
    const isOwn = !origin || (URL.canParse(origin) && new URL(origin).host === headers.host)
    if (!isOwn && !this.origins.includes(origin)) return 'origin'
    const count = this.addresses.get(socket.remoteAddress ?? '') ?? 0
    return count >= this.lobby.limits.connectionsPerAddress ? 'too-many' : undefined
  }

  private count(address: string, by: 1 | -1): void {
    const count = (this.addresses.get(address) ?? 0) + by
    if (count > 0) this.addresses.set(address, count)
    else this.addresses.delete(address)
  }
}
