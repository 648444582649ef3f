import type { Route } from '../circuit-link.ts'
import type { Limits } from '../limits.ts'
import { type Log, placeOf } from '../log.ts'
import type { Meters } from '../meters.ts'
import { Refused } from './calls.ts'
import type { Doors } from './doors.ts'
import { errorText, type Incoming, type RpcProblem, readRequest, resultText } from './protocol.ts'
import { Relay } from './relay.ts'
import { TokenBucket } from './token-bucket.ts'
import type { Pace } from './trail.ts'
import type { Transport } from './transport.ts'
import { type Line, Visitor } from './visitor.ts'

const CLOSE_TOO_SLOW = 4002
const CLOSE_SILENT = 4003

/** What all connections of a venue share. */
export interface ConnectionContext {
  readonly doors: Doors
  readonly limits: Limits
  readonly meters: Meters
  readonly log: Log
  /** Time in ms on a clock that never goes back. */
  readonly now: () => number
  /** The joins of an address. */
  readonly joins: (address: string) => TokenBucket
}

/**
 * One client of the venue. Its calls are carried out in their order. A message that breaks the protocol is answered with an
 * error and changes nothing.
 */
export class Connection implements Line {
  private readonly transport: Transport
  private readonly context: ConnectionContext
  private readonly visitor: Visitor
  private readonly bucket: TokenBucket
  /** Passes on what is for another venue of the circuit. */
  private relay: Relay | undefined
  /** Calls that wait for one that is not answered yet. */
  private waiting: Incoming[] | undefined
  /** Beats since its last sign of life. */
  private missed = 0

  constructor(transport: Transport, context: ConnectionContext) {
    this.transport = transport
    this.context = context
    this.bucket = new TokenBucket(context.limits.calls, context.now())
    this.visitor = new Visitor(this, context.doors)
  }

  get pace(): Pace {
    const { behindBytes, slowBytes } = this.context.limits
    const { waiting } = this.transport
    return waiting > behindBytes ? 'behind' : waiting > slowBytes ? 'slow' : 'prompt'
  }

  /** A message has come. */
  received(text: string): void {
    this.missed = 0
    this.receive(readRequest(text, this.context.limits.depth))
  }

  /** The client has given a sign of life. */
  isThere(): void {
    this.missed = 0
  }

  /** Ends the connection, and tells the client why. */
  close(code: number, reason: string): void {
    this.transport.close(code, reason)
  }

  /** Ends the connection at once. */
  terminate(): void {
    this.transport.terminate()
  }

  /** The client is gone. */
  closed(): void {
    this.relay?.close()
    this.visitor.leave()
  }

  /** Ends the connection if it has been silent for too many beats, and asks it again. */
  checkPulse(): void {
    const { transport } = this
    if (this.missed++ < transport.patience) {
      transport.ping()
      return
    }
    transport.close(CLOSE_SILENT, 'no sign of life')
    transport.terminate()
  }

  private receive(incoming: Incoming): void {
    // Its match goes on elsewhere in a moment: the client asks again there, and it is done once.
    if (this.visitor.hosted?.isClosed === true) return
    if (this.relay !== undefined && incoming.ok && this.bucket.take(this.context.now()))
      this.relay.send(requestText(incoming))
    else if (this.waiting === undefined) void this.handle(incoming)
    else if (this.waiting.length < this.context.limits.calls.burst) this.waiting.push(incoming)
    else this.refuse(incoming, new Refused('too-fast'))
  }

  private handle(incoming: Incoming): Promise<void> | undefined {
    const { context } = this
    try {
      if (!this.bucket.take(context.now())) throw new Refused('too-fast')
      if (!incoming.ok) throw new Refused(incoming.problem, incoming.issues && { issues: incoming.issues })
      if (incoming.call.method === 'join' && !context.joins(this.transport.address).take(context.now()))
        throw new Refused('too-fast')
      const { hosted } = this.visitor
      const result = this.visitor.call(incoming.call)
      if (typeof result === 'string')
        this.answer(incoming, resultText(incoming.id ?? null, result), 'ok', hosted)
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

  private answer(
    incoming: Incoming,
    text: string,
    outcome: RpcProblem | 'ok' = 'ok',
    hosted = this.visitor.hosted,
  ): void {
    const method = incoming.ok ? incoming.call.method : 'none'
    this.context.meters.calls.inc({ method, outcome })
    if (incoming.ok && incoming.id === undefined) return
    if (hosted === undefined || outcome !== 'ok') this.send(text)
    else hosted.whenSafe(() => this.send(text))
  }

  private refuse(incoming: Incoming, error: unknown): void {
    const { meters, log } = this.context
    const { problem, details } = error instanceof Refused ? error : new Refused('internal-error')
    if (problem === 'elsewhere' && this.context.doors.circuit?.passesOn === true) {
      this.passOn(incoming, details as Route)
      return
    }
    if (problem === 'internal-error')
      log.error({ match: this.visitor.hosted?.id, ...placeOf(error) }, 'call failed')
    if (problem === 'not-admitted') {
      meters.refusedAdmissions.inc()
      log.warn({ address: this.transport.address }, 'admission refused')
    }
    this.answer(incoming, errorText(incoming.id ?? null, problem, details), problem)
  }

  /** From now on it is a client of the other venue. */
  private passOn(incoming: Incoming, { match, url }: Route): void {
    if (!incoming.ok || url === undefined) return
    this.relay = new Relay(url, this.transport)
    this.relay.send(requestText(incoming, { match }))
  }

  send(text: string): void {
    const { transport, context } = this
    if (!transport.isOpen) return
    if (transport.waiting > context.limits.waitingBytes) {
      // It gets a whole view when it joins again.
      log(context, transport.address)
      transport.close(CLOSE_TOO_SLOW, 'this client reads too slowly')
      transport.terminate()
      return
    }
    context.meters.sentBytes.inc(text.length)
    transport.send(text)
  }
}

/** A call as it came, with more params. */
const requestText = ({ id, call }: Incoming & { readonly ok: true }, more: object = {}): string =>
  JSON.stringify({ jsonrpc: '2.0', id, method: call.method, params: { ...call.params, ...more } })

const log = ({ log }: ConnectionContext, address: string): void => log.warn({ address }, 'client too slow')
