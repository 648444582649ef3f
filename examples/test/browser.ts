import { type Browser, chromium, type Page } from 'playwright-core'
import { afterAll, afterEach, beforeAll, expect } from 'vitest'
// @ts-expect-error a plain script, shared with npm test
import { chromiumArgs, ensureChromium } from '../../scripts/chromium.mjs'

/** A browser for the tests of a file: it starts before the first and ends after the last. Returns what gives it. */
export function oneBrowser(): () => Browser {
  let browser: Browser | undefined
  beforeAll(async () => {
    browser = await chromium.launch({ executablePath: ensureChromium(), args: chromiumArgs })
  })
  afterAll(() => browser?.close())
  return () => {
    if (browser === undefined) throw new Error('the browser starts with the first test of the file')
    return browser
  }
}

/**
 * One tab for the tests of a file, which go from page to page in it: one of its own costs each a second. Returns what goes to
 * an address with an empty tab, as wide as is asked for. A test fails that leaves an error of the page behind.
 */
export function oneTab(browser: () => Browser): (address: string, width?: number) => Promise<Page> {
  let tab: Page | undefined
  const errors: string[] = []
  afterEach(async () => {
    await tab?.goto('about:blank')
    expect(errors.splice(0)).toEqual([])
  })
  return async (address, width = 1280) => {
    if (tab === undefined) {
      tab = await browser().newPage({ reducedMotion: 'reduce' })
      tab.on('pageerror', (error) => errors.push(error.message))
    }
    await tab.setViewportSize({ width, height: 800 })
    await tab.goto('about:blank')
    await tab.goto(address)
    return tab
  }
}
