import { openVenue } from '@zinc-referee/venue'
import { connect, socketOver, type WayEvents } from '@zinc-referee/venue/client'
import fc from 'fast-check'
import { afterEach, expect, test, vi } from 'vitest'
import type { ActionsFor, NoticeFor, ViewFor } from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'
import { book, entered, HeldSocket, kept } from './drum.ts'

afterEach(() => vi.unstubAllGlobals())

test('whatever comes in one chunk with the answer to join, the client shows what the server does', async () => {
  vi.stubGlobal('WebSocket', HeldSocket)
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.nat(3), { maxLength: 6 }),
      fc.array(fc.nat(4), { maxLength: 6 }),
      async (beats, cuts) => {
        const { match } = playMatch(book, ['otter'])
        let draws = 0
        const joining = entered({ changed: () => draws++ })
        const socket = HeldSocket.last
        socket.begin()
        const { view, at, notices } = match.addViewer('otter')
        const { id } = JSON.parse(socket.sent[0] ?? '')
        const texts = [
          JSON.stringify({
            id,
            result: { match: 'one', seat: 'otter', at, notices, view: JSON.parse(view) },
          }),
        ]
        for (const count of beats) {
          for (let n = 0; n < count; n++) match.submit('otter', 'drum.beat', {})
          for (const { at, patch, latest = '{}', notices } of match.flush({ all: true }))
            texts.push(
              JSON.stringify({
                method: 'view',
                params: { at, patch: JSON.parse(patch), latest: JSON.parse(latest) },
              }),
              ...notices.map((params) => JSON.stringify({ method: 'notice', params })),
            )
        }
        const afterJoining = texts.length - 1
        // All of a chunk is passed at once; then whatever waits for it may go on.
        for (const size of [...cuts, texts.length]) {
          for (const data of texts.splice(0, size)) socket.onmessage?.({ data })
          await new Promise((resolve) => setImmediate(resolve))
        }
        const { replica } = await joining
        expect([replica.view, draws]).toEqual([match.view('otter'), afterJoining])
        expect(replica.standing(0).filter(({ name }) => name === 'drum.beaten')).toHaveLength(
          beats.reduce((sum, count) => sum + count, 0),
        )
      },
    ),
  )
})

test('a call after the connection was lost is refused, and so is one that waits', async () => {
  vi.stubGlobal('WebSocket', HeldSocket)
  const ended: string[] = []
  const joining = entered({ ended: (why: string) => ended.push(why), reconnect: false })
  const socket = HeldSocket.last
  socket.begin()
  const { id } = JSON.parse(socket.sent[0] ?? '')
  const { match } = playMatch(book, ['otter'])
  const { view, at, notices } = match.addViewer('otter')
  socket.onmessage?.({
    data: JSON.stringify({
      id,
      result: { match: 'one', seat: 'otter', at, notices, view: JSON.parse(view) },
    }),
  })
  const client = await joining
  const waiting = client.act('drum.beat')
  socket.close('the venue closes')
  await expect(waiting).rejects.toThrow(/the venue closes/)
  await expect(client.act('drum.beat')).rejects.toMatchObject({ code: 'ZR_VENUE_CONNECTION' })
  await expect(client.options('drum.beat')).rejects.toMatchObject({ code: 'ZR_VENUE_CONNECTION' })
  expect(ended).toEqual(['the venue closes'])
})

test.each([
  [{ message: 'join refused', data: { says: 'You were sent off.' } }, /You were sent off\./],
  [{ message: 'There is no such match.' }, /There is no such match\./],
])('a join that is refused rejects with what the venue says', async (error, says) => {
  vi.stubGlobal('WebSocket', HeldSocket)
  const joining = entered()
  const socket = HeldSocket.last
  socket.begin()
  const { id } = JSON.parse(socket.sent[0] ?? '')
  socket.onmessage?.({ data: JSON.stringify({ id, error }) })
  socket.onmessage?.({ data: JSON.stringify({ id, error }) }) // an answer to nothing is nobody's
  await expect(joining).rejects.toMatchObject({
    code: 'ZR_VENUE_REFUSED',
    message: expect.stringMatching(says),
  })
  expect(socket.readyState).toBe(3)
})

test('over a way of its own, an end that is told twice ends it once', async () => {
  const ended: string[] = []
  let told: WayEvents | undefined
  const Socket = socketOver((_url, events) => {
    told = events
    return { send() {}, close: () => events.closed(1000, 'closed here') }
  })
  const socket = new Socket('ws://fair')
  socket.onclose = ({ code, reason }: any) => ended.push(`${code} ${reason}`)
  told?.open()
  expect(socket.readyState).toBe(1)
  told?.closed(4000, 'over')
  socket.close()
  expect([socket.readyState, ended]).toEqual([3, ['4000 over']])
})

test('a client typed by its rulebook: parts of the view, notices once, and guesses until there is a ruling', async () => {
  const venue = await openVenue()
  const hosted = venue.begin('drum', book, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
  const { sockets, Socket } = kept()
  const client = await connect<ViewFor<typeof book>, NoticeFor<typeof book>, ActionsFor<typeof book>>({
    url: `ws://127.0.0.1:${venue.port}/socket`,
    name: 'Otter',
    WebSocket: Socket,
    changed() {},
    ended() {},
    wait: async () => undefined,
  })
  const beats: number[] = []
  const told: number[] = []
  const end = client.on('drum.drum', ({ beats: n }) => beats.push(n))
  client.onNotice((notice) => notice.name === 'drum.beaten' && told.push(notice.cells.n))
  await client.act('roster.ready')
  await expect.poll(() => client.view.phases.now.phase).toBe('live')
  const louder = (view: typeof client.view) => ({
    ...view,
    drum: { ...view.drum, drum: { beats: 40, tempo: 0 } },
  })
  expect(await client.act('drum.beat', {}, { guess: louder })).toEqual({ ok: true })
  await expect.poll(() => client.view.drum.drum.beats).toBe(1)
  hosted.run((match) => match.direct('phases.pause', {}))
  const refused = client.act('drum.beat', {}, { guess: louder })
  expect([client.view.drum.drum.beats, client.replica.view.drum.drum.beats]).toEqual([40, 1])
  expect(await refused).toMatchObject({ ok: false, code: 'paused' })
  await expect.poll(() => client.view.drum.drum.beats).toBe(1)
  expect(beats).toEqual([0, 40, 1, 40, 1])
  hosted.run((match) => match.direct('phases.resume', {}))
  sockets[0]?.terminate()
  await expect.poll(() => sockets.length).toBe(2)
  end()
  await client.act('drum.beat')
  await expect.poll(() => told).toEqual([1, 2]) // the first one is not told again
  expect(beats.length).toBe(5)
  client.leave()
  await venue.close()
})
