import { kettleWatch, pikePond, reedRegatta, steppingStones } from '@zinc-referee/examples'
import { type HostedMatch, openVenue, type Venue } from '@zinc-referee/venue'
import type { BrowserContext, Locator, Page } from 'playwright-core'
import { afterEach, beforeEach, expect, test } from 'vitest'
import {
  defineRule,
  defineRulebook,
  everyone,
  int,
  isMatchOf,
  time as moment,
  owner,
  perSeat,
  refuse,
  seatRef,
} from 'zinc-referee'
import { oneBrowser } from './browser.ts'
import { StoppedTime } from './stopped-time.ts'

const page = new URL('../dist/page/', import.meta.url)
const browser = oneBrowser()
let venue: Venue
let time: StoppedTime
const contexts: BrowserContext[] = []
const errors: string[] = []

afterEach(async () => {
  await Promise.all(contexts.splice(0).map((context) => context.close()))
  await venue.close()
  expect(errors.splice(0)).toEqual([])
})
beforeEach(async () => {
  time = new StoppedTime()
  venue = await openVenue({ page, allowViewAsAnySeat: true, allowDriving: true, clock: time })
})

function regatta(length: number): HostedMatch {
  return venue.begin('one', reedRegatta, {
    seed: 'fair-1',
    settings: { phases: { countdown: 1200 }, rounds: { length, count: 1 } },
  })
}
async function visit(size = { width: 1280, height: 800 }): Promise<Page> {
  const context = await browser().newContext({ viewport: size })
  contexts.push(context)
  await time.stop(context)
  const tab = await context.newPage()
  tab.on('pageerror', (error) => errors.push(error.message))
  await tab.goto(venue.url)
  return tab
}
async function sit(tab: Page, name: string): Promise<void> {
  await tab.getByLabel('Your name').fill(name)
  await tab.keyboard.press('Enter')
  await tab.getByRole('heading', { name: `You are ${name}` }).waitFor()
}
const row = (tab: Page, name: string) =>
  tab
    .getByRole('region', { name: 'Your view' })
    .getByRole('row')
    .filter({ has: tab.getByRole('rowheader', { name }) })
const text = (tab: Page) => tab.locator('main').innerText()

test('two windows play one match: countdown, rams, sinking and back, feed that fades, verdict, rematch', async () => {
  const hosted = regatta(13_000)
  const [otter, heron] = [await visit(), await visit()]
  await sit(otter, 'Otter')
  await sit(heron, 'Heron')
  await otter.getByRole('button', { name: 'Ready' }).click()
  await expect.poll(() => text(heron)).toContain('Waiting for Heron')
  await heron.getByRole('button', { name: 'Ready' }).click()
  await expect.poll(() => text(otter)).toContain('Starts in 0:02')
  await time.passOn(1200, otter, heron)
  await expect.poll(() => text(otter)).toMatch(/\n0:13\n/)

  await otter.getByRole('button', { name: 'Ram Heron' }).click()
  await expect
    .poll(() => isMatchOf(reedRegatta, hosted.match) && hosted.match.state.raft.helm.of('otter').course)
    .toBe('raft')
  hosted.run((match) => match.report('raft.found', { seat: 'otter', crates: 41 }))
  await expect.poll(() => row(otter, 'Otter').innerText()).toContain('41')
  expect(await row(heron, 'Otter').getByRole('img', { name: 'cargo: hidden' }).count()).toBe(1)

  hosted.run((match) =>
    match.reportAll(
      'raft.rammed',
      [1, 2, 3, 4].map(() => ({ target: 'heron', by: 'otter' })),
    ),
  )
  await expect.poll(() => row(heron, 'Heron').innerText()).toContain('back in 0:03')
  expect(await heron.getByRole('button', { name: 'Search for cargo' }).isDisabled()).toBe(true)
  await expect.poll(() => text(otter)).toContain('Otter sinks Heron')
  await time.passOn(3000, otter, heron)
  await expect.poll(() => row(otter, 'Heron').innerText()).toContain('100')
  await time.passOn(3000, otter, heron)
  const past = otter.locator('.feed .past', { hasText: 'Otter sinks Heron' })
  await expect.poll(() => past.count()).toBe(1) // it has expired

  await time.passOn(7000, otter, heron)
  await expect.poll(() => text(heron)).toMatch(/Reed Crew wins: Otter/)
  await otter.getByRole('button', { name: 'Rematch' }).click()
  await heron.getByRole('button', { name: 'Rematch' }).click()
  await expect.poll(() => text(otter)).toContain('Starts in 0:02')
})

test('a second view on the same page shows what another seat sees; a wrong click is explained; a reload keeps the seat', async () => {
  const hosted = regatta(60_000)
  const [otter, heron] = [await visit(), await visit()]
  await sit(otter, 'Otter')
  await sit(heron, 'Heron')
  for (const tab of [otter, heron]) await tab.getByRole('button', { name: 'Ready' }).click()
  await expect.poll(() => text(otter)).toContain('Starts in')
  await time.passOn(1200, otter, heron)
  await otter.getByRole('button', { name: 'Search for cargo' }).waitFor()
  hosted.run((match) => match.report('raft.found', { seat: 'heron', crates: 7 }))
  await otter.getByLabel('See it as').selectOption({ label: 'Heron' })
  const other = otter.getByRole('region', { name: 'Another view' })
  await expect.poll(() => other.getByRole('row').filter({ hasText: 'Heron' }).innerText()).toMatch(/\b7\b/)
  expect(await row(otter, 'Heron').innerText()).not.toMatch(/\b7\b/)
  expect(await other.getByTitle('You do not see this').allInnerTexts()).toContain('7')
  await otter.getByLabel('See it as').selectOption('spectator')
  await expect.poll(() => other.getByRole('img', { name: 'cargo: hidden' }).count()).toBe(2)

  hosted.run((match) => match.direct('phases.pause', {}))
  await expect.poll(() => text(otter)).toContain('paused')
  await otter.getByRole('button', { name: 'Head for the dock' }).click()
  await expect.poll(() => otter.getByRole('status').innerText()).toContain('paused')
  hosted.run((match) => match.direct('phases.resume', {}))

  await heron.close()
  await expect.poll(() => text(otter)).toContain('Heron is away')
  await otter.reload()
  await otter.getByRole('heading', { name: 'You are Otter' }).waitFor()
  expect(hosted.match.seats).toEqual(['otter', 'heron'])
})

test('the door asks which of several games; Kettle Watch is played with the keyboard alone', async () => {
  venue.begin('reed-regatta', reedRegatta, { seed: 'fair-1' })
  const hosted = venue.begin('kettle-watch', kettleWatch, {
    seed: 'fair-1',
    settings: { phases: { countdown: 0 }, kettle: { soonest: 60_000, latest: 60_000, fill: 0 } },
  })
  const tabs = [await visit(), await visit(), await visit({ width: 360, height: 740 })]
  for (const [at, tab] of tabs.entries()) {
    await tab.getByLabel('Kettle Watch').focus()
    await tab.keyboard.press('Space')
    await sit(tab, ['Otter', 'Heron', 'Vole'][at] ?? '')
    await tab.getByRole('button', { name: 'Ready' }).focus()
    await tab.keyboard.press('Enter')
  }
  const holder = () =>
    isMatchOf(kettleWatch, hosted.match) ? hosted.match.state.holds.now.holder.get('kettle') : undefined
  await expect.poll(holder).toBeDefined()
  const first = holder()
  const tab = tabs[['otter', 'heron', 'vole'].indexOf(first ?? '')] as Page
  const hand = tab
    .getByRole('group', { name: 'You have the watch! Hand it on to' })
    .getByRole('button')
    .first()
  await hand.focus()
  const to = (await hand.innerText()).toLowerCase()
  await tab.keyboard.press('Enter')
  await expect.poll(holder).toBe(to)
  await expect.poll(() => text(tab)).toContain('Somebody else has the watch')
  const next = tabs[['otter', 'heron', 'vole'].indexOf(to)] as Page
  await expect.poll(() => text(next)).toContain('You have the watch!')
  await next.reload()
  await expect.poll(() => text(next)).toContain('You have the watch!')
  expect(await tabs[2]?.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true)
})

test('Pike Pond: a fish swims where it was sent and sees what is near; what another sees is beside it', async () => {
  const hosted = venue.begin('pond', pikePond, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
  const [otter, heron] = [await visit(), await visit()]
  await sit(otter, 'Otter')
  await sit(heron, 'Heron')
  for (const seat of ['vole', 'newt'])
    hosted.run((match) => match.direct('roster.join', { seat, name: seat, bot: true }))
  for (const tab of [otter, heron]) await tab.getByRole('button', { name: 'Ready' }).click()
  await otter.getByRole('button', { name: 'east' }).waitFor()
  const swim = async (seat: string, x: number) => {
    hosted.run((match) => match.report('areas.at', { seat, x, y: 300 }))
    await time.passOn(1000, otter, heron) // positions are sent some times a second
  }
  await swim('otter', 100)
  await swim('heron', 1000)
  await otter.getByRole('button', { name: 'east' }).focus()
  await otter.keyboard.press('Enter')
  const heading = () =>
    isMatchOf(pikePond, hosted.match) ? hosted.match.state.pond.heading.of('otter') : undefined
  await expect.poll(() => [heading()?.x, heading()?.y]).toEqual([350, 300])
  await otter.getByRole('img', { name: 'The pond' }).click({ position: { x: 10, y: 10 } })
  await expect.poll(() => heading()?.x).toBeLessThan(60)
  const fish = (tab: Page, name: string) => tab.locator('svg').first().locator('title', { hasText: name })
  expect([await fish(otter, 'Otter').count(), await fish(otter, 'Heron').count()]).toEqual([1, 0])
  await swim('otter', 900)
  await expect.poll(() => fish(otter, 'Heron').count()).toBe(1)
  await swim('otter', 100)
  await expect.poll(() => fish(otter, 'Heron').count()).toBe(0)
  await otter.getByLabel('See it as').selectOption({ label: 'Heron' })
  const beside = otter.getByRole('region', { name: 'Another view' }).locator('svg')
  await expect.poll(() => beside.locator('title', { hasText: 'Heron' }).count()).toBe(1)
  expect(await beside.locator('title', { hasText: 'Otter' }).count()).toBe(0)
  expect(await otter.getByRole('region', { name: 'Another view' }).innerText()).toMatch(/that you do not see/)
})

test('the fair: a link brings the second player, a reload keeps the seat, and who watches sees it 30 s late', async () => {
  venue.begin('stones', steppingStones, {
    seed: 'fair-1',
    spectatorDelay: 30_000,
    settings: { phases: { countdown: 1000 }, turns: { turnTime: 600_000 } },
  })
  const otter = await visit()
  await sit(otter, 'Otter')
  await expect.poll(() => text(otter)).toContain('In the lobby')
  const link = await otter.getByRole('link', { name: 'Link for others' }).getAttribute('href')
  const heron = await visit()
  await heron.goto(new URL(link ?? '', venue.url).href)
  await expect.poll(() => text(heron)).toContain('Somebody has invited you')
  await sit(heron, 'Heron')
  for (const tab of [otter, heron]) await tab.getByRole('button', { name: 'Ready' }).click()
  await expect.poll(() => text(otter)).toContain('Starts in')
  await time.passOn(1000, otter, heron)
  const stones = (tab: Page) => tab.locator('button[aria-label^="lay on"]:not([disabled])')
  await expect
    .poll(async () => (await stones(otter).count()) + (await stones(heron).count()))
    .toBeGreaterThan(0)
  const first = (await stones(otter).count()) > 0 ? otter : heron
  const [name, other] = first === otter ? ['Otter', heron] : ['Heron', otter]
  await stones(first).first().click()
  await expect.poll(() => text(other)).toContain(`${name}: 1 stone`)
  await first.reload()
  await first.getByRole('heading', { name: `You are ${name}` }).waitFor()
  await expect.poll(() => text(first)).toContain(`${name}: 1 stone`)
  const watcher = await visit()
  await watcher.getByRole('button', { name: 'Watch' }).click()
  await expect.poll(() => text(watcher)).toContain('Spectator')
  expect(await text(watcher)).not.toContain('1 stone')
  await time.passOn(30_000, otter, heron, watcher)
  await expect.poll(() => text(watcher)).toContain(`${name}: 1 stone`)
})

test('for any other rulebook: seats side by side, a form for each action that is legal, names in place of ids', async () => {
  const stall = defineRule({
    name: 'stall',
    state: { till: perSeat({ coins: int(0).seenBy(owner), cost: int(7), last: moment().seenBy(owner) }) },
    events: { sold: { seat: seatRef().seenBy(everyone), jars: int().seenBy(everyone) } },
    notices: { sold: { says: '{seat} sells {jars} jars' } },
    timers: { rent: { seenBy: owner, fire() {} } },
    actions: {
      sell: {
        input: { jars: int(1).between(1, 3) },
        decide(match, seat, { jars }) {
          if (match.own.till.of(seat).coins > 3) return refuse('sold-out')
          match.own.till.of(seat).coins += jars
          match.own.till.of(seat).last = match.time.match
          match.emit('sold', { seat, jars })
          match.timers.start('rent', { in: 60_000, key: seat })
        },
      },
    },
  })
  venue.begin('one', defineRulebook({ name: 'jam-stall', seats: { min: 2, max: 4 }, rules: [stall] }), {
    seed: 'x',
    settings: { phases: { countdown: 0 } },
  })
  const tab = await visit()
  await tab.getByLabel('Your name').fill('Otter')
  await tab.keyboard.press('Enter')
  await tab.getByRole('button', { name: 'Add a seat' }).click()
  const [mine, theirs] = [
    tab.getByRole('region', { name: 'Otter' }),
    tab.getByRole('region', { name: 'Guest 2' }),
  ]
  for (const column of [mine, theirs])
    await column.getByRole('button', { name: 'roster.ready', exact: true }).click()
  const sell = (column: Locator) => column.getByRole('button', { name: 'stall.sell' })
  await sell(mine).waitFor()
  expect(await mine.getByRole('button', { name: 'roster.ready', exact: true }).count()).toBe(0) // it is live
  await mine.getByLabel('of 3').selectOption({ label: 'jars 3' })
  await sell(mine).click()
  await expect.poll(() => mine.getByRole('table', { name: 'stall.till' }).innerText()).toMatch(/Otter\s+3/)
  expect(await theirs.getByRole('table', { name: 'stall.till' }).innerText()).not.toContain('3')
  expect(await mine.getByRole('table', { name: 'stall.till' }).innerText()).not.toContain('cost')
  // Only what is legal has a form, and a moment is clock text.
  await sell(mine).click()
  await expect.poll(() => sell(mine).count()).toBe(0)
  expect(await sell(theirs).count()).toBe(1)
  await expect.poll(() => mine.getByRole('table', { name: 'stall.till' }).innerText()).toContain('0:0')
  await mine.getByText('stall rent of Otter').waitFor()
  // Notices stay, and can be searched.
  await mine.getByText('Read back').click()
  await mine.getByLabel('Find').fill('otter sells')
  await expect.poll(() => mine.locator('.history').innerText()).toMatch(/Otter sells 3 jars/)
  expect(await mine.locator('.history').innerText()).not.toContain('joined')
  // A player who may drive has that beside what it plays.
  await tab.getByRole('button', { name: 'Drive' }).click()
  await tab.getByRole('region', { name: 'Drive' }).getByRole('button', { name: 'phases.pause' }).click()
  await tab.locator('.stand').getByText('paused').waitFor()
})
