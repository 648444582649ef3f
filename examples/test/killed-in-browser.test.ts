import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { steppingStones } from '@zinc-referee/examples'
import type { Page } from 'playwright-core'
import { expect, test } from 'vitest'
import { replayRecord } from 'zinc-referee'
import { oneBrowser } from './browser.ts'

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
const stones = (tab: Page) => tab.locator('button[aria-label^="lay on"]:not([disabled])')
const text = (tab: Page) => tab.locator('main').innerText()

test('two browsers play a match to its verdict while its venue is killed and begun again', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'killed-page-'))
  let venue = await venueIn(folder, '0')
  const errors: string[] = []
  const tabs: Page[] = []
  for (const name of ['Otter', 'Heron']) {
    const tab = await (await browser().newContext()).newPage()
    tab.on('pageerror', ({ message }) => errors.push(message))
    await tab.goto(`http://127.0.0.1:${venue.port}/`)
    await tab.getByLabel('Your name').fill(name)
    await tab.keyboard.press('Enter')
    await tab.getByRole('button', { name: 'Ready' }).click()
    tabs.push(tab)
  }
  const [otter, heron] = tabs as [Page, Page]
  let laid = 0
  const hasEnded = async () => / wins|drawn|draw/i.test(await text(otter))
  while (!(await hasEnded())) {
    for (const tab of [otter, heron]) {
      const choices = await stones(tab).count()
      if (choices === 0) continue
      await stones(tab)
        .nth(laid % choices)
        .click({ timeout: 2000 })
        .catch(() => undefined)
      laid++
    }
    if (laid === 3 || laid === 7) {
      laid++
      const gone = once(venue.child, 'exit')
      venue.child.kill('SIGKILL')
      await gone
      venue = await venueIn(folder, venue.port)
      if (laid === 8) await otter.reload()
    }
  }
  expect(laid).toBeGreaterThan(8)
  await expect.poll(() => text(heron)).toMatch(/ wins|drawn|draw/i)
  await expect.poll(() => text(otter)).toContain('You are Otter')
  await otter.setViewportSize({ width: 360, height: 740 })
  expect(await otter.evaluate(() => document.documentElement.scrollWidth)).toBe(360)
  expect(errors).toEqual([])
  venue.child.kill('SIGKILL')
  const [record = ''] = readdirSync(folder).filter((name) => name.endsWith('.jsonl'))
  const lines = readFileSync(join(folder, record), 'utf8')
  expect(replayRecord(steppingStones, lines.slice(0, lines.lastIndexOf('\n') + 1)).differs).toBeUndefined()
})
