import { mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { reedRegatta } from '@zinc-referee/examples'
import { openVenue, type Venue } from '@zinc-referee/venue'
import { afterEach, expect, test } from 'vitest'
import { replayRecord } from 'zinc-referee'
import { HandClock } from './hand-clock.ts'
import { SocketClient } from './socket-client.ts'

let venue: Venue
afterEach(() => venue.close())

test('a referee knows the settings, and lets time pass at once: n ms, or until the next thing is due, in a pause, too', async () => {
  const records = mkdtempSync(join(tmpdir(), 'skips-'))
  venue = await openVenue({ clock: new HandClock(), records, allowDriving: true })
  const hosted = venue.begin('one', reedRegatta, { seed: 'fair-1' })
  const [otter, sedge] = [new SocketClient(venue.port), new SocketClient(venue.port)]
  await otter.ask('join', { name: 'Otter' })
  await sedge.ask('join', { match: 'one', watch: 'spectator', name: 'Ms Sedge' })
  const direct = async (directive: string, input?: object) =>
    (await sedge.ask('direct', { directive, input })).result
  const skip = (input?: object) => direct('venue.skip', input)
  expect(await skip()).toMatchObject({ ok: false, code: 'nothing-due' })
  for (const wrong of [{ for: 0 }, { for: 1.5 }, { for: 3_600_001 }, { by: 1000 }, 'soon'])
    expect(await skip(wrong as object)).toMatchObject({ ok: false, code: 'bad-input' })
  const { data } = (await otter.ask('direct', { directive: 'venue.skip' })).error
  expect([data.problem, hosted.now()]).toEqual(['not-your-role', 0])

  // A referee is told what may be set, and nobody else is.
  const { settings } = (await sedge.ask('describe', {})).result
  expect(settings.rounds.count).toEqual({ type: 'integer', minimum: 1, maximum: 500, now: 3 })
  expect(settings.rounds.bestOf).toEqual({ type: 'boolean', now: true })
  expect((await otter.ask('describe', {})).result.settings).toBeUndefined()

  await direct('roster.join', { seat: 'heron', name: 'Heron' })
  await direct('phases.start')
  const now = () => hosted.match.state.phases.now
  const due = hosted.match.nextDue
  expect([now().phase, due]).toEqual(['countdown', expect.any(Number)])
  expect(await skip()).toEqual({ ok: true })
  expect([now().phase, hosted.now()]).toEqual(['live', due])
  // A client is told at once, and its clock goes on from there.
  await otter.until(({ params }) => params?.at === due)
  expect((await otter.ask('ping', {})).result.at).toBe(due)

  const [before, ends] = [hosted.now(), hosted.match.nextDue]
  await direct('phases.pause')
  expect(await skip({ for: 1500 })).toEqual({ ok: true })
  expect([now().paused, hosted.now()]).toEqual([true, before + 1500])
  await direct('phases.resume')
  expect(hosted.match.nextDue).toBe(ends)
  const played = () => replayRecord(reedRegatta, readFileSync(hosted.record as string, 'utf8'))
  expect(await skip({ for: 3_600_000 })).toEqual({ ok: true })
  expect(now().phase).toBe('over')
  await venue.close()
  expect(played().differs).toBeUndefined()
  for (const client of [otter, sedge]) client.leave()
})
