import { reedRegatta, spoiledBrew } from '@zinc-referee/examples'
import { type HostedMatch, openVenue } from '@zinc-referee/venue'
import { expect, test } from 'vitest'
import type { AnyRulebook } from 'zinc-referee'
import { HandClock } from './hand-clock.ts'
import { SocketClient } from './socket-client.ts'

const NAMES = ['Otter', 'Heron', 'Vole', 'Newt', 'Coot']

/**
 * Plays a match over sockets, by a clock that is moved by hand, and returns every byte that each was sent. One of them loses
 * its connection on the way and comes back with its last number.
 */
async function bytesOf(book: AnyRulebook, seats: number, act: (hosted: HostedMatch, step: number) => void) {
  const clock = new HandClock()
  const venue = await openVenue({ clock })
  const hosted = venue.begin('one', book, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
  const clients = new Map<string, SocketClient>()
  const join = async (viewer: string, params: object) => {
    const client = new SocketClient(venue.port)
    clients.set(viewer, client)
    return (await client.ask('join', params)).result
  }
  const texts = new Map<string, string[]>()
  /** Pings come back behind all that was sent before them. */
  const settle = async () => {
    await new Promise((soon) => setImmediate(soon))
    for (const client of clients.values()) await client.ask('ping', {})
  }
  const joined = new Map<string, any>()
  for (const name of NAMES.slice(0, seats))
    joined.set(name.toLowerCase(), await join(name.toLowerCase(), { name }))
  await join('spectator', { watch: 'spectator' })
  for (const seat of joined.keys()) await clients.get(seat)?.act('roster.ready')
  for (let step = 0; step < 30; step++) {
    act(hosted, step)
    clock.pass(700)
    await settle()
    if (step === 12) {
      const old = clients.get('heron')!
      texts.set('heron before', old.texts)
      old.leave()
      while (hosted.people.includes('heron')) await new Promise((soon) => setImmediate(soon))
      act(hosted, step)
      clock.pass(700)
      await new Promise((soon) => setImmediate(soon))
      const { player, epoch } = joined.get('heron')
      const n = Math.max(0, ...old.texts.map((text) => JSON.parse(text).params?.n ?? 0))
      const back = await join('heron', { name: 'Heron', player, from: { epoch, n } })
      expect(back.missed).toBeDefined()
    }
  }
  for (const [viewer, client] of clients) texts.set(viewer, client.texts)
  await venue.close()
  expect(hosted.match.faults).toEqual([])
  // Secrets of each connection, drawn anew in each venue.
  const own = /"(epoch|player)":"[^"]+"/g
  return new Map([...texts].map(([viewer, all]) => [viewer, all.join('\n').replaceAll(own, '"$1":"…"')]))
}

test.each([
  [
    'what a raft has found',
    reedRegatta,
    2,
    'otter',
    (hosted: HostedMatch, step: number, twin: number): void =>
      void hosted.run((match) =>
        match.report('raft.found', { seat: 'otter', crates: 1 + ((step + twin) % 3) }),
      ),
  ],
  [
    'which way a spoiler stirs',
    spoiledBrew,
    5,
    undefined,
    (hosted: HostedMatch, step: number, twin: number) => {
      const { match } = hosted
      const { seats } = match.state['roles'] as any
      const spoiler = match.seats.find((seat) => seats.of(seat).role === 'spoiler') ?? ''
      hosted.run(() =>
        step === 0
          ? match.submit(spoiler, 'brewery.walk', { to: 'tun' })
          : match.submit(spoiler, twin === 1 ? 'brewery.sour' : 'brewery.stir', {}),
      )
    },
  ],
])('%s changes no byte of those who may not know it', async (_what, book, seats, owner, act) => {
  const [first, second] = [
    await bytesOf(book, seats, (hosted, step) => act(hosted, step, 0)),
    await bytesOf(book, seats, (hosted, step) => act(hosted, step, 1)),
  ]
  const apart = [...first.keys()].filter((viewer) => first.get(viewer) !== second.get(viewer))
  expect(apart.length).toBe(1) // its owner alone
  if (owner !== undefined) expect(apart).toEqual([owner])
  expect(first.get('spectator')?.length).toBeGreaterThan(2000)
})
