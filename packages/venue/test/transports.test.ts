import { EventEmitter, once } from 'node:events'
import { connect as connectTcp, type Socket } from 'node:net'
import { createInterface } from 'node:readline'
import { steppingStones } from '@zinc-referee/examples'
import { type Log, openVenue, type Venue } from '@zinc-referee/venue'
import { connect, type SocketClass, socketOver } from '@zinc-referee/venue/client'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { WebSocket } from 'ws'
import type { ActionsFor, ViewFor } from 'zinc-referee'

let venue: Venue
const hosts: BroadcastChannel[] = []
beforeEach(async () => {
  venue = await openVenue({ tcp: 0 })
  venue.begin('one', steppingStones, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
})
afterEach(async () => {
  await venue.close()
  for (const host of hosts.splice(0)) host.close()
})

/** Each way to the venue, as a class of socket. */
const ways: { readonly [name: string]: () => SocketClass } = {
  WebSocket: () => WebSocket as SocketClass,
  'lines over TCP': () =>
    socketOver((_url, { open, message, closed }) => {
      const socket = connectTcp(venue.tcpPort ?? 0, '127.0.0.1', open)
      let last: { code?: number; why?: string } = {}
      createInterface(socket).on('line', (line) => {
        const { method, params } = JSON.parse(line)
        if (method === 'closed') last = params
        message(line)
      })
      socket.on('close', () => closed(last.code, last.why))
      return { send: (text) => void socket.write(`${text}\n`), close: () => socket.destroy() }
    }),
  BroadcastChannel: () => {
    const name = crypto.randomUUID()
    // The page that hosts: each message says which page it is of or for.
    const host = new BroadcastChannel(name)
    hosts.push(host)
    const ends = new Map<string, ReturnType<Venue['attach']>>()
    host.onmessage = ({ data: { from, text, gone } }: any) => {
      if (from === undefined) return
      const to = (message: object) => host.postMessage({ to: from, ...message })
      const end =
        ends.get(from) ??
        venue.attach({ send: (each) => to({ text: each }), close: (code, why) => to({ code, why }) })
      ends.set(from, end)
      if (gone === true) end.closed()
      else end.received(text)
    }
    return socketOver((_url, { open, message, closed }) => {
      const page = new BroadcastChannel(name)
      const from = crypto.randomUUID()
      page.onmessage = ({ data: { to, text, code, why } }: any) => {
        if (to === from && text !== undefined) message(text)
        else if (to === from) closed(code, why)
      }
      queueMicrotask(open)
      return {
        send: (text) => page.postMessage({ from, text }),
        close() {
          page.postMessage({ from, gone: true })
          page.close()
          closed()
        },
      }
    })
  },
  'the same process': () =>
    socketOver((_url, { open, message, closed }) => {
      const end = venue.attach({ send: (text) => queueMicrotask(() => message(text)), close: closed })
      queueMicrotask(open)
      return {
        send: (text) => end.received(text),
        close() {
          end.closed()
          // What still comes after the end is nobody's.
          end.received('{"jsonrpc":"2.0","id":99,"method":"join","params":{"name":"Vole"}}')
          closed()
        },
      }
    }),
}

test.each(Object.keys(ways))(
  'over %s: two play, one comes back after a lost connection, and both are told of the end',
  async (way) => {
    const Socket = ways[way]?.() as SocketClass
    const sockets: { close(): void }[] = []
    class Noted extends Socket {
      constructor(url: string) {
        super(url)
        sockets.push(this)
      }
    }
    const waiting: (() => void)[] = []
    const changed = (): void => {
      for (const go of waiting.splice(0)) go()
    }
    const until = async (is: () => unknown) => {
      while (!is()) await new Promise<void>((resolve) => waiting.push(resolve))
    }
    const ends: string[] = []
    const enter = (name: string) =>
      connect<ViewFor<typeof steppingStones>, never, ActionsFor<typeof steppingStones>>({
        url: `ws://127.0.0.1:${venue.port}/socket`,
        name,
        WebSocket: Noted,
        wait: async () => undefined,
        changed,
        ended(why) {
          ends.push(`${name}: ${why}`)
          changed()
        },
      })
    const [otter, heron] = [await enter('Otter'), await enter('Heron')]
    for (const client of [otter, heron]) expect(await client.act('roster.ready')).toEqual({ ok: true })
    await until(() => otter.view.phases.now.phase === 'live' && heron.view.turns.now.turn === 1)
    const first = otter.view.turns.now.seat === 'otter' ? otter : heron
    const [place = { x: 0, y: 0 }] = first.view.stones.options?.lay ?? []
    expect(await first.act('stones.lay', place)).toEqual({ ok: true })
    await until(() => heron.view.turns.now.turn === 2)
    sockets[0]?.close()
    await until(() => otter.state === 'lost')
    await until(() => otter.state === 'live')
    const [hosted] = venue.matches
    expect(otter.view).toEqual(hosted?.match.view('otter'))
    expect([sockets.length, hosted?.match.allSeats.length]).toEqual([3, 2])
    hosted?.close('enough')
    await until(() => ends.length === 2)
    expect(ends.sort()).toEqual(['Heron: the match has ended', 'Otter: the match has ended'])
  },
)

test('a venue that closes waits for nobody who has said nothing, does not answer, or does not read', async () => {
  await venue.close()
  const log = new EventEmitter()
  venue = await openVenue({
    tcp: 0,
    limits: { heartbeat: 20, waitingBytes: 1000, connectionsPerAddress: 3 },
    log: { info() {}, warn: (about: unknown, what: string) => log.emit(what, about) } as unknown as Log,
  })
  const { port, tcpPort = 0 } = venue
  const [silent, deaf, halfOpen, full] = [port, port, tcpPort, tcpPort].map((to) =>
    connectTcp({ port: to, host: '127.0.0.1', allowHalfOpen: true }),
  ) as [Socket, Socket, Socket, Socket]
  await Promise.all([silent, deaf, halfOpen, full].map((socket) => once(socket, 'connect')))
  deaf.write('GET /socket HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: Upgrade\r\nUpgrade: websocket\r\n')
  deaf.write(`Sec-WebSocket-Version: 13\r\nSec-WebSocket-Key: ${'A'.repeat(22)}==\r\n\r\n`)
  expect(String(await once(deaf, 'data'))).toContain('101 Switching Protocols')
  await once(connectTcp(tcpPort, '127.0.0.1'), 'close') // one too many
  for (const socket of [deaf, halfOpen, full]) socket.pause()
  full.write('{}\n'.repeat(200_000))
  expect(await once(log, 'client too slow')).toEqual([{ address: '127.0.0.1' }])
  await venue.close()
  await expect(fetch(venue.url)).rejects.toThrow('fetch failed')
  for (const socket of [silent, deaf, halfOpen, full]) socket.destroy()
})
