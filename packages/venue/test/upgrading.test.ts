import { mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openVenue } from '@zinc-referee/venue'
import { expect, test } from 'vitest'
import { type AnyRulebook, defineRulebook, everyone, int } from 'zinc-referee'
import { drumOf } from './drum.ts'
import { SocketClient } from './socket-client.ts'

const old = drumOf()
const louder = drumOf(10, { loud: int(7).seenBy(everyone) })
const migrate = <S>(before: S): S => before

test.each([false, true])(
  'a match goes on with a newer rulebook from where it is, and its client comes back (records: %s)',
  async (isKept) => {
    const folder = mkdtempSync(join(tmpdir(), 'upgrading-'))
    const venue = await openVenue({ rulebooks: [old], ...(isKept && { records: folder }) })
    const hosted = venue.begin('evening', old, { settings: { phases: { countdown: 0 } } })
    const otter = new SocketClient(venue.port)
    const { result } = await otter.ask('join', { name: 'Otter' })
    await otter.act('roster.ready')
    expect(await otter.act('drum.beat')).toEqual({ ok: true })
    const beats = () => venue.matches[0]?.match.view('spectator')['drum']
    // What does not fit is refused, and nobody notices.
    const refused = (why: RegExp) =>
      expect.objectContaining({ code: 'ZR_VENUE_NOT_UPGRADED', message: expect.stringMatching(why) })
    await expect(venue.upgrade('evening', { rulebook: louder })).rejects.toEqual(
      refused(/the rulebook has changed/),
    )
    const breaks = {
      rulebook: louder,
      migrate: () => {
        throw new Error('fell over')
      },
    }
    await expect(venue.upgrade('evening', breaks)).rejects.toEqual(refused(/fell over/))
    const other = defineRulebook({ name: 'flute', seats: { min: 1, max: 2 }, rules: [] })
    await expect(venue.upgrade('evening', { rulebook: other })).rejects.toEqual(
      refused(/'drum', not 'flute'/),
    )
    await expect(venue.upgrade('noon', { rulebook: louder })).rejects.toMatchObject({
      code: 'ZR_VENUE_UNKNOWN_MATCH',
    })
    expect([venue.matches[0] === hosted, beats()]).toEqual([true, { drum: { beats: 1 } }])
    const upgraded = await venue.upgrade('evening', { rulebook: louder, migrate })
    expect([upgraded.id, upgraded.key === hosted.key, hosted.isClosed]).toEqual(['evening', true, true])
    expect(await otter.closed).toBe('the venue closes')
    const again = new SocketClient(venue.port)
    const back = await again.ask('join', { match: 'evening', player: result.player })
    expect([back.result.seat, back.result.view.drum]).toEqual(['otter', { drum: { beats: 1, loud: 7 } }])
    expect(await again.act('drum.beat')).toEqual({ ok: true })
    expect(beats()).toEqual({ drum: { beats: 11, loud: 7 } })
    expect(venue.findOrBegin('drum').match.view('spectator')['drum']).toMatchObject({ drum: { loud: 7 } })
    await venue.close()
    if (isKept) expect(readFileSync(join(folder, 'drum-evening.jsonl'), 'utf8')).toContain('"drum.beat"')
  },
)

test('over HTTP, by what the venue was given to find newer versions', async () => {
  let newer: () => Promise<AnyRulebook> = async () => {
    throw new Error('no such file')
  }
  const venue = await openVenue({ renew: async () => ({ rulebook: await newer(), migrate }) })
  venue.begin('evening', old)
  const upgrade = async (id: string) => {
    const answer = await fetch(`${venue.url}matches/${id}/upgrade`, { method: 'POST' })
    return [answer.status, await answer.json()]
  }
  expect(await upgrade('noon')).toEqual([404, expect.objectContaining({ code: 'unknown-match' })])
  expect(await upgrade('evening')).toEqual([
    409,
    expect.objectContaining({
      code: 'ZR_VENUE_NOT_UPGRADED',
      detail: expect.stringContaining('no such file'),
    }),
  ])
  newer = async () => louder
  expect(await upgrade('evening')).toEqual([200, expect.objectContaining({ id: 'evening', mode: 'drum' })])
  expect(venue.matches[0]?.match.view('spectator')['drum']).toEqual({ drum: { beats: 0, loud: 7 } })
  await venue.close()
})
