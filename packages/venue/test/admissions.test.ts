import { mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join as path } from 'node:path'
import { reedRegatta } from '@zinc-referee/examples'
import { openVenue, type Venue, type VenueOptions } from '@zinc-referee/venue'
import { type Client, connect } from '@zinc-referee/venue/client'
import { exportJWK, generateKeyPair, SignJWT, UnsecuredJWT } from 'jose'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import { WebSocket } from 'ws'
import type { BareView } from 'zinc-referee/replica'
import { SocketClient } from './socket-client.ts'

let venue: Venue
let sign: (claims: object, how?: { readonly expires?: string; readonly kid?: string }) => Promise<string>
let hmac: (claims: object, secret?: string) => Promise<string>

const open = async (more: VenueOptions = {}) => {
  const { publicKey, privateKey } = await generateKeyPair('EdDSA')
  const jwk = await exportJWK(publicKey)
  const secret = 'a secret of the fair, of 32 bytes'
  sign = (claims, { expires = '1h', kid = 'fair-1' } = {}) =>
    new SignJWT({ role: 'player', ...claims })
      .setProtectedHeader({ alg: 'EdDSA', kid })
      .setExpirationTime(expires)
      .sign(privateKey)
  hmac = (claims, by = secret) =>
    new SignJWT({ role: 'player', ...claims })
      .setProtectedHeader({ alg: 'HS256', kid: 'fair-2' })
      .setExpirationTime('1h')
      .sign(new TextEncoder().encode(by))
  const keys = [
    { ...jwk, kid: 'fair-1', alg: 'EdDSA' },
    { kty: 'oct', k: Buffer.from(secret).toString('base64url'), kid: 'fair-2', alg: 'HS256' },
  ]
  venue = await openVenue({ admissions: { keys }, ...more })
  venue.begin('one', reedRegatta, { seed: 'fair-1', settings: { phases: { countdown: 30 } } })
  venue.begin('two', reedRegatta, { seed: 'fair-2' })
}
beforeEach(() => open())
afterEach(async () => {
  await venue.close()
  vi.useRealTimers()
})

const join = async (admission: string | undefined, more: object = {}) => {
  const client = new SocketClient(venue.port)
  const { result, error } = await client.ask('join', { ...(admission && { admission }), ...more })
  return { client, result, problem: error?.data.problem, says: error?.data.says }
}

test('whoever holds a token of one of the keys comes in, by either algorithm, and gets the same seat again', async () => {
  const { result } = await join(await sign({ sub: 'p-otter', name: 'Otter' }))
  expect([result.seat, result.match]).toEqual(['otter', 'one'])
  const again = await join(await sign({ sub: 'p-otter', name: 'Somebody' }))
  expect(again.result.seat).toBe('otter')
  const { result: heron } = await join(await hmac({ sub: 'p-heron', seat: 'green-raft', match: 'two' }))
  expect([heron.seat, heron.match]).toEqual(['green-raft', 'two'])
  const taken = await join(await sign({ sub: 'p-vole', seat: 'green-raft', match: 'two' }))
  expect([taken.problem, taken.says]).toEqual([
    'join-refused',
    'Another player has this seat. Ask for another id.',
  ])
})

test('wrong, expired, unsigned, without expiry, of an unknown key or for another match: refused alike, and counted', async () => {
  const unsigned = new UnsecuredJWT({ sub: 'p', role: 'referee' }).setExpirationTime('1h').encode()
  const good = await sign({ sub: 'p' })
  const tokens = [
    undefined,
    'nonsense',
    unsigned,
    `${good.slice(0, -4)}AAAA`,
    await sign({ sub: 'p' }, { expires: '-1h' }),
    await sign({ sub: 'p' }, { kid: 'fair-2' }),
    await hmac({ sub: 'p' }, 'another secret, also of 32 bytes.'),
    await sign({}),
    await sign({ sub: 'p', role: 'king' }),
  ]
  for (const token of tokens) expect([token, (await join(token)).problem]).toEqual([token, 'not-admitted'])
  const other = await sign({ sub: 'p', match: 'one' })
  expect((await join(other, { match: 'two' })).problem).toBe('not-admitted')
  expect((await join(await sign({ sub: 'p', match: 'none' }))).problem).toBe('not-admitted')
  const metrics = await (await fetch(`${venue.url}metrics`)).text()
  expect(metrics).toContain(`zinc_referee_refused_admissions_total ${tokens.length + 2}`)
})

test('a reporter reports, a referee directs under its own name, a watcher does neither, and none of them takes a seat', async () => {
  await venue.close()
  const folder = mkdtempSync(path(tmpdir(), 'roles-'))
  await open({ records: folder })
  const [otter, heron] = [
    await join(await sign({ sub: 'o', name: 'Otter' })),
    await join(await sign({ sub: 'h', name: 'Heron' })),
  ]
  for (const { client } of [otter, heron]) await client.act('roster.ready')
  const [watcher, reporter, referee] = await Promise.all(
    ['watcher', 'reporter', 'referee'].map(
      async (role) => (await join(await sign({ sub: role, role }))).client,
    ),
  )
  await otter.client.until(({ params }) => JSON.stringify(params?.patch ?? '').includes('"live"'))
  const ram = { fact: 'raft.rammed', input: { target: 'heron', by: 'otter' } }
  const found = {
    fact: 'raft.found',
    inputs: [
      { seat: 'otter', crates: 2 },
      { seat: 'nobody', crates: 1 },
    ],
  }
  const asked = async (client: SocketClient | undefined, method: string, params: object) => {
    const { result, error } = await (client as SocketClient).ask(method, params)
    return error?.data.problem ?? result
  }
  expect([
    await asked(watcher, 'report', ram),
    await asked(otter.client, 'report', ram),
    await asked(reporter, 'report', ram),
    await asked(reporter, 'direct', { directive: 'phases.pause' }),
  ]).toEqual(['not-your-role', 'not-your-role', { ok: true }, 'not-your-role'])
  expect(await asked(reporter, 'report', found)).toEqual([
    { ok: true },
    expect.objectContaining({ ok: false, says: expect.any(String) }),
  ])
  expect(await asked(referee, 'direct', { directive: 'phases.pause' })).toEqual({ ok: true })
  expect(await asked(referee, 'direct', { directive: 'phases.pause' })).toMatchObject({ ok: false })
  expect(await asked(referee, 'act', { action: 'roster.ready' })).toBe('only-watching')
  expect(venue.matches[0]?.match.seats).toEqual(['otter', 'heron'])
  await venue.close()
  const record = readFileSync(path(folder, 'reed-regatta-one.jsonl'), 'utf8')
  expect(record).toContain('"direct":"phases.pause","referee":"referee"')
})

test('matches are begun and ended over HTTP by operators alone, who also see who sits in them', async () => {
  await venue.close()
  await open({ rulebooks: [reedRegatta] })
  await join(await sign({ sub: 'p-otter', name: 'Otter', match: 'one' }))
  const http = async (path: string, method: string, token?: string, body?: object) => {
    const answer = await fetch(new URL(path, venue.url), {
      method,
      headers: {
        ...(token && { authorization: `Bearer ${token}` }),
        ...(body && { 'content-type': 'application/json' }),
      },
      ...(body && { body: JSON.stringify(body) }),
    })
    return { status: answer.status, body: await answer.json().catch(() => undefined) }
  }
  const [operator, player] = [await sign({ sub: 'op', role: 'operator' }), await sign({ sub: 'p' })]
  for (const token of [undefined, player, 'nonsense'])
    for (const [path, method, body] of [
      ['/matches', 'POST', { mode: 'reed-regatta' }],
      ['/matches/one', 'DELETE', undefined],
    ] as const)
      expect((await http(path, method, token, body)).status).toBe(401)
  expect(Object.keys((await http('/matches/one', 'GET', player)).body)).not.toContain('players')
  expect((await http('/matches/one', 'GET', operator)).body.players).toMatchObject([{ name: 'Otter' }])
  const begun = await http('/matches', 'POST', operator, { mode: 'reed-regatta', id: 'noon', listed: false })
  expect(begun.status).toBe(201)
  const ids = async (token?: string) => (await http('/matches', 'GET', token)).body.map(({ id }: any) => id)
  expect([await ids(), await ids(operator)]).toEqual([
    ['one', 'two'],
    ['one', 'two', 'noon'],
  ])
  expect((await http('/matches/noon', 'DELETE', operator)).status).toBe(204)
})

test('what is sent behind a join waits for it, and is answered in order', async () => {
  const client = new SocketClient(venue.port)
  const admission = await sign({ sub: 'o', name: 'Otter' })
  void client.ask('join', { admission })
  await client.ask('act', { action: 'roster.ready' })
  await client.until(({ id }) => id === 2)
  const answers = client.texts.map((text) => JSON.parse(text)).filter(({ id }) => id !== undefined)
  expect(answers.map(({ id, error }) => [id, error])).toEqual([
    [1, undefined],
    [2, undefined],
  ])
})

test('without admissions a venue listens on this machine alone, and a misspelt option is no option', async () => {
  const misspelt: object[] = [
    { admisions: { keys: [] } },
    { limits: { watcher: 5 } },
    { admissions: { keys: [], isuer: '' } },
  ]
  for (const options of misspelt)
    await expect(openVenue({ port: 0, ...options })).rejects.toMatchObject({
      code: 'ZR_VENUE_UNKNOWN_OPTION',
    })
  await expect(openVenue({ host: '0.0.0.0' })).rejects.toMatchObject({
    code: 'ZR_VENUE_OPEN',
    message: expect.stringContaining('0.0.0.0'),
  })
})

test('too many calls, connections or matches, and pages of other origins, are refused, each by its limit', async () => {
  await venue.close()
  await open({ limits: { calls: { burst: 4, perSecond: 0.001 }, connectionsPerAddress: 2, matches: 2 } })
  expect(() => venue.begin('three', reedRegatta)).toThrow(expect.objectContaining({ code: 'ZR_VENUE_FULL' }))
  const status = (origin?: string, host = `127.0.0.1:${venue.port}`) =>
    new Promise<number>((done) => {
      const socket = new WebSocket(`ws://127.0.0.1:${venue.port}/socket`, {
        headers: { host, ...(origin !== undefined && { origin }) },
      })
      socket.on('unexpected-response', (_request, { statusCode }) => done(statusCode ?? 0))
      socket.on('open', () => done(101))
      socket.on('error', () => {})
    })
  expect(await status('https://elsewhere.example')).toBe(403)
  expect(await status('https://fair.example', 'fair.example')).toBe(101) // its own page, by whatever name
  const { client } = await join(await sign({ sub: 'o', name: 'Otter' }))
  expect(await status()).toBe(429)
  const problems = []
  for (let n = 0; n < 5; n++)
    problems.push((await client.ask('act', { action: 'roster.ready' })).error?.data.problem)
  expect(problems).toEqual([undefined, undefined, undefined, 'too-fast', 'too-fast'])
  const metrics = await (await fetch(`${venue.url}metrics`)).text()
  for (const why of ['origin', 'too-many'])
    expect(metrics).toContain(`zinc_referee_refused_connections_total{why="${why}"} 1\n`)
})

test('a client that does not answer its heartbeat is away soon', async () => {
  await venue.close()
  vi.useFakeTimers({ toFake: ['setInterval', 'clearInterval'] }) // it beats when this test says so
  await open({ limits: { heartbeat: 20 } })
  const { client } = await join(await sign({ sub: 'o', name: 'Otter' }))
  client.deaf()
  vi.advanceTimersByTime(39)
  await new SocketClient(venue.port).ask('ping', {})
  expect(venue.matches[0]?.match.state.roster.seats.of('otter').presence).toBe('here')
  vi.advanceTimersByTime(1)
  await expect.poll(() => venue.matches[0]?.match.state.roster.seats.of('otter').presence).toBe('absent')
})

test('health, readiness and what an operator counts are told over HTTP', async () => {
  const { client } = await join(await sign({ sub: 'o', name: 'Otter' }))
  await client.act('roster.ready')
  await client.ask('act', {})
  const get = async (path: string) => {
    const answer = await fetch(venue.url + path)
    return [answer.status, await answer.text()] as const
  }
  expect(await get('health')).toEqual([200, '{"ok":true}'])
  venue.matches[0]?.pause()
  expect(await get('ready')).toEqual([503, '{"ready":false,"stands":["one"]}'])
  venue.matches[0]?.resume()
  expect(await get('ready')).toEqual([200, '{"ready":true}'])
  const [, metrics] = await get('metrics')
  for (const line of [
    'zinc_referee_matches 2',
    'zinc_referee_connections 1',
    'zinc_referee_calls_total{method="join",outcome="ok"} 1',
    'zinc_referee_calls_total{method="none",outcome="invalid-params"} 1',
    '# EOF',
  ])
    expect(metrics).toContain(line)
})

test('without admissions, who watches drives where that is allowed; with them, their roles alone decide', async () => {
  const clients: Client<BareView>[] = []
  const enter = async (more: object) => {
    const url = `ws://127.0.0.1:${venue.port}/socket`
    const client = await connect({ url, WebSocket, changed() {}, ended() {}, match: 'one', ...more })
    clients.push(client)
    const direct = (): Promise<unknown> =>
      client.direct('phases.pause').catch(({ message }: Error) => /not for this/.exec(message)?.[0])
    return { role: client.role, direct, report: () => client.report('raft.mist', { seat: 'otter' }) }
  }
  const late = await sign({ sub: 'w', role: 'watcher' })
  await venue.close()
  await open({ allowDriving: true })
  const watcher = await enter({ watch: 'spectator', admission: await sign({ sub: 'w', role: 'watcher' }) })
  expect([watcher.role, await watcher.direct()]).toEqual(['watcher', 'not for this'])
  await expect(enter({ watch: 'spectator', admission: late })).rejects.toThrow() // signed by a key of before
  for (const allowDriving of [false, true]) {
    await venue.close()
    venue = await openVenue({ allowDriving })
    venue.begin('one', reedRegatta, { seed: 'fair-1' })
    const [player, other] = [
      await enter({ name: 'Otter' }),
      await enter({ watch: 'spectator', name: 'Ms Sedge' }),
    ]
    expect([player.role, await player.direct()]).toEqual(['player', 'not for this'])
    expect(other.role).toBe(allowDriving ? 'referee' : 'watcher')
    if (allowDriving) {
      expect(await other.direct()).toMatchObject({ code: 'nothing-to-pause' })
      expect(await other.report()).toMatchObject({ ok: false, says: expect.any(String) })
    } else expect(await other.direct()).toBe('not for this')
  }
  for (const client of clients) client.leave()
})
