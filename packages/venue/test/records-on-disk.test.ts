import { mkdtempSync, readdirSync, readFileSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { lanternMarket, reedRegatta } from '@zinc-referee/examples'
import { openVenue, type Venue } from '@zinc-referee/venue'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { replayRecord } from 'zinc-referee'
import { SocketClient, twoClients } from './socket-client.ts'

let venue: Venue
let folder: string
beforeEach(async () => {
  folder = mkdtempSync(join(tmpdir(), 'venue-'))
  venue = await openVenue({ records: folder })
  venue.begin('one', reedRegatta, { seed: 'fair-1', settings: { phases: { countdown: 30 } } })
})
afterEach(() => venue.close())

test('several matches run side by side, and a clean stop leaves whole records that replay', async () => {
  venue.begin('two', reedRegatta, { seed: 'fair-2' })
  expect(() => venue.begin('two', reedRegatta)).toThrow(
    expect.objectContaining({ code: 'ZR_VENUE_MATCH_TWICE', message: expect.stringContaining("'two'") }),
  )
  const market = venue.begin('market', lanternMarket, { seed: 'fair-1', with: ['fog'] })
  const optional = market.match.describe().rules.map(({ name }) => name)
  expect([optional.includes('fog'), optional.includes('moths')]).toEqual([true, false])
  market.close()
  const { otter } = await twoClients(venue.port)
  const other = new SocketClient(venue.port)
  expect((await other.ask('join', { match: 'two', name: 'Vole' })).result.match).toBe('two')
  venue.matches[0]!.run((match) => match.report('raft.rammed', { target: 'heron', by: 'otter' }))
  expect(await (await fetch(`${venue.url}matches`)).json()).toMatchObject([{ id: 'one' }, { id: 'two' }])
  const missing = await fetch(`${venue.url}nothing`)
  expect([missing.status, missing.headers.get('content-type')]).toEqual([404, 'application/problem+json'])
  await venue.close()
  expect(await otter.closed).toBe('the venue closes')
  expect(otter.texts.at(-1)).toContain('"closed"')
  const files = readdirSync(folder).sort()
  expect(files).toEqual(
    ['lantern-market-market', 'reed-regatta-one', 'reed-regatta-two'].map((name) => `${name}.jsonl`),
  )
  for (const file of files.slice(1)) {
    const { differs, checks } = replayRecord(reedRegatta, readFileSync(join(folder, file), 'utf8'))
    expect([file, differs]).toEqual([file, undefined])
    expect(checks).toBeGreaterThan(0)
  }
  expect(() => venue.begin('three', reedRegatta)).toThrow(
    expect.objectContaining({ code: 'ZR_VENUE_CLOSED' }),
  )
})

test('a full disk ends no match, and is told once', async () => {
  symlinkSync('/dev/full', join(folder, 'reed-regatta-full.jsonl'))
  const warnings: string[] = []
  const listen = ({ message }: Error): void => void warnings.push(message)
  process.on('warning', listen)
  const full = venue.begin('full', reedRegatta, { seed: 'fair-1' })
  const otter = new SocketClient(venue.port)
  await otter.ask('join', { match: 'full', name: 'Otter' })
  await expect.poll(() => warnings).toHaveLength(1)
  expect(warnings[0]).toMatch(/reed-regatta-full.jsonl cannot be written on.*ENOSPC/)
  expect(await otter.act('roster.ready')).toEqual({ ok: true })
  full.close()
  await venue.close()
  process.off('warning', listen)
  expect(warnings).toHaveLength(1)
})

test('a port that is taken is an error with the fix', async () => {
  const taken = { code: 'ZR_VENUE_PORT', message: expect.stringContaining(String(venue.port)) }
  await expect(openVenue({ port: venue.port })).rejects.toMatchObject(taken)
})
