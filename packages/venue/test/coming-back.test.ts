import { openVenue } from '@zinc-referee/venue'
import { connect } from '@zinc-referee/venue/client'
import { afterEach, expect, test, vi } from 'vitest'
import { WebSocket as WsSocket } from 'ws'
import { book, entered, HeldSocket, kept } from './drum.ts'

afterEach(() => void vi.useRealTimers())

test('after a lost connection it comes back by itself, and sends again, once, what was not answered', async () => {
  const venue = await openVenue()
  const hosted = venue.begin('drum', book, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
  const { sockets, Socket } = kept()
  const states: string[] = []
  const waits: number[] = []
  let goOn: (value?: unknown) => void = () => {}
  const client = await connect<any>({
    url: `ws://127.0.0.1:${venue.port}/socket`,
    name: 'Otter',
    WebSocket: Socket,
    changed: () => states.push(client?.state ?? ''),
    ended: (why) => states.push(`ended: ${why}`),
    wait: (ms) =>
      new Promise((go) => {
        waits.push(ms)
        goOn = go
      }),
  })
  await client.act('roster.ready')
  await expect.poll(() => hosted.match.state.phases.now.phase).toBe('live')
  // The answer is lost with the connection; then the action comes twice, and is done once.
  const beat = client.act('drum.beat')
  sockets[0]?.removeAllListeners('message')
  sockets[0]?.on('message', () => sockets[0]?.terminate())
  await expect.poll(() => client.state).toBe('lost')
  const later = client.act('drum.beat')
  goOn()
  expect(await beat).toEqual({ ok: true })
  expect(await later).toEqual({ ok: true })
  await expect.poll(() => client.replica.view.drum.drum.beats).toBe(2)
  expect([client.seat, client.state, sockets.length, states.includes('lost')]).toEqual([
    'otter',
    'live',
    2,
    true,
  ])
  expect(waits.every((ms) => ms >= 200 && ms <= 400)).toBe(true)
  hosted.close()
  await expect.poll(() => states.at(-1)).toBe('ended: the match has ended')
  await expect(client.act('drum.beat')).rejects.toMatchObject({ code: 'ZR_VENUE_CONNECTION' })
  await venue.close()
})

test('it tries again after 0.4 s, then after twice that, at most 10 s, each at random between half of it and all', async () => {
  const venue = await openVenue()
  venue.begin('drum', book, { seed: 'fair-1' })
  const waits: number[] = []
  const tried = new Set<string>()
  await new Promise<void>((over) => {
    let tries = 0
    class Torn extends WsSocket {
      constructor(url: string) {
        tried.add(url)
        super(tries++ === 0 ? url : 'ws://127.0.0.1:1/socket')
        if (tries === 1) this.once('message', () => setTimeout(() => this.terminate(), 10))
      }
    }
    const client = connect<any>({
      url: `ws://127.0.0.1:${venue.port}/socket`,
      name: 'Otter',
      WebSocket: Torn,
      changed() {},
      ended: () => over(),
      async wait(ms) {
        waits.push(ms)
        if (waits.length === 8) (await client).leave()
      },
    })
  })
  const most = [400, 800, 1600, 3200, 6400, 10_000, 10_000, 10_000]
  expect([...tried]).toEqual([`ws://127.0.0.1:${venue.port}/socket`])
  expect(waits.map((ms, at) => ms >= most[at]! / 2 && ms <= most[at]!)).toEqual(most.map(() => true))
  await venue.close()
  expect(waits.length).toBe(8) // whoever has left tries no more
})

test('a venue that says nothing for 20 s is taken for gone, and another is tried first', async () => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  const tried: string[] = []
  /** A machine that is gone: it takes the connection, and says nothing. */
  class Mute extends HeldSocket {
    constructor(url: string) {
      super()
      tried.push(url)
    }
    override close(): void {
      this.readyState = 2
    }
  }
  const joined = { match: 'pond', epoch: 'a', n: 0, at: 0, others: ['ws://heron'], view: {} }
  const states: string[] = []
  const options = {
    WebSocket: Mute,
    wait: async () => undefined,
    changed: () => void states.push(client.state),
  }
  const entering = entered(options)
  HeldSocket.last.begin()
  HeldSocket.last.onmessage?.({ data: JSON.stringify({ id: 1, result: joined }) })
  const client = await entering
  await vi.advanceTimersByTimeAsync(19_999)
  expect([client.state, tried]).toEqual(['live', ['ws://fair']])
  await vi.advanceTimersByTimeAsync(1)
  expect([states, tried]).toEqual([['lost'], ['ws://fair', 'ws://heron']])
  await vi.advanceTimersByTimeAsync(20_000) // the connection does not even open
  expect(tried).toEqual(['ws://fair', 'ws://heron', 'ws://fair'])
  client.leave()
  const first = expect(entered(options)).rejects.toThrow('it does not answer')
  await vi.advanceTimersByTimeAsync(20_000)
  await first
})

test('it asks for the time four times at once, then every 2 s, then every 10 s', async () => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  class Brisk extends HeldSocket {
    override send(text: string): void {
      super.send(text)
      const { id, method } = JSON.parse(text)
      const pulse = this.sent.length < 9 ? { at: 0 } : {}
      const result = method === 'join' ? { match: 'pond', epoch: 'a', n: 0, at: 0, view: {} } : pulse
      this.onmessage?.({ data: JSON.stringify({ id, result }) })
    }
  }
  const entering = entered({ WebSocket: Brisk })
  const socket = HeldSocket.last
  socket.begin()
  const client = await entering
  const asked: number[] = []
  for (const ms of [1000, 8000, 21_000]) {
    await vi.advanceTimersByTimeAsync(ms)
    asked.push(socket.sent.length - 1)
  }
  expect(asked).toEqual([4, 8, 10])
  expect(client.replica.now(0)).not.toBeNaN() // an answer without a time tells none
  client.leave()
})

test('while it comes back it sends its join alone; then what waits, in order', async () => {
  const joined = { match: 'pond', epoch: 'a', n: 0, at: 0, others: [], view: {} }
  const asked = (): string[] =>
    HeldSocket.last.sent
      .map((text) => JSON.parse(text))
      .flatMap(({ method, params }) => (method === 'ping' ? [] : (params.action ?? method)))
  const answer = (): void => HeldSocket.last.onmessage?.({ data: JSON.stringify({ id: 1, result: joined }) })
  const entering = entered({ WebSocket: HeldSocket, wait: async () => undefined })
  const first = HeldSocket.last
  first.begin()
  answer()
  const client = await entering
  first.close()
  client.act('drum.beat').catch(() => {})
  await expect.poll(() => HeldSocket.last !== first).toBe(true)
  HeldSocket.last.begin()
  client.act('drum.rest').catch(() => {})
  expect(asked()).toEqual(['join'])
  answer()
  await expect.poll(asked).toEqual(['join', 'drum.beat', 'drum.rest'])
  client.leave()
})

test('a client that is sent on and on gives up after five venues', async () => {
  const tried: string[] = []
  class Moving extends HeldSocket {
    constructor(url: string) {
      super()
      tried.push(url)
      setTimeout(() => this.begin())
    }
    override send(text: string): void {
      const { id } = JSON.parse(text)
      const data = { problem: 'elsewhere', match: 'pond', url: `ws://venue-${tried.length}` }
      this.onmessage?.({ data: JSON.stringify({ id, error: { message: 'It is elsewhere.', data } }) })
    }
  }
  await expect(entered({ WebSocket: Moving })).rejects.toThrow('It is elsewhere.')
  expect(tried).toEqual(['ws://fair', ...[1, 2, 3, 4, 5].map((n) => `ws://venue-${n}`)])
})
