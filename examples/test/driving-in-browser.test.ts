// A referee's desk at a running match, in a real browser, for every mode without code of its own.
import { mkdtemp, readFile, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { modes } from '@zinc-referee/examples'
import { openVenue, type Venue, type VenueOptions } from '@zinc-referee/venue'
import { SignJWT } from 'jose'
import type { Page } from 'playwright-core'
import { afterEach, expect, test } from 'vitest'
import { replayRecord } from 'zinc-referee'
import { barriersOf } from './barriers.ts'
import { oneBrowser, oneTab } from './browser.ts'

const page = new URL('../dist/page/', import.meta.url)
const k = Buffer.from('a key of 32 bytes for the desk !!')
const admissions = { keys: [{ kty: 'oct', kid: 'desk', alg: 'HS256', k: k.toString('base64url') }] }
const token = (role: string): Promise<string> =>
  new SignJWT({ sub: 'Ms Sedge', role })
    .setProtectedHeader({ alg: 'HS256', kid: 'desk' })
    .setExpirationTime('1h')
    .sign(k)
const browser = oneBrowser()
let venue: Venue
let folder: string
afterEach(async () => {
  await venue.close()
  await rm(folder, { recursive: true })
})
const goTo = oneTab(browser)

/** A running match of a mode, with its record. */
async function begun(mode: string, options: VenueOptions) {
  folder = await mkdtemp(join(tmpdir(), 'desk-'))
  venue = await openVenue({ page, records: folder, ...options })
  const { rulebook: book } = modes[mode]!
  const hosted = venue.begin(mode, book, {
    seed: 'fair-1',
    settings: { phases: { countdown: 0 } },
  })
  return { book, hosted }
}
const visit = (address: string, width?: number): Promise<Page> => goTo(`${venue.url}${address}`, width)

/** Chooses a fact or directive, fills its fields in, and sends it. */
async function give(tab: Page, name: string, fields: { readonly [name: string]: string }): Promise<void> {
  const form = tab.locator('form.order').first()
  await form.getByLabel('Fact or directive').selectOption({ label: name })
  for (const [field, value] of Object.entries(fields)) {
    const control = form.locator(`[name='${field}']`)
    const isChoice = (await control.evaluate((each) => each.tagName)) === 'SELECT'
    const choice = isChoice && (await control.locator('option', { hasText: value }).getAttribute('value'))
    await (isChoice ? control.selectOption(choice || '') : control.fill(value))
  }
  await form.getByRole('button').click()
}
const latest = (tab: Page) => tab.getByRole('list', { name: 'Answers' }).locator('li').first().innerText()

test.each(Object.keys(modes))(
  '%s: seats come, play, stand still, and are sent off, by its desk',
  async (mode) => {
    const { book, hosted } = await begun(mode, { allowViewAsAnySeat: true, allowDriving: true })
    const tab = await visit(`?desk=${mode}&name=Ms+Sedge`)
    const count = Math.max(2, book.plan.seatLimits.min)
    for (let at = 1; at <= count; at++) {
      await tab.getByRole('button', { name: 'Add a seat' }).click()
      await expect.poll(() => hosted.match.seats.length).toBe(at)
    }
    const [first = '', second = ''] = hosted.match.seats
    await tab.getByRole('button', { name: 'phases.start' }).click()
    const phase = (): unknown => Object(hosted.match.view('spectator').phases).now
    await expect.poll(phase).toMatchObject({ phase: 'live' })
    // Somebody has something to do, and does it.
    const deeds = tab.locator('.column .actions button').filter({ hasNotText: /^(roster|verdict)\./ })
    let tried = 0
    await expect
      .poll(
        async () => {
          const count = await deeds.count()
          if (count > 0) await deeds.nth(tried++ % count).click({ timeout: 1000 })
          return tab.locator('.column [role=status]').allInnerTexts()
        },
        { interval: 50, timeout: 60_000 },
      )
      .toContainEqual(expect.stringMatching(/: allowed$/))
    await tab.getByRole('button', { name: 'phases.pause' }).click()
    await expect.poll(phase).toMatchObject({ paused: true })
    // What a seat sees is beside it, and it can be sent off.
    await tab.getByLabel('See what a seat sees').selectOption(second)
    const columns = tab.getByRole('region', { name: 'Guest 3' })
    await columns.nth(1).getByRole('table').first().waitFor()
    await give(tab, 'roster.kick', { seat: first, why: 'asleep' })
    await expect.poll(() => hosted.match.seats).not.toContain(first)
    // All of it is in the record, with a name, and replays.
    await venue.close()
    const record = await readFile(hosted.record!, 'utf8')
    expect(record.match(/"Ms Sedge"/g)?.length).toBe(3)
    expect(replayRecord(book, record).differs).toBeUndefined()
  },
)

test('time is put on in a pause, facts are reported with their numbers, settings are set, and what does not fit is said; on a phone, too', async () => {
  const { hosted } = await begun('reed-regatta', { allowDriving: true, allowViewAsAnySeat: true })
  for (const seat of ['otter', 'heron'])
    hosted.run((match) => match.direct('roster.join', { seat, name: seat }))
  hosted.run((match) => match.direct('phases.start', {}))
  const tab = await visit('?desk', 360)
  await tab.getByLabel('Your name').fill('Ms Sedge')
  await tab.getByRole('button', { name: 'Take the desk' }).click()
  const phase = (): unknown => Object(hosted.match.view('spectator').phases).now
  await tab.getByRole('button', { name: 'phases.pause' }).click()
  await expect.poll(phase).toMatchObject({ paused: true })
  // Time is put on step by step in a pause, which stays.
  const before = hosted.now()
  await tab.getByRole('button', { name: '+10 s' }).click()
  await expect.poll(() => latest(tab)).toBe('venue.skip {"for":10000}: done')
  expect(hosted.now() - before).toBeGreaterThanOrEqual(10_000)
  expect(phase()).toMatchObject({ paused: true })
  await tab.getByRole('button', { name: 'phases.pause' }).click()
  await expect.poll(() => latest(tab)).toMatch(/^refused · phases\.pause: /)
  await tab.getByRole('button', { name: 'phases.resume' }).click()
  await expect.poll(() => latest(tab)).toBe('phases.resume: done')
  await give(tab, 'raft.found', { seat: 'otter', crates: '12' })
  await expect.poll(() => latest(tab)).toBe('raft.found {"seat":"otter","crates":12}: done')
  await give(tab, 'raft.found', { seat: 'otter', crates: '' }) // its default
  await expect.poll(() => latest(tab)).toBe('raft.found {"seat":"otter"}: done')
  await give(tab, 'scores.correct', { seat: 'heron', amount: '3', reason: 'found late' })
  await expect
    .poll(() => tab.getByRole('table', { name: 'scores.ledger' }).innerText())
    .toContain('found late')
  await give(tab, 'scores.void', { row: 'found late' })
  await expect.poll(() => latest(tab)).toMatch(/^scores\.void .*: done/)
  const set = tab.locator('form.order').nth(1)
  await set.getByLabel('Settings of').selectOption('rounds')
  const says = async (what: string) => {
    await set.getByRole('button', { name: 'Set' }).click()
    await expect.poll(() => tab.getByRole('alert').innerText()).toContain(what)
  }
  await says('Nothing differs')
  const length = set.getByLabel('length', { exact: true })
  await length.fill('a while')
  await says('not JSON')
  await length.fill('-1')
  await set.getByRole('button', { name: 'Set' }).click()
  await expect.poll(() => latest(tab)).toMatch(/^refused · match\.set .*length/)
  await length.fill('250000')
  await set.getByLabel('bestOf').selectOption('no')
  await set.getByLabel('breakTime').fill('5000')
  await set.getByRole('button', { name: 'Set' }).click()
  await expect
    .poll(() => latest(tab))
    .toBe('match.set {"rule":"rounds","settings":{"length":250000,"bestOf":false,"breakTime":5000}}: done')
  expect(hosted.match.snapshot().settings['rounds']).toMatchObject({ length: 250_000, bestOf: false })
  await says('Nothing differs')
  await tab.getByLabel('See what a seat sees').selectOption('heron')
  await tab.getByRole('region', { name: 'heron' }).getByRole('table').first().waitFor()
  expect(await barriersOf(tab)).toEqual([])
  const { scrollWidth, clientWidth } = await tab.evaluate(() => document.documentElement)
  expect(scrollWidth).toBe(clientWidth)
  await tab.reload()
  await tab.getByRole('button', { name: 'phases.pause' }).waitFor()
})

test('where admissions are asked for, a referee drives, a reporter reports, and a watcher does neither', async () => {
  const { hosted } = await begun('reed-regatta', { admissions, allowDriving: true })
  hosted.run((match) => match.direct('roster.join', { seat: 'otter', name: 'Otter' }))
  const referee = await visit(`?desk=reed-regatta#admission=${await token('referee')}`)
  await give(referee, 'roster.kick', { seat: 'otter' })
  await expect.poll(() => hosted.match.seats).toEqual([])
  const reporter = await visit(`?desk=reed-regatta#admission=${await token('reporter')}`)
  await reporter.getByLabel('Fact or directive').waitFor()
  expect(await reporter.getByRole('option', { name: 'raft.found' }).count()).toBe(1)
  expect(await reporter.getByRole('option', { name: 'roster.kick' }).count()).toBe(0)
  expect(await reporter.getByRole('button', { name: 'phases.start' }).count()).toBe(0)
  const watcher = await visit(`?desk=reed-regatta#admission=${await token('watcher')}`)
  await watcher.getByText('You only watch here').waitFor()
  const nobody = await visit('?desk=reed-regatta')
  await nobody.getByRole('heading', { name: 'You could not come in' }).waitFor()
})
