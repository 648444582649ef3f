import { type Browser, chromium } from 'playwright-core'
import { afterAll, beforeAll } from 'vitest'
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
