import { createServer, type Server, type Socket } from 'node:net'
import type { Limits } from '../limits.ts'
import type { Connections } from './connections.ts'
import { notificationText } from './protocol.ts'
import type { Transport } from './transport.ts'

/** Takes the same messages as plain lines over TCP, for engines and scripts without WebSocket. */
export function tcpLines(connections: Connections): Server {
  const { limits, meters } = connections.context
  return createServer((socket) => {
    const address = socket.remoteAddress ?? ''
    if (!connections.hasRoomFor(address)) {
      meters.refusedConnections.inc({ why: 'too-many' })
      socket.destroy()
      return
    }
    socket.setNoDelay(true)
    const transport = transportOf(socket, address, limits)
    const connection = connections.add(transport)
    let rest = Buffer.alloc(0)
    let isFirst = true
    socket.on('data', (bytes) => {
      rest = Buffer.concat([rest, bytes])
      for (let end = rest.indexOf('\n'); end !== -1 && transport.isOpen; end = rest.indexOf('\n')) {
        const line = rest.toString('utf8', 0, end).trim()
        rest = rest.subarray(end + 1)
        if (Buffer.byteLength(line) > limits.messageBytes) transport.close(1009, 'this line is too long')
        // A page can make a browser send lines of HTTP anywhere, with lines of its own behind them.
        else if (isFirst && !line.startsWith('{')) transport.close(1002, 'this port takes JSON-RPC alone')
        else if (line !== '') connection.received(line)
        isFirst = false
      }
      if (rest.length > limits.messageBytes) transport.close(1009, 'this line is too long')
    })
    socket.on('close', () => connections.remove(connection))
    socket.on('error', () => {}) // it closes by itself
  })
}

/** A line says why it ends, since TCP has no place for a reason. */
function transportOf(socket: Socket, address: string, { heartbeat }: Pick<Limits, 'heartbeat'>): Transport {
  let isOpen = true
  return {
    address,
    // Without pings: its client calls something at least every sixth beat.
    patience: 6,
    get isOpen() {
      return isOpen && socket.writable
    },
    get waiting() {
      return socket.writableLength
    },
    send: (text) => void socket.write(`${text}\n`),
    close(code, why) {
      if (!isOpen) return
      socket.end(`${notificationText('closed', JSON.stringify({ code, why }))}\n`)
      isOpen = false
    },
    terminate() {
      socket.destroySoon()
      // Its last lines never leave if the client does not read.
      setTimeout(() => socket.destroy(), heartbeat).unref()
    },
    ping: () => {},
  }
}
