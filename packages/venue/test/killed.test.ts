import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { steppingStones } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { replayRecord } from 'zinc-referee'
import { SocketClient } from './socket-client.ts'

/** A venue in a process of its own, on what the ones before have left in the folder. It prints its port. */
const SCRIPT = `
import { modesByName } from '@zinc-referee/examples/by-name'
import { openVenue } from '@zinc-referee/venue'
const { rulebook } = await modesByName['stepping-stones']()
const venue = await openVenue({
  records: { folder: process.argv[1], snapshotEvery: 25 },
  rulebooks: [rulebook],
  limits: { calls: { burst: 1000, perSecond: 1000 } },
  onBroken: (error) => { console.error(error.message); process.exit(3) },
})
if (venue.matches.length === 0) venue.begin('pond', rulebook, { seed: 'fair-1' })
process.stdout.write(String(venue.port))`

async function venueIn(folder: string): Promise<{ readonly child: ChildProcess; readonly port: number }> {
  const child = spawn(process.execPath, ['--input-type=module', '-e', SCRIPT, folder], {
    cwd: fileURLToPath(new URL('..', import.meta.url)),
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const [line] = (await once(child.stdout as NonNullable<ChildProcess['stdout']>, 'data')) as [Buffer]
  return { child, port: Number(line) }
}

test('killed at any point, a venue goes on with all that it had answered; nothing is done twice', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'killed-'))
  const path = join(folder, 'stepping-stones-pond.jsonl')
  const answered: string[] = []
  let player: string | undefined
  for (let life = 0; life < 6; life++) {
    const { child, port } = await venueIn(folder)
    const otter = new SocketClient(port)
    const { result } = await otter.ask('join', { name: 'Otter', ...(player !== undefined && { player }) })
    expect(result.seat).toBe('otter')
    player = result.player
    // They are sent all at once, and the process is killed when some of them have been answered.
    const [killed, joined] = [once(child, 'exit'), otter.texts.length]
    for (let n = 0; n < 80; n++) {
      const action = n % 2 === 0 ? 'roster.ready' : 'roster.unready'
      otter.ask('act', { action, id: `${life}-${n}` }).catch(() => undefined)
    }
    const rulings = () =>
      otter.texts.slice(joined).flatMap((text) => {
        const { id, result } = JSON.parse(text)
        return result?.ok ? [`${life}-${id - 2}`] : []
      })
    await otter.until(() => rulings().length >= 5 + life * 11)
    child.kill('SIGKILL')
    await killed
    answered.push(...rulings())
    otter.leave()
  }
  const record = readFileSync(path, 'utf8').slice(0, readFileSync(path, 'utf8').lastIndexOf('\n') + 1)
  const ids = [...record.matchAll(/"id":"(\d+-\d+)"/g)].map(([, id]) => id)
  expect(answered.length).toBeGreaterThan(60)
  expect(answered.filter((id) => !ids.includes(id))).toEqual([])
  expect(new Set(ids).size).toBe(ids.length)
  expect(replayRecord(steppingStones, record).differs).toBeUndefined()
})
