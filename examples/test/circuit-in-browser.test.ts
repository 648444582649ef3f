import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'
import { expect, test } from 'vitest'
import { oneBrowser } from './browser.ts'
import { playStones } from './playing-stones.ts'

const browser = oneBrowser()
const script = fileURLToPath(new URL('../../scripts/circuit.mjs', import.meta.url))

/** What `npm run circuit` starts: pages and processes of the venues, by name. */
async function startCircuit() {
  // In colour, as where a CI or a user asks for it: what one program says and another reads is the same then.
  const env = { ...process.env, NO_COLOR: undefined, FORCE_COLOR: '1' }
  const child = spawn(process.execPath, [script, '0'], { stdio: ['ignore', 'pipe', 'pipe'], env })
  const ended = once(child, 'exit')
  let said = ''
  // To its end: who writes where nobody reads is ended.
  for (const output of [child.stdout, child.stderr])
    output.on('data', (data) => {
      said += data
    })
  const tooSoon = ended.then(() => Promise.reject(new Error(`it has ended: ${said}`)))
  await Promise.race([tooSoon, expect.poll(() => said, { timeout: 500_000 }).toContain('Ctrl-C ends all')])
  tooSoon.catch(() => undefined)
  const venues = [...said.matchAll(/^ {2}(north|south|west) +(\S+) +process (\d+)$/gm)]
  return {
    venues: venues.map(([, , page = '', pid]) => ({ page, pid: Number(pid) })),
    async stop() {
      child.kill('SIGINT')
      await ended
    },
  }
}

test('two browsers at two venues play one match to its verdict, although the venue of one is killed', async () => {
  const circuit = await startCircuit()
  try {
    expect(circuit.venues).toHaveLength(3)
    const [first, second] = circuit.venues.map(({ page }) => `${page}?match=stepping-stones`)
    let isKilled = false
    await playStones(browser(), [first ?? '', second ?? ''], (laid) => {
      if (laid < 4 || isKilled) return
      isKilled = true
      // It has served the page of Otter, and may run the match.
      process.kill(circuit.venues[0]!.pid, 'SIGKILL')
    })
    expect(isKilled).toBe(true)
  } finally {
    await circuit.stop()
  }
}, 1_200_000)
