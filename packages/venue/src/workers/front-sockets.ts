import type { Server } from 'node:http'
import { type WebSocket, WebSocketServer } from 'ws'
import type { Limits } from '../limits.ts'
import type { Log } from '../log.ts'
import { addressesBy, originRefusal, SUBPROTOCOL } from '../wire/index.ts'
import type { Finder } from './find-worker.ts'
import { Passage } from './passage.ts'
import type { WorkerProcess } from './worker-process.ts'

/** Options of `openFrontSockets`. */
export interface FrontSockets {
  readonly origins: readonly string[]
  readonly proxies: readonly string[]
  /** True if anybody may come in: then only this machine may. */
  readonly isOpen: boolean
  readonly limits: Pick<Limits, 'messageBytes' | 'heartbeat'>
  readonly log: Log
}

/** Takes WebSockets for all workers. `lost`: a worker has died. */
export function openFrontSockets(
  http: Server,
  finder: Finder,
  { origins, proxies, isOpen, limits, log }: FrontSockets,
): { lost(worker: WorkerProcess): void; close(): void } {
  const passages = new Set<Passage>()
  const addressOf = addressesBy(proxies)
  const server = new WebSocketServer({
    server: http,
    path: '/socket',
    maxPayload: limits.messageBytes,
    handleProtocols: (offered) => (offered.has(SUBPROTOCOL) ? SUBPROTOCOL : false),
    verifyClient: ({ origin, req }, accept) => {
      const isRefused = originRefusal(origin, req, { origins, isOpen })
      if (isRefused) log.warn({ address: addressOf(req), why: 'origin' }, 'connection refused')
      accept(!isRefused, isRefused ? 403 : undefined)
    },
  })
  server.on('error', () => {}) // the HTTP server reports what keeps it from listening
  /** Who has given a sign of life since the last beat. */
  const heard = new WeakSet<WebSocket>()
  server.on('connection', (socket, request) => {
    const passage = new Passage(socket, addressOf(request), finder)
    passages.add(passage)
    heard.add(socket)
    socket.on('message', (data, isBinary) => {
      heard.add(socket)
      if (isBinary) socket.close(1003, 'text frames only')
      else passage.received(String(data))
    })
    socket.on('pong', () => heard.add(socket))
    socket.on('error', () => socket.terminate())
    socket.on('close', () => {
      passages.delete(passage)
      passage.closed()
    })
  })
  const pulse = setInterval(() => {
    for (const socket of server.clients)
      if (heard.delete(socket)) socket.ping()
      else socket.terminate()
  }, limits.heartbeat).unref()
  return {
    lost(worker) {
      for (const passage of passages) passage.lost(worker)
    },
    close() {
      clearInterval(pulse)
      for (const socket of server.clients) socket.close(1001, 'the venue closes')
      server.close()
      const cutOff = (): void => {
        for (const socket of server.clients) socket.terminate()
      }
      setTimeout(cutOff, limits.heartbeat).unref()
    },
  }
}
