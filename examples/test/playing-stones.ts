import type { Browser, Page } from 'playwright-core'
import { expect } from 'vitest'

const stones = (tab: Page) => tab.locator('button[aria-label^="lay on"]:not([disabled])')
const text = (tab: Page) => tab.locator('main').innerText()
const OVER = / wins|drawn|draw/i

/**
 * Otter and Heron play Stepping Stones to its verdict, each in a browser of its own at its address. After each round of moves
 * `meanwhile` is called with how many have been made. Returns the tab of Otter.
 */
export async function playStones(
  browser: Browser,
  addresses: readonly [string, string],
  meanwhile: (laid: number, otter: Page) => unknown,
): Promise<Page> {
  const errors: string[] = []
  const tabs: Page[] = []
  for (const [at, name] of ['Otter', 'Heron'].entries()) {
    const tab = await (await browser.newContext()).newPage()
    tab.on('pageerror', ({ message }) => errors.push(message))
    await tab.goto(addresses[at] ?? '')
    await tab.getByLabel('Your name').fill(name)
    await tab.keyboard.press('Enter')
    await tab.getByRole('heading', { name: `You are ${name}` }).waitFor()
    tabs.push(tab)
  }
  for (const tab of tabs) await tab.getByRole('button', { name: 'Ready' }).click()
  const [otter, heron] = tabs as [Page, Page]
  let laid = 0
  const until = performance.now() + 500_000
  while (!OVER.test(await text(otter))) {
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
    await meanwhile(laid, otter)
  }
  expect(laid).toBeGreaterThan(8)
  await expect.poll(() => text(heron)).toMatch(OVER)
  await expect.poll(() => text(otter)).toContain('You are Otter')
  expect(errors).toEqual([])
  return otter
}
