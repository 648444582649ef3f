import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { fileURLToPath } from 'node:url'
import type { Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { oneBrowser } from './browser.ts'

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
const stones = (tab: Page) => tab.locator('button[aria-label^="lay on"]:not([disabled])')
const text = (tab: Page) => tab.locator('main').innerText()

test('two browsers at two venues play one match to its verdict, although the venue of one is killed', async () => {
  const circuit = await startCircuit()
  try {
    expect(circuit.venues).toHaveLength(3)
    const errors: string[] = []
    const tabs: Page[] = []
    for (const [at, name] of ['Otter', 'Heron'].entries()) {
      const tab = await (await browser().newContext()).newPage()
      tab.on('pageerror', ({ message }) => errors.push(message))
      await tab.goto(`${circuit.venues[at]?.page}?match=stepping-stones`)
      await tab.getByLabel('Your name').fill(name)
      await tab.keyboard.press('Enter')
      await tab.getByRole('heading', { name: `You are ${name}` }).waitFor()
      tabs.push(tab)
    }
    for (const tab of tabs) await tab.getByRole('button', { name: 'Ready' }).click()
    const [otter, heron] = tabs as [Page, Page]
    let laid = 0
    const hasEnded = async () => / wins|drawn|draw/i.test(await text(otter))
    const until = performance.now() + 500_000
    while (!(await hasEnded())) {
      if (performance.now() > until)
        throw new Error(`the match stands still\n${await text(otter)}\n\n${await text(heron)}`)
      for (const tab of tabs) {
        const choices = await stones(tab).count()
        if (choices === 0) continue
        await stones(tab)
          .nth(laid % choices)
          .click({ timeout: 2000 })
          .then(
            () => laid++,
            () => undefined,
          )
      }
      // It has served the page of Otter, and may run the match.
      if (laid >= 4 && circuit.venues[0] !== undefined) {
        process.kill(circuit.venues[0].pid, 'SIGKILL')
        delete circuit.venues[0]
      }
    }
    expect(laid).toBeGreaterThan(4)
    await expect.poll(() => text(heron)).toMatch(/ wins|drawn|draw/i)
    await expect.poll(() => text(otter)).toContain('You are Otter')
    expect(errors).toEqual([])
  } finally {
    await circuit.stop()
  }
}, 1_200_000)
