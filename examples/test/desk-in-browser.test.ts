import { get } from 'node:http'
import { modes, reedRegatta } from '@zinc-referee/examples'
import type { Page } from 'playwright-core'
import { afterEach, expect, test } from 'vitest'
import { parse } from 'yaml'
import { type AnyRulebook, beginAnyMatch, minutes, readRecord, seconds } from 'zinc-referee'
import { playToEnd, readScenario, runScenario } from 'zinc-referee/testing'
import { openReview, type ReviewServer } from '../../packages/cli/src/desk/review-server.ts'
import { barriersOf } from './barriers.ts'
import { oneBrowser, oneTab } from './browser.ts'

const page = new URL('../dist/desk/', import.meta.url)
const browser = oneBrowser()
let desk: ReviewServer | undefined
afterEach(() => desk?.close())
const goTo = oneTab(browser)

/** A record of a mode's demo, up to a time. */
function recorded(mode: string, until: number): { readonly book: AnyRulebook; readonly text: string } {
  const { rulebook: book, demo } = modes[mode]!
  const { seed = 'fair-1' } = demo
  const lines: string[] = []
  const match = beginAnyMatch(book, { seed, record: (line) => lines.push(line) })
  const seats = demo.seats ?? ['otter', 'heron', 'vole', 'newt', 'coot'].map((id) => ({ id, name: id }))
  for (const { id, name } of seats.slice(0, book.plan.seatLimits.max))
    match.direct('roster.join', { seat: id, name })
  for (const seat of match.seats) match.submit(seat, 'roster.ready', {})
  playToEnd(match, demo.crowd!(seed), until, () => {})
  match.close()
  return { book, text: lines.join('\n') }
}
async function look(
  book: AnyRulebook,
  text: string,
  how: { readonly at?: string; readonly width?: number } = {},
) {
  desk = await openReview(book, readRecord(text), { file: 'evening.jsonl', port: 0, page })
  const tab = await goTo(`${desk.url}${how.at ?? ''}`, how.width)
  await tab.getByRole('columnheader', { name: 'server' }).first().waitFor()
  return tab
}
const moment = (tab: Page) => tab.locator('.moment-now').innerText()
const slider = (tab: Page) => tab.getByRole('slider', { name: 'Moment' })
const cells = (tab: Page, path: string) =>
  tab
    .getByRole('row')
    .filter({ has: tab.getByRole('button', { name: path, exact: true }) })
    .first()

test('a record is moved through by keys, slider and search; what a seat does not see is hatched; a click says why', async () => {
  const { book, text } = recorded('reed-regatta', minutes(1))
  const tab = await look(book, text)
  expect(await moment(tab)).toContain('line 2')
  await tab.keyboard.press('ArrowRight')
  await tab.keyboard.press('PageDown')
  expect(await slider(tab).inputValue()).toBe('11')
  await tab.keyboard.press('End')
  expect(Number(await slider(tab).inputValue())).toBeGreaterThan(200)
  await tab.keyboard.press('Home')
  await tab.getByLabel('Find', { exact: true }).fill('vitals.down')
  await tab.keyboard.press('Enter')
  await expect.poll(() => tab.locator('[aria-current=step]').innerText()).toContain('vitals.down')
  const found = await moment(tab)

  // What was known: the server knows each cargo, a seat its own alone.
  await tab.getByLabel('Find a cell').fill('raft hold cargo')
  const cargo = cells(tab, 'raft.hold.heron.cargo')
  expect(await cargo.getByRole('cell').nth(0).innerText()).toMatch(/^\d+$/)
  expect(await cargo.getByRole('img', { name: 'hidden' }).count()).toBe(1)
  await tab.getByLabel('and as').selectOption('spectator')
  await expect.poll(() => cargo.getByRole('img', { name: 'hidden' }).count()).toBe(2)

  // Why: of the input, of a cell, and of what is asked in words.
  await tab.getByRole('button', { name: 'Why?' }).click()
  await tab.getByText(/accepted\.$/).waitFor()
  const short = await tab.locator('.answer li').count()
  await tab.getByRole('button', { name: /^All \d+ causes$/ }).click()
  expect(await tab.locator('.answer li').count()).toBeGreaterThan(short)
  await cargo.getByRole('button').click()
  await tab.getByText(/^raft\.hold\.heron\.cargo is \d+ since/).waitFor()
  expect(await tab.getByLabel('Ask').inputValue()).toMatch(/^raft\.hold\.heron\.cargo at line \d+$/)
  await tab.getByLabel('Ask').fill('respawn of nobody')
  await tab.keyboard.press('Enter')
  await tab.getByText(/no seat 'nobody' in this match/).waitFor()
  await tab.getByLabel('Ask').fill('otter.health')
  await tab.keyboard.press('Enter')
  await tab.locator('.answer button.moment').first().click()
  await expect.poll(() => moment(tab)).not.toBe(found)

  // The address leads to the moment, and a scenario can be cut from it.
  await expect.poll(() => tab.url()).toContain(`at=${await slider(tab).inputValue()}&`)
  const cut = await tab.getByRole('link', { name: 'Cut a scenario here' }).getAttribute('href')
  const yaml = await (await fetch(new URL(cut ?? '', desk?.url))).text()
  expect(runScenario(reedRegatta, readScenario(parse(yaml))).unmet).toEqual([])
  expect(await barriersOf(tab)).toEqual([])
})

test('on a phone it fits; a record’s page is for this machine alone, and says what it cannot answer', async () => {
  const { book, text } = recorded('lantern-market', minutes(1))
  const tab = await look(book, text, { width: 360, at: '#at=12&a=heron&b=spectator' })
  expect(await slider(tab).inputValue()).toBe('12')
  expect(await tab.getByLabel('See it as').inputValue()).toBe('heron')
  expect(await tab.evaluate('document.documentElement.scrollWidth')).toBeLessThanOrEqual(360)
  expect(await barriersOf(tab)).toEqual([])
  const { port } = new URL(desk?.url ?? '')
  const status = (path: string, host: string): Promise<number | undefined> =>
    new Promise((got) => get({ port, path, headers: { host } }, (answer) => got(answer.statusCode)))
  expect(await status('/timeline', 'localhost')).toBe(200)
  expect(await status('/timeline', 'fair.example')).toBe(403)
  expect(await status('/why?question=fish', 'localhost')).toBe(400)
  expect(await status('/scenario?line=1', 'localhost')).toBe(400)
})

test.each(Object.keys(modes))('any mode is looked back at without code of its own: %s', async (mode) => {
  const { book, text } = recorded(mode, seconds(20))
  const tab = await look(book, text)
  await tab.keyboard.press('End')
  for (const step of ['PageUp', 'PageUp', 'ArrowLeft', 'Home', 'PageDown']) await tab.keyboard.press(step)
  expect(await slider(tab).inputValue()).toBe('10')
  await tab.locator('summary').getByText('phases', { exact: true }).click()
  await expect.poll(() => tab.locator('details[open] tr').count()).toBeGreaterThan(0)
})
