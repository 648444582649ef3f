// args: mode beats apart size seats scheme
import { modes, pageFolder } from '@zinc-referee/examples'
import { openVenue } from '@zinc-referee/venue'
import { chromium } from 'playwright-core'
import { chromiumArgs, ensureChromium } from './chromium.mjs'

const [
  mode,
  beats = '8',
  apart = '200',
  size = '1280x800',
  seats = '8',
  scheme = 'light',
  out = '/tmp/shot.png',
  eyes = 'first',
] = process.argv.slice(2)
const [width, height] = size.split('x').map(Number)
const browser = await chromium.launch({ executablePath: ensureChromium(), args: chromiumArgs })
const { rulebook, demo } = modes[mode]
const venue = await openVenue({ page: pageFolder, allowViewAsAnySeat: true })
const hosted = venue.begin(mode, rulebook, {
  seed: demo.seed,
  settings: { phases: { countdown: 0 } },
  with: rulebook.optional,
})
const context = await browser.newContext({ viewport: { width, height }, colorScheme: scheme })
const page = await context.newPage()
page.on('console', (m) => m.type() === 'error' && console.log('console:', m.text()))
page.on('pageerror', (e) => console.log('error:', e.message))
await page.goto(venue.url)
await page.getByLabel('Your name').fill('Wren')
await page.keyboard.press('Enter')
await page.getByRole('heading', { name: 'Wren' }).first().waitFor()
for (const { id, name } of demo.seats.slice(0, Number(seats)))
  hosted.run((match) => match.direct('roster.join', { seat: id, name, bot: true }))
await page.getByRole('button', { name: 'Ready' }).click()
await page.getByRole('button', { name: 'Ready' }).waitFor({ state: 'detached' })
if (eyes === 'first') await page.getByLabel('See it as').selectOption({ label: demo.seats[0].name })
const crowd = demo.crowd(demo.seed)
for (let beat = 0; beat < Number(beats); beat++) {
  hosted.run((match) => crowd.beat(match, () => true))
  await page.waitForTimeout(Number(apart))
}
await page.waitForTimeout(300)
await page.screenshot({ path: out })
console.log(
  hosted.match.faults.length,
  'faults',
  await page.evaluate(() => document.documentElement.scrollWidth + ' of ' + innerWidth),
)
await browser.close()
await venue.close()
process.exit(0)
