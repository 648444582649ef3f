import { mkdtempSync, readdirSync } from 'node:fs'
import { createServer as createHttp } from 'node:http'
import { connect as connectTcp, createServer, type Server } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openWorkers, type Workers } from '@zinc-referee/venue'
import { type Client, connect } from '@zinc-referee/venue/client'
import { afterEach, expect, test } from 'vitest'
import { WebSocket } from 'ws'
import { Finder } from '../src/workers/find-worker.ts'
import { answerHttp } from '../src/workers/front-http.ts'
import { WorkerProcess } from '../src/workers/worker-process.ts'
import { greeting, SocketClient } from './socket-client.ts'

const entry = new URL('worker-entry.mjs', import.meta.url)
const open: Workers[] = []
afterEach(async () => {
  for (const workers of open.splice(0)) await workers.close()
})
async function begin(count: number, folder = mkdtempSync(join(tmpdir(), 'workers-')), limits = {}) {
  const workers = await openWorkers({ workers: count, entry, args: [folder], nodeArgs: [], limits })
  open.push(workers)
  const http = async (path: string, init: RequestInit = {}) => {
    const answer = await fetch(new URL(path, workers.url), init)
    const text = await answer.text()
    return { status: answer.status, text, json: () => JSON.parse(text) }
  }
  const post = (body: object) =>
    http('/matches', {
      method: 'POST',
      body: JSON.stringify(body),
      headers: { 'content-type': 'application/json' },
    })
  const ids = async () =>
    (await http('/matches'))
      .json()
      .map(({ id }: any) => id)
      .sort()
  return { workers, folder, http, post, ids }
}
async function enter(workers: Workers, given: object) {
  const waiting: (() => void)[] = []
  const ended: string[] = []
  const changed = (): void => {
    for (const go of waiting.splice(0)) go()
  }
  const client: Client<any> = await connect<any>({
    url: `ws://127.0.0.1:${workers.port}/socket`,
    WebSocket,
    wait: () => new Promise((soon) => setTimeout(soon, 50)),
    changed,
    ended: (why) => void ended.push(why),
    ...given,
  })
  const until = async (is: () => unknown) => {
    while (!is()) await new Promise<void>((resolve) => waiting.push(resolve))
  }
  return { client, until, ended }
}

test('matches are spread, found and listed; who searches a mode at the same instant meets', async () => {
  const { workers, folder, http, post, ids } = await begin(2)
  for (const id of ['one', 'two', 'three', 'four'])
    expect((await post({ mode: 'stepping-stones', id })).status).toBe(201)
  expect((await post({ mode: 'stepping-stones', id: 'two' })).json()).toMatchObject({ status: 409 })
  expect((await post({ mode: 'none' })).status).toBe(404)
  const each = ['worker-1', 'worker-2'].map((worker) =>
    readdirSync(join(folder, worker)).filter((name) => name.endsWith('.jsonl')),
  )
  expect(each.map((names) => names.length)).toEqual([2, 2])
  expect(await ids()).toEqual(['four', 'one', 'three', 'two'])
  expect((await http('/matches/three')).json()).toMatchObject({ id: 'three', phase: 'lobby' })
  expect((await http('/matches/none')).json()).toMatchObject({ status: 404, code: 'unknown-match' })
  expect((await http('/ready')).json()).toEqual({ ready: true })
  const met = await Promise.all(
    ['Otter', 'Heron', 'Vole', 'Newt'].map((name) => enter(workers, { mode: 'reed-regatta', name })),
  )
  expect(new Set(met.map(({ client }) => client.id)).size).toBe(1)
  const { client: watcher } = await enter(workers, { match: 'four', watch: 'spectator' })
  expect([watcher.id, watcher.seat]).toEqual(['four', null])
  // Whoever has joined stays with its match, whichever worker has the one that it asks for next.
  const settled = new SocketClient(workers.port)
  for (const [match, at] of [
    ['one', 'result'],
    ['two', 'error'],
    ['three', 'error'],
    ['four', 'error'],
  ] as const)
    expect((await settled.ask('join', { match, name: 'Toad' }))[at]).toBeDefined()
  settled.leave()
  const metrics = (await http('/metrics')).text
  expect(metrics).toMatch(/^zinc_referee_matches\{worker="1"\} \d$/m)
  expect(metrics).toMatch(/^zinc_referee_calls_total\{worker="2",method="join",outcome="ok"\} \d$/m)
  expect(metrics.match(/^# TYPE zinc_referee_matches /gm)).toHaveLength(1)
  expect(metrics.endsWith('# EOF\n')).toBe(true)
  expect((await http('/matches/one', { method: 'DELETE' })).status).toBe(204)
  for (const { client } of [...met, { client: watcher }]) client.leave()
})

test('a worker that is killed comes back with its matches, and so do their clients; the others notice nothing', async () => {
  const { workers, post } = await begin(2)
  for (const id of ['one', 'two'])
    await post({ mode: 'stepping-stones', id, settings: { phases: { countdown: 0 } }, emptyFor: null })
  const [hit, calm] = [
    await enter(workers, { match: 'two', name: 'Otter' }),
    await enter(workers, { match: 'one', name: 'Heron' }),
  ]
  expect(await hit.client.act('roster.ready')).toEqual({ ok: true })
  await hit.until(() => hit.client.view.roster.seats.otter.ready)
  const strangers = [new SocketClient(workers.port), new SocketClient(workers.port)]
  for (const stranger of strangers) await stranger.ask('ping', {})
  const steady = new SocketClient(workers.port)
  await steady.ask('join', { match: 'one', watch: 'spectator' })
  const [, second = 0] = workers.pids // 'one' began at the first worker
  process.kill(second, 'SIGKILL')
  /** The match is never said to be unknown, neither before the worker is seen to have died, nor after. */
  const early = (stranger?: SocketClient) =>
    Promise.race([
      stranger
        ?.ask('join', { match: 'two', name: 'Vole' })
        .then((answer) => answer.error?.data.problem ?? 'joined'),
      stranger?.closed.then(() => 'closed'),
    ])
  const atOnce = early(strangers[0])
  await hit.until(() => hit.client.state === 'lost')
  const waits = hit.client.act('roster.unready')
  for (const answer of [atOnce, early(strangers[1])]) expect(await answer).not.toBe('unknown-match')
  expect(await calm.client.act('roster.ready')).toEqual({ ok: true })
  expect(await waits).toEqual({ ok: true })
  await hit.until(() => hit.client.state === 'live' && !hit.client.view.roster.seats.otter.ready)
  expect([hit.client.seat, calm.client.state, hit.ended, calm.ended]).toEqual(['otter', 'live', [], []])
  expect(workers.pids).toHaveLength(2)
  expect(workers.pids).not.toContain(second)
  expect(await Promise.race([steady.ask('ping', {}), steady.closed])).toMatchObject({ result: {} })
  for (const each of [hit.client, calm.client, steady]) each.leave()
  process.kill(workers.pids[0] ?? 0, 'SIGKILL')
  while (workers.pids.length > 1) await new Promise((soon) => setTimeout(soon, 5))
  await workers.close() // who is gone is not waited for
})

test('the front refuses a body that is too large, and a client that sends too much before an answer', async () => {
  const { workers, post } = await begin(1)
  const most = 256 * 1024 - JSON.stringify({ mode: 'stepping-stones', id: '' }).length
  const padding = (size: number) => post({ mode: 'stepping-stones', id: 'x'.repeat(size) })
  expect([(await padding(most + 1)).status, (await padding(most)).status]).toEqual([413, 400])
  const foreign = new WebSocket(`ws://127.0.0.1:${workers.port}/socket`, { origin: 'https://other.example' })
  expect(await new Promise((answered) => foreign.once('error', answered))).toMatchObject({
    message: expect.stringContaining('403'),
  })
  const socket = new WebSocket(`ws://127.0.0.1:${workers.port}/socket`)
  await new Promise((open) => socket.once('open', open))
  const closed = new Promise((done) => socket.once('close', done))
  for (let id = 0; id < 70; id++) socket.send(JSON.stringify({ jsonrpc: '2.0', id, method: 'ping' }))
  expect(await closed).toBe(1008)
  const calm = new SocketClient(workers.port)
  const pings = Array.from({ length: 20 }, () => calm.ask('ping', {}))
  expect((await Promise.all(pings)).map(({ result }) => result)).toEqual(pings.map(() => ({})))
})

test('an answer that a worker does not live to give is 503; who breaks a frame is let go', async () => {
  const { workers, http, post } = await begin(1, undefined, { heartbeat: 1e8 })
  await post({ mode: 'stepping-stones', id: 'one' })
  const [worker = 0] = workers.pids
  process.kill(worker, 'SIGSTOP')
  const asked = ['/matches/one', '/openapi.json'].map((path) => http(path))
  await new Promise((soon) => setTimeout(soon, 100)) // the same is said if it is not yet on its way by then
  process.kill(worker, 'SIGKILL')
  for (const answer of asked) expect(await answer).toMatchObject({ status: 503 })
  const socket = connectTcp({ port: workers.port, host: '127.0.0.1', allowHalfOpen: true })
  socket.on('error', () => {})
  socket.write(greeting)
  await new Promise((heard) => socket.once('data', heard))
  socket.write('noise')
  await expect.poll(() => socket.readableEnded, { timeout: 20_000 }).toBe(true) // the library itself waits for 30 s
  socket.destroy()
})

const portOf = (server: Server) =>
  new Promise<number>((open) => server.listen(0, '127.0.0.1', () => open(Object(server.address()).port)))

test('a worker that ends within an answer is taken for missing, and whoever waits for the front is not lost with it', async () => {
  const torn = createServer((socket) => {
    socket.on('error', () => {})
    socket.once('data', () => socket.end('HTTP/1.1 200 OK\r\ncontent-length: 90\r\n\r\n[{"id":'))
  })
  const worker = Object.assign(Object.create(WorkerProcess.prototype), { port: await portOf(torn) })
  const finder = new Finder([worker])
  expect(await finder.matches()).toEqual([])
  expect([await finder.ownerOf('one'), await finder.idlest()]).toEqual(['missing', worker])
  const front = createHttp((asked, answer) => answerHttp(finder, asked, answer, () => false))
  const passed = fetch(`http://127.0.0.1:${await portOf(front)}/openapi.json`)
  await expect(passed.then((answer) => answer.text())).rejects.toThrow('terminated')
  for (const server of [torn, front]) server.close()
})

test('a client that gives no sign of life is gone, and one that does stays', async () => {
  const { workers, post } = await begin(1, undefined, { heartbeat: 300 })
  await post({ mode: 'reed-regatta', id: 'one' })
  const { client, until } = await enter(workers, { match: 'one', name: 'Heron' })
  const [silent, quiet] = [new SocketClient(workers.port), new SocketClient(workers.port)]
  await quiet.ask('ping', {})
  await silent.ask('join', { match: 'one', name: 'Otter' })
  silent.deaf()
  await until(() => client.view.roster.seats.otter?.presence === 'absent')
  expect([client.state, client.view.roster.seats.heron.presence]).toEqual(['live', 'here'])
  expect((await quiet.ask('ping', {})).result).toEqual({}) // it has answered the heartbeat alone
  client.leave()
})

test('suspended workers go on; fewer of them would lose matches, and are refused', async () => {
  const { workers, folder, post } = await begin(2)
  for (const id of ['one', 'two']) await post({ mode: 'stepping-stones', id, emptyFor: null })
  await workers.suspend()
  const one = { workers: 1, entry, nodeArgs: [] }
  await expect(openWorkers({ ...one, args: [folder] })).rejects.toMatchObject({
    code: 'ZR_VENUE_WORKER',
    message: expect.stringContaining('has unfinished matches of worker 2'),
  })
  const { workers: more, ids } = await begin(3, folder)
  expect(await ids()).toEqual(['one', 'two'])
  await more.close() // what has ended is missed by nobody
  expect(await (await begin(1, folder)).ids()).toEqual([])
  const wide = { ...one, args: [mkdtempSync(join(tmpdir(), 'workers-'))], host: '0.0.0.0' }
  await expect(openWorkers(wide)).rejects.toMatchObject({ code: 'ZR_VENUE_OPEN' })
})
