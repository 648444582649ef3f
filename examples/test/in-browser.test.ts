import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { gzipSync } from 'node:zlib'
import { modes } from '@zinc-referee/examples'
import { build } from 'vite'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { beginAnyMatch, replayRecord } from 'zinc-referee'
import { playToEnd } from 'zinc-referee/testing'
import { oneBrowser } from './browser.ts'

/** Bytes, minified and compressed, of the core with every built-in rule and the kinds of settings. It grows with rules. */
const EVERY_RULE_BUDGET = 115_000
/** Bytes of a page that plays the regatta alone: the core, the replica, and the rules that it uses. */
const MODE_BUDGET = 97_000
/** What a client loads at most that only keeps its view current. */
const REPLICA_BUDGET = 1_900
/** The client of a venue, with the replica. */
const CLIENT_BUDGET = 4_800

const browser = oneBrowser()
let server: Server
let script = ''

/** What the page says of a replay. */
interface ThereReplayed {
  readonly inputs: number
  readonly checks: number
  readonly differs?: object
  readonly hash: string
  readonly view: object
  readonly generates: boolean
}

/** A script of one entry for the browser. */
async function bundled(source: string): Promise<string> {
  const entry = 'virtual:entry'
  const output = await build({
    configFile: false,
    logLevel: 'silent',
    plugins: [
      {
        name: 'entry',
        resolveId: (id) => (id === entry ? id : undefined),
        load: (id) => (id === entry ? source : undefined),
      },
    ],
    build: { write: false, minify: true, rollupOptions: { input: entry, output: { format: 'es' } } },
  })
  const [first] = [output].flat()
  const chunk = first !== undefined && 'output' in first ? first.output[0] : undefined
  return chunk?.type === 'chunk' ? chunk.code : ''
}

beforeAll(async () => {
  script = await bundled(`
    import { replayRecord } from 'zinc-referee'
    import { bellTide, ebbPost, kettleWatch, lanternMarket, musselDip, pikePond, reedRegatta, spoiledBrew, steppingStones } from '@zinc-referee/examples'
    const books = [bellTide, ebbPost, kettleWatch, lanternMarket, musselDip, pikePond, reedRegatta, spoiledBrew, steppingStones]
    // Asked while the page loads, as the rulebooks are compiled: whoever drives the browser stands above its policy.
    let generates = true
    try { new Function('') } catch { generates = false }
    globalThis.replayHere = (mode, record) => {
      const { inputs, checks, differs, match } = replayRecord(books.find(({ name }) => name === mode), record)
      return { inputs, checks, differs, hash: match.hash(), view: match.view('spectator'), generates }
    }
  `)
  server = createServer((request, response) => {
    if (request.url === '/script.js') response.setHeader('content-type', 'text/javascript').end(script)
    else {
      if (request.url === '/strict') response.setHeader('content-security-policy', "script-src 'self'")
      response.setHeader('content-type', 'text/html').end('<script type="module" src="/script.js"></script>')
    }
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
})
afterAll(() => server?.close())

test.each(Object.keys(modes))(
  'a record of %s written in Node replays in a browser to the same hashes, also where code may not be generated',
  async (name) => {
    const mode = modes[name]
    if (mode === undefined) throw new Error('no such mode')
    const lines: string[] = []
    const match = beginAnyMatch(mode.rulebook, { seed: 'fair-1', record: (line) => lines.push(line) })
    for (const { id, name: called } of mode.demo.seats ?? [])
      match.direct('roster.join', { seat: id, name: called })
    for (const { id } of mode.demo.seats ?? []) match.submit(id, 'roster.ready', {})
    playToEnd(match, mode.demo.crowd?.('fair-1') ?? { every: 1000, beat() {} }, 60_000)
    match.close()
    const record = lines.join('\n')
    const here = replayRecord(mode.rulebook, record)
    expect(here.differs).toBeUndefined()
    for (const path of ['/', '/strict']) {
      const page = await browser().newPage()
      const errors: string[] = []
      page.on('pageerror', (error) => errors.push(error.message))
      await page.goto(`http://127.0.0.1:${(server.address() as AddressInfo).port}${path}`)
      // The script is a module: it has run when the page has loaded.
      expect(errors).toEqual([])
      const there: ThereReplayed = await page.evaluate(
        ([mode_, text]) => Reflect.get(globalThis, 'replayHere')(mode_, text),
        [name, record],
      )
      await page.close()
      expect(there.generates).toBe(path === '/')
      expect(there.differs).toBeUndefined()
      expect([there.inputs, there.checks, there.hash]).toEqual([here.inputs, here.checks, here.match.hash()])
      expect(there.view).toEqual(here.match.view('spectator'))
    }
  },
)

test('the core and the replica stay within what a page may load', async () => {
  const core = await bundled(`
    import { beginMatch, replayRecord, resumeMatch, defineRulebook, defineRule } from 'zinc-referee'
    import * as rules from 'zinc-referee/rules'
    import * as settings from 'zinc-referee/settings'
    const lamps = defineRule({ name: 'lamps', settings: settings.fields({ count: settings.setting(settings.whole(), 3) }) })
    globalThis.all = { beginMatch, replayRecord, resumeMatch, defineRulebook, lamps, rules, settings }
  `)
  const mode = await bundled(`
    import { beginMatch, resumeMatch } from 'zinc-referee'
    import { Replica } from 'zinc-referee/replica'
    import { reedRegatta } from '@zinc-referee/examples'
    globalThis.all = { beginMatch, resumeMatch, Replica, reedRegatta }
  `)
  const replica = await bundled(`
    import { Replica } from 'zinc-referee/replica'
    globalThis.all = { Replica }
  `)
  const client = await bundled(`
    import { connect } from '@zinc-referee/venue/client'
    globalThis.all = { connect }
  `)
  expect(gzipSync(client).length).toBeLessThanOrEqual(CLIENT_BUDGET)
  const sizes = [core, replica, mode].map((code) => gzipSync(code).length)
  console.info(
    `core ${sizes[0]} bytes, replica ${sizes[1]} bytes, a mode ${sizes[2]} bytes, minified and compressed`,
  )
  for (const [at, budget] of [EVERY_RULE_BUDGET, REPLICA_BUDGET, MODE_BUDGET].entries())
    expect(sizes[at]).toBeLessThanOrEqual(budget)
})
