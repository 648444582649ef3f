import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { steppingStones } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { replayRecord } from 'zinc-referee'
import { oneBrowser } from './browser.ts'
import { playStones } from './playing-stones.ts'

/** A venue in a process of its own, which goes on with what the ones before have left in the folder. */
const SCRIPT = `
import { pageFolder, steppingStones } from '@zinc-referee/examples'
import { openVenue } from '@zinc-referee/venue'
const [, folder, port] = process.argv
const venue = await openVenue({
  port: Number(port), page: pageFolder, rulebooks: [steppingStones], records: { folder, snapshotEvery: 20 },
})
if (venue.matches.length === 0)
  venue.begin('pond', steppingStones, { seed: 'fair-1', settings: { phases: { countdown: 100 }, turns: { turnTime: 600000 } } })
process.stdout.write(String(venue.port))`

const browser = oneBrowser()

async function venueIn(folder: string, port: string) {
  const child = spawn(process.execPath, ['--input-type=module', '-e', SCRIPT, folder, port], {
    cwd: fileURLToPath(new URL('..', import.meta.url)),
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const [line] = await Promise.race([
    once(child.stdout as NonNullable<ChildProcess['stdout']>, 'data'),
    once(child, 'exit').then(([code]) => Promise.reject(new Error(`the venue ended with ${code}`))),
  ])
  return { child, port: String(line).trim() }
}

test('two browsers play a match to its verdict while its venue is killed and begun again', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'killed-page-'))
  let venue = await venueIn(folder, '0')
  const kills = [3, 7]
  const page = `http://127.0.0.1:${venue.port}/`
  const otter = await playStones(browser(), [page, page], async (laid, tab) => {
    if (laid < (kills[0] ?? Number.POSITIVE_INFINITY)) return
    kills.shift()
    const gone = once(venue.child, 'exit')
    venue.child.kill('SIGKILL')
    await gone
    venue = await venueIn(folder, venue.port)
    if (kills.length === 0) await tab.reload()
  })
  expect(kills).toEqual([])
  await otter.setViewportSize({ width: 360, height: 740 })
  expect(await otter.evaluate(() => document.documentElement.scrollWidth)).toBe(360)
  venue.child.kill('SIGKILL')
  const [record = ''] = readdirSync(folder).filter((name) => name.endsWith('.jsonl'))
  const lines = readFileSync(join(folder, record), 'utf8')
  expect(replayRecord(steppingStones, lines.slice(0, lines.lastIndexOf('\n') + 1)).differs).toBeUndefined()
})
