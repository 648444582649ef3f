import {
  bellTide,
  ebbPost,
  kettleWatch,
  lanternMarket,
  modes,
  musselDip,
  pikePond,
  reedRegatta,
  spoiledBrew,
  steppingStones,
} from '@zinc-referee/examples'
import { openVenue, type Venue } from '@zinc-referee/venue'
import type { Page } from 'playwright-core'
import { afterEach, expect, test } from 'vitest'
import { type AnyMatch, isMatchOf } from 'zinc-referee'
import { barriersOf } from './barriers.ts'
import { oneBrowser } from './browser.ts'
import { StoppedTime } from './stopped-time.ts'

const page = new URL('../dist/page/', import.meta.url)
const browser = oneBrowser()
let venue: Venue

afterEach(() => venue.close())

/** What has the focus, as a person knows it. */
const focused = (tab: Page): Promise<string> =>
  tab.evaluate(() => {
    const at = document.activeElement
    return (
      at?.getAttribute('aria-label') ?? (at instanceof HTMLInputElement ? at.type : (at?.textContent ?? ''))
    )
  })

/** Goes on by Tab, and by an arrow where one is given, to what is so called. */
async function tabTo(tab: Page, wanted: RegExp, key = 'Tab'): Promise<string> {
  for (let tries = 0; tries < 80; tries++) {
    const name = await focused(tab)
    if (wanted.test(name)) return name
    await tab.keyboard.press(key)
  }
  throw new Error(`nothing is called ${wanted}; the page says: ${await tab.locator('main').innerText()}`)
}

/** Wren comes in, with keys alone. */
async function sitDown(tab: Page): Promise<void> {
  await tab.goto(venue.url)
  await tabTo(tab, /^text$/)
  await tab.keyboard.type('Wren')
  await tab.keyboard.press('Enter')
  await tab.getByRole('heading', { name: 'You are Wren' }).waitFor()
}

/** One thing that a player does: what it is called, and what has come of it. */
const deeds: {
  readonly [mode: string]: { readonly wanted: RegExp; readonly done: (match: AnyMatch) => boolean }
} = {
  'reed-regatta': {
    wanted: /^Head for the dock$/,
    done: (match) => isMatchOf(reedRegatta, match) && match.state.raft.helm.of('wren').course === 'dock',
  },
  'stepping-stones': {
    wanted: /^lay on /,
    done: (match) =>
      isMatchOf(steppingStones, match) &&
      match.state.pond.cells.all().some(({ holder }) => holder === 'wren'),
  },
  'kettle-watch': {
    wanted: /^(Otter|Heron)$/,
    done: (match) => isMatchOf(kettleWatch, match) && match.state.holds.now.holder.get('kettle') !== 'wren',
  },
  'bell-tide': {
    wanted: /^To the bell$/,
    done: (match) => isMatchOf(bellTide, match) && match.state.tide.walks.of('wren').x !== undefined,
  },
  'ebb-post': {
    wanted: /^Lay /,
    done: (match) =>
      isMatchOf(ebbPost, match) && match.state.letters.cards.where({ place: 'rack' }).length === 1,
  },
  'pike-pond': {
    wanted: /^east$/,
    done: (match) => isMatchOf(pikePond, match) && match.state.pond.heading.of('wren').x !== undefined,
  },
  'spoiled-brew': {
    wanted: /^tun$/,
    done: (match) => isMatchOf(spoiledBrew, match) && match.state.brewery.walkers.of('wren').to === 'tun',
  },
  'lantern-market': {
    wanted: /^Take a wish$/,
    done: (match) => isMatchOf(lanternMarket, match) && match.state.wishes.hands.of('wren').count === 1,
  },
  'mussel-dip': {
    wanted: /^lift \d+/,
    done: (match) => isMatchOf(musselDip, match) && match.state.turns.now.seat !== 'wren',
  },
}
const phaseOf = (match: AnyMatch): unknown => match.view('spectator')['phases']?.['now']
const holderOf = (match: AnyMatch): string | undefined =>
  isMatchOf(kettleWatch, match) ? match.state.holds.now.holder.get('kettle') : undefined

test.each(Object.entries(modes))(
  '%s is played with the keyboard alone, from the door on, and fits a phone without barriers',
  async (name, mode) => {
    const { rulebook, demo } = mode
    const { wanted, done } = deeds[name] ?? { wanted: /^$/, done: () => false }
    const time = new StoppedTime()
    venue = await openVenue({ page, allowViewAsAnySeat: true, clock: time })
    const settings = {
      phases: { countdown: 0 },
      ...(name === 'kettle-watch' && { kettle: { soonest: 60_000, latest: 60_000, fill: 0 } }),
    }
    const hosted = venue.begin(name, rulebook, { seed: 'fair-1', settings })
    const context = await browser().newContext({ viewport: { width: 1280, height: 800 } })
    await time.stop(context)
    const tab = await context.newPage()
    const errors: string[] = []
    tab.on('pageerror', (error) => errors.push(error.message))
    await sitDown(tab)
    for (const { id, name: called } of (demo.seats ?? []).slice(
      0,
      Math.max(1, rulebook.plan.seatLimits.min - 1),
    ))
      hosted.run((match) => match.direct('roster.join', { seat: id, name: called, bot: true }))
    await tabTo(tab, /^Ready$/)
    await tab.keyboard.press('Enter')
    await expect.poll(() => phaseOf(hosted.match)).toMatchObject({ phase: 'live' })
    // In Kettle Watch somebody else may hold it first.
    const crowd = demo.crowd?.('fair-1')
    for (let beat = 0; name === 'kettle-watch' && holderOf(hosted.match) !== 'wren' && beat < 60; beat++) {
      hosted.run((match) => crowd?.beat(match, (seat) => seat !== 'wren'))
      await time.passOn(100)
    }
    if (name === 'pike-pond')
      hosted.run((match) => match.report('areas.at', { seat: 'wren', x: 100, y: 300 }))
    await tab.getByRole('button', { name: wanted, disabled: false }).first().waitFor()
    expect(done(hosted.match)).toBe(false)
    await tabTo(tab, wanted)
    await tab.keyboard.press('Enter')
    await expect.poll(() => done(hosted.match)).toBe(true)
    expect(await tab.getByRole('status').first().innerText()).toBe('')
    await tab.setViewportSize({ width: 360, height: 740 })
    expect(await tab.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true)
    expect(await barriersOf(tab)).toEqual([])
    expect(errors).toEqual([])
    await context.close()
  },
)

test('on a board arrow keys go on to the next cell that can be chosen', async () => {
  venue = await openVenue({ page, allowViewAsAnySeat: true, clock: new StoppedTime() })
  const settings = { phases: { countdown: 0 } }
  const hosted = venue.begin('stones', steppingStones, { seed: 'fair-1', settings })
  const tab = await browser().newPage()
  await sitDown(tab)
  hosted.run((match) => match.direct('roster.join', { seat: 'otter', name: 'Otter', bot: true }))
  await tabTo(tab, /^Ready$/)
  await tab.keyboard.press('Enter')
  await tab.getByRole('button', { name: 'lay on b1' }).waitFor()
  expect(await tabTo(tab, /^lay on/)).toBe('lay on b1')
  await tab.keyboard.press('ArrowRight') // there is a lily on c1
  expect(await focused(tab)).toBe('lay on d1')
  await tab.keyboard.press('ArrowRight')
  expect(await focused(tab)).toBe('lay on e1')
  await tab.keyboard.press('ArrowDown') // only the bank is offered
  expect(await focused(tab)).toBe('lay on e6')
  await tab.keyboard.press('ArrowRight')
  expect(await focused(tab)).toBe('lay on e6')
  await tab.keyboard.press('Enter')
  await tab.getByText('Wren lays a stone on e6.').first().waitFor()
  await tab.getByLabel('Language of the rules').selectOption('de')
  await tab.getByText('Wren legt einen Stein auf e6.').first().waitFor()
  await tab.close()
})
