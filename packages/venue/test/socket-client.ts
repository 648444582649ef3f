import { WebSocket } from 'ws'

/** A client that keeps every byte it was sent. */
export class SocketClient {
  readonly texts: string[] = []
  readonly closed: Promise<string>
  private readonly socket: WebSocket
  private readonly open: Promise<unknown>
  private next = 1

  constructor(port: number) {
    this.socket = new WebSocket(`ws://127.0.0.1:${port}/socket`)
    this.socket.on('message', (data) => this.texts.push(String(data)))
    this.open = new Promise((resolve) => this.socket.once('open', resolve))
    this.closed = new Promise((resolve) =>
      this.socket.once('close', (_code, reason) => resolve(String(reason))),
    )
  }
  async raw(text: string): Promise<any> {
    await this.open
    const before = this.texts.length
    this.socket.send(text)
    return this.until((message) => message.id !== undefined, before)
  }
  ask = (method: string, params: object): Promise<any> =>
    this.raw(JSON.stringify({ jsonrpc: '2.0', id: this.next++, method, params }))
  act = async (action: string, input: object = {}, more: object = {}) =>
    (await this.ask('act', { action, input, ...more })).result
  async until(wanted: (message: any) => boolean, from = 0): Promise<any> {
    for (let tries = 0; tries < 20_000; tries++) {
      const texts = this.texts.slice(from)
      const found = texts.map((text) => JSON.parse(text)).find(wanted)
      const idle = texts.find((text) => /"method":"view".*"patch":\[\]\}/.test(text))
      if (idle !== undefined) throw new Error(`a view message that says nothing: ${idle}`)
      if (found !== undefined) return found
      await new Promise((resolve) => setTimeout(resolve, 5))
    }
    throw new Error(`no such message among ${this.texts.join('\n')}`)
  }
  leave = (): void => this.socket.close()
  /** From now on it answers nothing, as if its line were cut. */
  deaf = (): void => void this.socket.pause()
}

/** Two clients that have sat down at the first match, once it is live. */
export async function twoClients(port: number) {
  const [otter, heron] = [new SocketClient(port), new SocketClient(port)]
  const joined = await otter.ask('join', { name: 'Otter' })
  await heron.ask('join', { name: 'Heron' })
  for (const each of [otter, heron]) await each.act('roster.ready')
  await otter.until(({ params }) => JSON.stringify(params?.patch ?? '').includes('"live"'))
  return { otter, heron, joined: joined.result }
}

/** What begins a WebSocket, for who speaks it by hand. */
export const greeting = `GET /socket HTTP/1.1\r\nHost: localhost\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n\
Sec-WebSocket-Version: 13\r\nSec-WebSocket-Key: ${Buffer.alloc(16).toString('base64')}\r\n\r\n`
