import { WebSocket } from 'ws'

/** What all clients of a run add to. */
export interface Tally {
  /** From each action to its ruling, and from each report to its notice at each seat, in ms; and when, in ms of the run. */
  readonly rulings: Sample[]
  readonly notices: Sample[]
  bytes: number
  messages: number
  answerBytes: number
  refused: number
  /** Calls that were sent, and those that were answered. */
  sent: number
  answered: number
}
export interface Sample {
  readonly at: number
  readonly took: number
}

const ID = /^\{(?:"jsonrpc":"2.0",)?"id":(\d+)/

/** One socket under load: a seat, or the game server that reports to its match. */
export class LoadClient {
  private readonly address: string
  private readonly tally: Tally
  private readonly reported: Map<string, number>
  private socket: WebSocket | undefined
  private readonly waiting: Map<number, number> = new Map()
  private next = 1
  private opened: (() => void) | undefined
  private player: string | undefined
  private epoch = ''
  private n = 0

  /** `reported`: by match, when its game server has reported last. */
  constructor(address: string, tally: Tally, reported: Map<string, number>) {
    this.address = address
    this.tally = tally
    this.reported = reported
  }

  /** Connects, and calls `join` if there is something to join. */
  open(join?: object): Promise<void> {
    const socket = new WebSocket(this.address, { perMessageDeflate: false })
    this.socket = socket
    socket.on('error', () => {})
    socket.on('message', (data) => this.hear(String(data)))
    return new Promise((resolve) => {
      this.opened = resolve
      socket.once('open', () => {
        if (join === undefined) resolve()
        else
          this.send(
            'join',
            {
              ...join,
              ...(this.player !== undefined && {
                player: this.player,
                from: { epoch: this.epoch, n: this.n },
              }),
            },
            0,
          )
      })
    })
  }

  /** Calls a method, and measures how long its answer takes. */
  call(method: string, params: object): void {
    if (this.socket?.readyState !== WebSocket.OPEN) return
    const id = this.next++
    this.waiting.set(id, performance.now())
    this.tally.sent++
    this.send(method, params, id)
  }

  /** Reads nothing for a while, as a client on a bad line. */
  rest(ms: number): void {
    this.socket?.pause()
    setTimeout(() => this.socket?.resume(), ms).unref()
  }

  /** Loses its connection. What was not answered is not counted. */
  drop(): void {
    this.tally.sent -= this.waiting.size
    this.waiting.clear()
    this.socket?.terminate()
  }

  close(): void {
    this.socket?.close()
  }

  private send(method: string, params: object, id: number): void {
    this.socket?.send(JSON.stringify({ jsonrpc: '2.0', id, method, params }))
  }

  /** Reads no more of a message than it has to: the load must not be slower than what it measures. */
  private hear(text: string): void {
    const { tally } = this
    tally.bytes += text.length
    tally.messages++
    const id = ID.exec(text)?.[1]
    if (id === undefined) {
      this.n++
      if (text.includes('"raft.rammed"')) this.seen(this.reported.get(this.address))
      return
    }
    if (id === '0') {
      const { result } = JSON.parse(text)
      this.player = result?.player
      this.epoch = result?.epoch
      this.n = (result?.n ?? 0) as number
      this.opened?.()
      return
    }
    const began = this.waiting.get(Number(id))
    if (began === undefined) return
    this.waiting.delete(Number(id))
    tally.answered++
    tally.answerBytes += text.length
    if (!text.includes('"ok":true')) tally.refused++
    const now = performance.now()
    tally.rulings.push({ at: now, took: now - began })
  }

  private seen(reportedAt: number | undefined): void {
    if (reportedAt === undefined) return
    const now = performance.now()
    this.tally.notices.push({ at: now, took: now - reportedAt })
  }
}
