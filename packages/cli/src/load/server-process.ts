import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { reedRegatta } from '@zinc-referee/examples'
import { openVenue } from '@zinc-referee/venue'
import { type WebSocket, WebSocketServer } from 'ws'
import type { Order, ServerReport } from './orders.ts'

/** What a process of its own runs while it is under load: a venue, or a bare WebSocket server to compare it with. */
process.on('message', (order: Order) => {
  void (order.kind === 'venue' ? runVenue(order) : runBare(order))
})

process.on('disconnect', () => process.exit())

const tell = (report: ServerReport): void => void process.send?.(report)
setInterval(() => {
  const { user, system } = process.cpuUsage()
  tell({ kind: 'usage', cpu: (user + system) / 1000, memory: process.memoryUsage().rss })
}, 500).unref()

async function runVenue({ matches, records, keys, compress }: Order & { kind: 'venue' }): Promise<void> {
  const plenty = { burst: 1e9, perSecond: 1e9 }
  const venue = await openVenue({
    admissions: { keys },
    compress,
    ...(records !== undefined && { records: { folder: records } }),
    limits: { calls: plenty, joins: plenty, connectionsPerAddress: 1e6, matches: 1e6 },
  })
  const settings = { phases: { countdown: 30 }, rounds: { count: 1, length: 3_600_000 } }
  for (let match = 0; match < matches; match++) venue.begin(`m${match}`, reedRegatta, { settings })
  tell({ kind: 'open', port: venue.port })
  process.once('SIGTERM', () => void venue.close().then(() => process.exit(0)))
}

/** Sends frames as many and as long as the venue did, to the same sockets, and decides nothing. */
async function runBare({ answer, notice, others }: Order & { kind: 'bare' }): Promise<void> {
  const http = createServer()
  const server = new WebSocketServer({ server: http })
  const tables = new Map<string, Set<WebSocket>>()
  const toSender = 'x'.repeat(answer)
  const toOthers = `{"params":"${'x'.repeat(Math.max(0, notice - 13))}"}`
  server.on('connection', (socket, { url = '' }) => {
    const table = tables.get(url) ?? new Set()
    tables.set(url, table.add(socket))
    let owed = 0
    socket.on('message', (data) => {
      const { id } = JSON.parse(String(data)) as { readonly id: number }
      socket.send(`{"id":${id},"result":"${toSender}"}`)
      owed += others
      for (; owed >= 1; owed--) for (const each of table) each.send(toOthers)
    })
    socket.on('close', () => table.delete(socket))
  })
  http.listen(0, '127.0.0.1', () => tell({ kind: 'open', port: (http.address() as AddressInfo).port }))
}
