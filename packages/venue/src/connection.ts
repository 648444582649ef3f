import type { WebSocket } from 'ws'
import type { Limits } from './limits.ts'
import type { Meters } from './meters.ts'
import { errorText, type Incoming, type RpcProblem, readRequest, resultText } from './protocol.ts'
import { TokenBucket } from './token-bucket.ts'
import { type Doors, Refused, Visitor } from './visitor.ts'

const CLOSE_UNSUPPORTED = 1003
const CLOSE_TOO_SLOW = 4002

/** What all connections of a venue share. */
export interface Lobby {
  readonly doors: Doors
  readonly limits: Limits
  readonly meters: Meters
  /** Time in ms on a clock that never goes back. */
  readonly now: () => number
}

/**
 * One client's WebSocket. Its calls are carried out in their order. A message that breaks the protocol is answered with an
 * error and changes nothing.
 */
export class Connection {
  private readonly socket: WebSocket
  private readonly lobby: Lobby
  private readonly visitor: Visitor
  private readonly bucket: TokenBucket
  /** Calls that wait for one that is not answered yet. */
  private waiting: Incoming[] | undefined
  private isThere = true

  constructor(socket: WebSocket, lobby: Lobby) {
    this.socket = socket
    this.lobby = lobby
    this.bucket = new TokenBucket(lobby.limits.calls, lobby.now())
    this.visitor = new Visitor(
      { send: (text) => this.send(text), close: (code, reason) => socket.close(code, reason) },
      lobby.doors,
    )
    socket.on('message', (data, isBinary) =>
      isBinary
        ? socket.close(CLOSE_UNSUPPORTED, 'text frames only')
        : this.receive(readRequest(String(data))),
    )
    socket.on('pong', () => {
      this.isThere = true
    })
    socket.on('close', () => this.visitor.leave())
    socket.on('error', () => socket.terminate())
  }

  /** Ends the connection if it has not answered since the last call, and asks it again. */
  checkPulse(): void {
    if (!this.isThere) {
      this.socket.terminate()
      return
    }
    this.isThere = false
    this.socket.ping()
  }

  private receive(incoming: Incoming): void {
    if (this.waiting === undefined) void this.handle(incoming)
    else if (this.waiting.length < this.lobby.limits.calls.burst) this.waiting.push(incoming)
    else this.refuse(incoming, new Refused('too-fast'))
  }

  private handle(incoming: Incoming): Promise<void> | undefined {
    const { id } = incoming
    try {
      if (!this.bucket.take(this.lobby.now())) throw new Refused('too-fast')
      if (!incoming.ok) throw new Refused(incoming.problem, incoming.issues && { issues: incoming.issues })
      const result = this.visitor.call(incoming.call)
      if (typeof result === 'string') this.answer(incoming, resultText(id ?? null, result))
      else return this.later(incoming, result)
    } catch (error) {
      this.refuse(incoming, error)
    }
    return undefined
  }

  /** What comes meanwhile waits, so that all is done in its order. */
  private async later(incoming: Incoming, result: Promise<string>): Promise<void> {
    this.waiting ??= []
    try {
      this.answer(incoming, resultText(incoming.id ?? null, await result))
    } catch (error) {
      this.refuse(incoming, error)
    }
    const held = this.waiting
    this.waiting = undefined
    for (const each of held) this.receive(each)
  }

  private answer(incoming: Incoming, text: string, outcome: RpcProblem | 'ok' = 'ok'): void {
    const method = incoming.ok ? incoming.call.method : 'none'
    this.lobby.meters.calls.inc({ method, outcome })
    if (incoming.ok && incoming.id === undefined) return
    const { hosted } = this.visitor
    if (hosted === undefined || outcome !== 'ok') this.send(text)
    else hosted.whenSafe(() => this.send(text))
  }

  private refuse(incoming: Incoming, error: unknown): void {
    const { problem, details } = error instanceof Refused ? error : new Refused('internal-error')
    if (problem === 'not-admitted') this.lobby.meters.refusedAdmissions.inc()
    this.answer(incoming, errorText(incoming.id ?? null, problem, details), problem)
  }

  private send(text: string): void {
    const { socket, lobby } = this
    if (socket.readyState !== socket.OPEN) return
    if (socket.bufferedAmount > lobby.limits.waitingBytes) {
      // It gets a whole view when it joins again.
      socket.close(CLOSE_TOO_SLOW, 'this client reads too slowly')
      socket.terminate()
      return
    }
    lobby.meters.sentBytes.inc(text.length)
    socket.send(text)
  }
}
