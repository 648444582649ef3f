import { WebSocket } from 'ws'
import { closingOf, LITTLE, MUCH } from './onward.ts'
import type { Transport } from './transport.ts'

/** How soon to look again whether a client has caught up, in ms. */
const LOOK_AGAIN = 20
/** The beginning of what a venue says when the match goes on at yet another one: the client joins here again, and is passed on. */
const MOVED = '{"jsonrpc":"2.0","method":"moved"'

/** Passes on what a client says to the venue of the circuit that has its match, and what that venue says to the client. */
export class Relay {
  private readonly upstream: WebSocket
  /** What the client says until the connection is there. */
  private early: string[] | undefined = []

  /** `url`: the socket of the other venue, which believes this one if its address is among its `proxies`. */
  constructor(url: string, client: Transport) {
    const upstream = new WebSocket(url, { headers: { 'x-forwarded-for': client.address } })
    this.upstream = upstream
    upstream.on('open', () => {
      for (const text of this.early ?? []) upstream.send(text)
      this.early = undefined
    })
    upstream.on('message', (data) => {
      const text = String(data)
      if (!client.isOpen || text.startsWith(MOVED)) return
      client.send(text)
      if (client.waiting > MUCH) waitFor(client, upstream)
    })
    upstream.on('error', () => {}) // it closes right after
    upstream.on('close', (code, reason) => client.close(...closingOf(code, reason)))
  }

  send(text: string): void {
    if (this.early === undefined) this.upstream.send(text)
    else this.early.push(text)
  }

  /** The client is gone. */
  close(): void {
    this.upstream.terminate()
  }
}

/** Reads nothing more until the client has caught up: then the other venue notices, and sends less. */
function waitFor(client: Transport, upstream: WebSocket): void {
  upstream.pause()
  const look = (): void => {
    if (client.isOpen && client.waiting > LITTLE) setTimeout(look, LOOK_AGAIN).unref()
    else upstream.resume()
  }
  look()
}
