import { once } from 'node:events'
import { type AddressInfo, connect, createServer, type Socket } from 'node:net'

/** A way to a server that can be cut: nothing gets through, and nobody is told. */
export class CutLine {
  readonly url: Promise<string>
  private isCut = false
  private readonly sockets: Set<Socket> = new Set()
  private readonly server

  constructor(target: string) {
    const { hostname, port } = new URL(target)
    this.server = createServer((client) => {
      if (this.isCut) {
        client.destroy()
        return
      }
      const server = connect(Number(port), hostname)
      for (const socket of [client, server]) {
        this.sockets.add(socket)
        socket.on('error', () => {})
        socket.on('close', () => {
          this.sockets.delete(socket)
          for (const other of [client, server]) other.destroy()
        })
      }
      client.on('data', (data) => this.isCut || server.write(data))
      server.on('data', (data) => this.isCut || client.write(data))
    }).listen(0, '127.0.0.1')
    this.url = once(this.server, 'listening').then(
      () => `nats://127.0.0.1:${(this.server.address() as AddressInfo).port}`,
    )
  }

  cut(): void {
    this.isCut = true
  }

  /** What was under way is lost: whoever was connected connects again. */
  heal(): void {
    this.isCut = false
    for (const socket of this.sockets) socket.destroy()
  }

  close(): void {
    this.server.close()
    this.heal()
  }
}
