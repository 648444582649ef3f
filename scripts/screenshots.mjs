// Draws docs/screenshots again from the demo data: the command's output in a terminal, and the pages in a browser.
// With names, such as `npm run screenshots -- regatta post-page`, only those.
import { spawn, spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { stripVTControlCharacters } from 'node:util'
import { deskFolder, modes, pageFolder } from '@zinc-referee/examples'
import { openVenue } from '@zinc-referee/venue'
import { chromium } from 'playwright-core'
import { readRecord } from 'zinc-referee'
import { openReview } from '../packages/cli/dist/desk/review-server.js'
import { chromiumArgs, ensureChromium } from './chromium.mjs'

const root = fileURLToPath(new URL('..', import.meta.url))
const into = join(root, 'docs', 'screenshots')
const xterm = dirname(createRequire(import.meta.url).resolve('@xterm/xterm/package.json'))
const browser = await chromium.launch({ executablePath: ensureChromium(), args: chromiumArgs })
const work = mkdtempSync(join(tmpdir(), 'zinc-pictures-'))

const COLUMNS = 120
const record = 'records/reed-regatta-fair-1.jsonl'
const pictures = {
  demo: () => terminal('demo', 'demo'),
  sightcheck: () => terminal('sightcheck', 'sightcheck mussel-dip'),
  replay: () => terminal('replay', `replay ${record}`, `sheet ${record}`),
  explain: () =>
    terminal(
      'explain',
      `explain ${record} respawn of otter`,
      `explain ${record} otter.score at 5:00`,
      `explain ${record} option raft.chase of otter at 9:01`,
    ),
  view: () => terminal('view', `view ${record} --seat otter --at 0:56`),
  regatta,
  'kettle-page': (name) => played('kettle-watch', name, 60),
  'pond-page': (name) => played('pike-pond', name, 120),
  'bell-page': (name) => played('bell-tide', name, 70),
  'post-page': (name) => played('ebb-post', name, 13, 200),
  'stones-page': (name) => played('stepping-stones', name, 8, 200),
  'mussels-page': (name) => played('mussel-dip', name, 7, 200),
  'lanterns-page': (name) => played('lantern-market', name, 10, 200),
  'brew-page': (name) => played('spoiled-brew', name, 24, 1000),
  review,
  load: loadPlot,
  circuit,
  desk,
}
const asked = process.argv.slice(2)
const unknown = asked.filter((name) => !(name in pictures))
if (unknown.length > 0) {
  console.error(`No picture ${unknown.join(', ')}. There are ${Object.keys(pictures).join(', ')}.`)
  process.exit(2)
}
for (const [name, draw] of Object.entries(pictures))
  if (asked.length === 0 || asked.includes(name)) await draw(name)
await browser.close()

/** The plot of a short run of load. */
async function loadPlot(name) {
  const bin = join(root, 'packages/cli/bin/zinc-referee.js')
  const plot = join(work, 'load.html')
  spawnSync(process.execPath, [bin, 'load', '--matches', '40', '--for', '20', '--plot', plot], { cwd: work })
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.goto(`file://${plot}`)
  await page.screenshot({ path: join(into, `${name}.png`) })
  await page.close()
}

/** The page that looks back at the demo's record, with an answer. */
async function review(name) {
  const file = join(work, record)
  const content = readRecord(readFileSync(file, 'utf8'))
  const review = await openReview(modes['reed-regatta'].rulebook, content, {
    file,
    port: 0,
    page: deskFolder,
  })
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.goto(`${review.url}#at=2400&a=otter&b=heron`)
  await page.getByRole('columnheader', { name: 'server' }).first().waitFor()
  await page.getByRole('button', { name: 'Why?' }).click()
  await page.getByRole('button', { name: /^All/ }).waitFor()
  await page.screenshot({ path: join(into, `${name}.png`) })
  await page.close()
  await review.close()
}

/** How many rows of the terminal a line takes. */
function rowsOf(line) {
  return Math.max(1, Math.ceil(stripVTControlCharacters(line).length / COLUMNS))
}

/** One picture of what these commands print. */
async function terminal(name, ...commands) {
  const bin = join(root, 'packages/cli/bin/zinc-referee.js')
  const texts = commands.map((command) => {
    const { stdout } = spawnSync(process.execPath, [bin, ...command.split(' ')], {
      cwd: work,
      encoding: 'utf8',
      env: { ...process.env, FORCE_COLOR: '1' },
    })
    return `$ npx zinc-referee ${command}\n\n${stdout}`
  })
  const text = texts.join('\n')
  const rows = text.split('\n').reduce((sum, line) => sum + rowsOf(line), 0)
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.setContent('<body style="margin:0;padding:12px;background:#141b20"><div id="screen"></div>')
  await page.addStyleTag({ content: readFileSync(join(xterm, 'css/xterm.css'), 'utf8') })
  await page.addScriptTag({ path: join(xterm, 'lib/xterm.js') })
  await page.evaluate(
    ([output, lines, cols]) =>
      new Promise((done) => {
        const screen = new globalThis.Terminal({
          cols,
          rows: lines,
          fontSize: 16,
          convertEol: true,
          theme: { background: '#141b20', foreground: '#ece7dc' },
        })
        screen.open(document.getElementById('screen'))
        screen.write(output, done)
      }),
    [text, rows, COLUMNS],
  )
  await page.waitForTimeout(300)
  await page.locator('body').screenshot({ path: join(into, `${name}.png`) })
  await page.close()
}

async function visit(venue, name, size, scheme = 'light') {
  const context = await browser.newContext({ viewport: size, colorScheme: scheme })
  const page = await context.newPage()
  await page.goto(venue.url)
  await page.getByLabel('Your name').fill(name)
  await page.keyboard.press('Enter')
  await page.getByRole('heading', { name }).first().waitFor()
  return page
}

/** A regatta in which bots have played for a while, seen by a desk and by a phone. */
async function regatta() {
  const { rulebook, demo } = modes['reed-regatta']
  const venue = await openVenue({ page: pageFolder, allowViewAsAnySeat: true })
  const hosted = venue.begin('fair', rulebook, { seed: demo.seed, settings: { phases: { countdown: 0 } } })
  const desk = await visit(venue, 'Otter', { width: 1280, height: 800 })
  const phone = await visit(venue, 'Heron', { width: 390, height: 844 }, 'dark')
  for (const { id, name } of demo.seats.slice(2))
    hosted.run((match) => match.direct('roster.join', { seat: id, name, bot: true }))
  for (const page of [desk, phone]) await page.getByRole('button', { name: 'Ready' }).click()
  await desk.getByRole('button', { name: 'Search for cargo' }).waitFor()
  const crowd = demo.crowd(demo.seed)
  await desk.getByLabel('See it as').selectOption({ label: 'Heron' })
  for (let beat = 0; beat < 46; beat++) {
    hosted.run((match) => crowd.beat(match, () => true))
    await desk.waitForTimeout(crowd.every)
  }
  await desk.screenshot({ path: join(into, 'regatta.png') })
  await phone.screenshot({ path: join(into, 'phone.png') })
  await venue.close()
}

/** A page of a game that bots have played for so many beats (ms apart), with another seat's view beside one's own. */
async function played(mode, file, beats, apart) {
  const { rulebook, demo } = modes[mode]
  const venue = await openVenue({ page: pageFolder, allowViewAsAnySeat: true })
  const hosted = venue.begin(mode, rulebook, {
    seed: demo.seed,
    settings: { phases: { countdown: 0 } },
    with: rulebook.optional,
  })
  const page = await visit(venue, 'Wren', { width: 1280, height: 800 })
  for (const { id, name } of demo.seats)
    hosted.run((match) => match.direct('roster.join', { seat: id, name, bot: true }))
  await page.getByRole('button', { name: 'Ready' }).click()
  await page.getByRole('button', { name: 'Ready' }).waitFor({ state: 'detached' })
  await page.getByLabel('See it as').selectOption({ label: demo.seats[0].name })
  const crowd = demo.crowd(demo.seed)
  for (let beat = 0; beat < beats; beat++) {
    hosted.run((match) => crowd.beat(match, () => true))
    await page.waitForTimeout(apart ?? crowd.every)
  }
  await page.screenshot({ path: join(into, `${file}.png`) })
  await venue.close()
}

/** The page of a circuit, of which a venue has been killed. */
async function circuit(name) {
  const child = spawn(process.execPath, [join(root, 'scripts', 'circuit.mjs'), '0'])
  let said = ''
  child.stdout.on('data', (data) => {
    said += data
  })
  while (!said.includes('Ctrl-C ends all')) await new Promise((soon) => setTimeout(soon, 50))
  const venues = [...said.matchAll(/^ {2}(?:north|south|west) +(\S+) +process (\d+)$/gm)]
  const [[, north], [, south], [, west, last]] = venues
  for (const [at, url] of [west, south, west, south, west, north].entries())
    await fetch(`${url}matches`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ mode: 'stepping-stones', id: `evening-${at + 1}`, emptyFor: null }),
    })
  await new Promise((soon) => setTimeout(soon, 1000))
  process.kill(Number(last), 'SIGKILL')
  await new Promise((soon) => setTimeout(soon, 6000))
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  await page.goto(`${south}circuit`)
  await page.getByText('taken over').first().waitFor()
  await page.screenshot({ path: join(into, `${name}.png`) })
  await page.close()
  child.kill('SIGINT')
}

/** The README's own mode at the desk: two seats side by side, and what a referee may do. */
async function desk(name) {
  const readme = readFileSync(join(root, 'README.md'), 'utf8')
  const file = join(root, 'records', 'duck-pond.mjs')
  const source = /```ts\n(\/\/ duck-pond\.ts\n[\s\S]*?)```/.exec(readme)?.[1]
  mkdirSync(dirname(file), { recursive: true })
  writeFileSync(file, source) // it has no type that Node would have to strip
  const { default: pond } = await import(file)
  const venue = await openVenue({ page: pageFolder, allowViewAsAnySeat: true, allowDriving: true })
  venue.begin('fair', pond, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
  const page = await visit(venue, 'Otter', { width: 1280, height: 800 })
  await page.getByRole('button', { name: 'Add a seat' }).click()
  const [mine, theirs] = [
    page.getByRole('region', { name: 'Otter' }),
    page.getByRole('region', { name: 'Guest 2' }),
  ]
  for (const column of [mine, theirs])
    await column.getByRole('button', { name: 'roster.ready', exact: true }).click()
  for (const column of [mine, mine, mine, theirs, theirs, mine, theirs, mine])
    await column.getByRole('button', { name: 'pond.hook' }).click()
  await page.getByRole('button', { name: 'pond.show' }).first().click()
  await page.getByRole('button', { name: 'Drive' }).click()
  const drive = page.getByRole('region', { name: 'Drive' })
  await drive.getByRole('button', { name: '+10 s' }).click()
  await page.evaluate(() => scrollTo(0, 0))
  await page.waitForTimeout(400)
  await page.screenshot({ path: join(into, `${name}.png`) })
  await venue.close()
}
