import { connect } from 'node:net'
import { reedRegatta } from '@zinc-referee/examples'
import { openVenue, type Venue } from '@zinc-referee/venue'
import fc from 'fast-check'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { WebSocket } from 'ws'
import { mutatedMessages } from './mutated-messages.ts'
import { greeting, SocketClient, twoClients } from './socket-client.ts'

const fast = { burst: 1e9, perSecond: 1e9 }
let venue: Venue
beforeEach(async () => {
  venue = await openVenue({ limits: { calls: fast, joins: fast }, tcp: 0, rulebooks: [reedRegatta] })
  venue.begin('one', reedRegatta, { seed: 'fair-1', settings: { phases: { countdown: 30 } } })
  venue.begin('two', reedRegatta, { seed: 'fair-2', listed: false })
})
afterEach(async () => {
  await venue.close()
  vi.useRealTimers()
})

/** Sends all of them in lines, and resolves to what was answered. */
function answers(messages: readonly string[]): Promise<string> {
  const socket = connect(venue.tcpPort ?? 0, '127.0.0.1')
  let heard = ''
  socket.on('data', (bytes) => {
    heard += bytes
    if (heard.includes('"id":"last"')) socket.end()
  })
  // The first line must be JSON: see the test of lines of HTTP.
  socket.write(
    `{"jsonrpc":"2.0","method":"ping"}\n${messages.join('\n')}\n{"jsonrpc":"2.0","id":"last","method":"ping"}\n`,
  )
  return new Promise((resolve) => socket.on('close', () => resolve(heard)))
}

test('20,000 broken messages: none fails inside, none changes another match, and those who play play on', async () => {
  const { otter, heron } = await twoClients(venue.port)
  const [one, two] = venue.matches
  const secret = 7_919_041
  one?.run((match) => match.report('raft.found', { seat: 'otter', crates: secret }))
  const before = two?.match.hash()
  const problems = new Set<string>()
  for (let part = 0; part < 20; part++) {
    const messages = fc.sample(mutatedMessages, { numRuns: 1000, seed: 1600 + part })
    const heard = await answers(messages)
    for (const [, problem] of heard.matchAll(/"problem":"([\w-]+)"/g)) problems.add(problem ?? '')
    expect(heard).not.toContain(String(secret))
    expect(heard).toContain('"id":"last"')
  }
  expect(problems).not.toContain('internal-error')
  for (const each of ['parse-error', 'invalid-request', 'invalid-params', 'unknown-method', 'not-joined'])
    expect(problems).toContain(each)
  expect(two?.match.hash()).toBe(before)
  expect(one?.match.faults).toEqual([])
  expect(await otter.act('raft.chase', { quarry: 'heron' })).toEqual({ ok: true })
  expect((await heron.ask('ping', {})).result.at).toBeGreaterThan(0)
  expect(venue.matches.length).toBeLessThan(40)
})

test('who has not joined may ask whether it is heard, and is told no time', async () => {
  expect((await new SocketClient(venue.port).ask('ping', {})).result).toEqual({})
})

test.each([
  ['a binary frame', (socket: WebSocket) => socket.send(Buffer.from('{}')), 1003],
  ['invalid UTF-8', (socket: WebSocket) => socket.send(Buffer.from([0xc3, 0x28]), { binary: false }), 1007],
  ['a frame that is too long', (socket: WebSocket) => socket.send('x'.repeat(70_000)), 1009],
])('%s ends the connection with its code, and nothing else', async (_what, send, code) => {
  const socket = new WebSocket(`ws://127.0.0.1:${venue.port}/socket`, 'zinc-referee.v1')
  await new Promise((open) => socket.once('open', open))
  expect(socket.protocol).toBe('zinc-referee.v1')
  send(socket)
  expect(await new Promise((closed) => socket.once('close', closed))).toBe(code)
  expect((await new SocketClient(venue.port).ask('join', { match: 'one', name: 'Otter' })).result.seat).toBe(
    'otter',
  )
})

test.each([
  [
    'deep nesting',
    `{"jsonrpc":"2.0","id":1,"method":"act","params":{"action":"a","input":${'['.repeat(40)}${']'.repeat(40)}}}`,
    'parse-error',
  ],
  [
    'brackets in a string',
    `{"jsonrpc":"2.0","id":1,"method":"act","params":{"action":"${'[{'.repeat(40)}"}}`,
    'not-joined',
  ],
  ['a batch', '[{"jsonrpc":"2.0","id":1,"method":"ping"}]', 'invalid-request'],
  ['another version', '{"jsonrpc":"1.0","id":1,"method":"ping"}', 'invalid-request'],
  [
    'prototype keys',
    '{"jsonrpc":"2.0","id":1,"method":"join","params":{"__proto__":{"name":"x"}}}',
    'invalid-params',
  ],
  ['a method of objects', '{"jsonrpc":"2.0","id":1,"method":"constructor"}', 'unknown-method'],
])('%s is answered with %s', async (_what, text, problem) => {
  expect((await new SocketClient(venue.port).raw(text)).error.data.problem).toBe(problem)
})

test.each([
  ['is silent over TCP', 10, 'tcpPort', '{"jsonrpc":"2.0","id":1,"method":"ping"}\n', ''],
  ['sends no frame but noise', 1e8, 'port', greeting, 'noise'],
] as const)('who %s is let go, though the other end never closes', async (_what, beat, port, first, then) => {
  await venue.close()
  vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] }) // it beats when this test says so
  venue = await openVenue({ limits: { heartbeat: beat }, tcp: 0 })
  const open = async (): Promise<string> =>
    /^zinc_referee_connections (\d+)$/m.exec(await (await fetch(`${venue.url}metrics`)).text())?.[1] ?? ''
  const socket = connect({ port: venue[port] ?? 0, host: '127.0.0.1', allowHalfOpen: true })
  socket.on('error', () => {})
  socket.write(first)
  await new Promise((heard) => socket.once('data', heard))
  expect(await open()).toBe('1')
  socket.write(then)
  vi.advanceTimersByTime(100)
  await expect.poll(open, { timeout: 20_000 }).toBe('0') // the library itself waits for half a minute
  socket.destroy()
})
