import { once } from 'node:events'
import type { AddressInfo, Server } from 'node:net'
import type { HostClock } from 'zinc-referee/host'
import type { AdmissionCheck } from './admissions.ts'
import { venueError } from './errors.ts'
import { httpServer } from './http/index.ts'
import type { Limits } from './limits.ts'
import type { Log } from './log.ts'
import type { HostedMatch, Matches } from './matches/index.ts'
import { type Meters, makeMeters } from './meters.ts'
import type { VenueOptions } from './venue.ts'
import {
  type Channel,
  type ChannelEnd,
  Connections,
  doorsOf,
  openChannel,
  openSockets,
  tcpLines,
} from './wire/index.ts'

const SOCKET_PATH = '/socket'

/** What a venue serves its matches with. */
export interface Serving {
  readonly matches: Matches
  readonly admit: AdmissionCheck | undefined
  readonly limits: Limits
  readonly log: Log
  readonly clock: HostClock
  readonly isClosed: () => boolean
  readonly joined: (hosted: HostedMatch) => void
}
/** Where clients reach the matches of a venue. */
export interface Served {
  readonly meters: Meters
  /** Begins to listen. Returns the ports: of HTTP and WebSocket, and of lines. @throws ZR_VENUE_PORT */
  listen(address: string): Promise<readonly [port: number, tcpPort: number | undefined]>
  /** Connects a client that comes by a channel. */
  attach(channel: Channel): ChannelEnd
  /** Ends all connections and frees the ports. */
  close(): Promise<void>
}

/** Makes the servers of a venue: HTTP, WebSocket, and lines over TCP. */
export async function serve(given: Serving, options: VenueOptions): Promise<Served> {
  const { matches, admit, limits, log, clock, isClosed } = given
  const meters = makeMeters({ matches: () => matches.byId.size, connections: () => connections.size })
  const { renew, page, tls, origins = [], proxies = [], compress = false, circuit } = options
  const app = await httpServer({
    matches,
    admit,
    renew,
    meters,
    log,
    isClosed,
    circuit,
    page,
    socketPath: SOCKET_PATH,
    tls,
  })
  const doors = doorsOf(matches, {
    admit,
    circuit,
    allowViewAsAnySeat: options.allowViewAsAnySeat ?? false,
    allowDriving: options.allowDriving ?? false,
    maxWatchers: limits.watchers,
    wait: (ms, then) => clock.wakeAfter(ms, then),
    joined(hosted, seat) {
      log.info({ match: hosted.id, seat }, 'seat taken')
      circuit?.joined(hosted.id)
      given.joined(hosted)
    },
  })
  const connections = new Connections({ doors, limits, meters, log, now: () => clock.now() })
  const isOpen = admit === undefined
  const closeSockets = openSockets(app.server, connections, {
    path: SOCKET_PATH,
    // A page of another venue of the circuit is as good as its own.
    origins: () => [...origins, ...(circuit?.origins() ?? [])],
    proxies,
    isOpen,
    compress,
  })
  const lines = options.tcp === undefined ? undefined : tcpLines(connections)
  return {
    meters,
    listen: (address) =>
      Promise.all([
        listen(app.server, options.port ?? 0, address),
        lines && listen(lines, options.tcp ?? 0, address),
      ]),
    attach: (channel) => openChannel(connections, channel),
    async close() {
      connections.close()
      closeSockets()
      const freed = [app.server, ...(lines ? [lines] : [])].map((server) => once(server, 'close'))
      lines?.close()
      app.server.close()
      // Those too that have connected and not asked for anything yet, as browsers do.
      app.server.closeAllConnections()
      await Promise.all([...freed, app.close()])
    },
  }
}

async function listen(server: Server, port: number, host: string): Promise<number> {
  server.listen(port, host)
  try {
    await once(server, 'listening')
  } catch (error) {
    const why = error instanceof Error ? error.message : String(error)
    throw venueError('ZR_VENUE_PORT', { port, why }, error)
  }
  return (server.address() as AddressInfo).port
}
