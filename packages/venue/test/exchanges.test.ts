// What a venue says, to the byte, in texts that are reviewed when they change: see the folder `exchanges`.
import { type Log, openVenue, type Venue, type VenueOptions } from '@zinc-referee/venue'
import { afterEach, expect, test } from 'vitest'
import { book } from './every-kind.ts'
import { HandClock } from './hand-clock.ts'

const settings = { phases: { countdown: 1000 } }

let venue: Venue
const lines: string[] = []
afterEach(() => venue.close())
/** Random ids by the order in which they come. */
function settled(said: string): string {
  const names = new Map<string, string>()
  return said.replaceAll(/[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}|"epoch":"[0-9a-f]{8}"/g, (id) => {
    const what = id.startsWith('"') ? '"epoch":"epoch' : 'player'
    const known = names.get(id) ?? `${what}-${names.size + 1}${id.startsWith('"') ? '"' : ''}`
    names.set(id, known)
    return known
  })
}
const soon = () => new Promise((then) => setImmediate(then))

async function opened(options: VenueOptions = {}) {
  const clock = new HandClock()
  lines.length = 0
  const note = (level: string) => (fields: object, what: string) =>
    void lines.push(
      `log ${level}   ${what} ${JSON.stringify(fields, (key, value) => (key === 'at' ? [] : value))}`,
    )
  const log = { info: note('info'), warn: note('warn'), error: note('error') } as Log
  venue = await openVenue({ clock, log, rulebooks: [book], ...options })
  const pass = async (ms: number) => {
    for (let n = 0; n < 3; n++) await soon()
    if (ms > 0) lines.push(`— ${ms} ms pass`)
    clock.pass(ms)
    for (let n = 0; n < 3; n++) await soon()
  }
  /** A client by a channel: each call, each message and its end are a line. */
  const client = (who: string) => {
    let id = 0
    const kept: any[] = []
    const end = venue.attach({
      send(each) {
        kept.push(JSON.parse(each))
        lines.push(`${who} <   ${each.length > 6000 ? `${each.slice(0, 60)}…` : each}`)
      },
      close: (code, why) => void lines.push(`${who} closed   ${code} ${why}`),
    })
    return {
      kept,
      raw: (each: string) => end.received(each),
      gone() {
        lines.push(`${who} is gone`)
        end.closed()
      },
      async call(method: string, params: object = {}) {
        const message = JSON.stringify({ jsonrpc: '2.0', id: ++id, method, params })
        lines.push(`${who} >   ${method} ${JSON.stringify(params)}`)
        end.received(message)
        await pass(0)
        return kept.findLast((each) => each.id === id)
      },
    }
  }
  return { clock, pass, client }
}
const saidAs = (name: string) =>
  expect(`${settled(lines.join('\n'))}\n`).toMatchFileSnapshot(`exchanges/${name}.txt`)

test('an evening over the wire: seats, watchers, calls that are refused, a lost line, another window, an end', async () => {
  const { pass, client } = await opened()
  venue.begin('one', book, { seed: 'fair-1', settings, led: true })
  const [otter, heron, vole] = [client('otter'), client('heron'), client('vole')]
  await otter.call('ping')
  await otter.call('act', { action: 'roster.ready' })
  await otter.call('join', { match: 'two' })
  await otter.call('join', { mode: 'fish' })
  const { result } = await otter.call('join', { name: 'Otter' })
  await otter.call('join', { name: 'Otter' })
  await heron.call('join', { name: 'Heron', latest: false })
  await vole.call('join', { name: 'Vole', match: 'one' })
  await vole.call('join', { watch: 'otter', match: 'one' })
  await vole.call('join', { watch: 'spectator' })
  await vole.call('act', { action: 'roster.ready' })
  await vole.call('direct', { directive: 'phases.pause' })
  await vole.call('report', { fact: 'stall.priced', input: { price: 2 } })
  await otter.call('act', { action: 'stall.sell', input: { n: 1 } })
  for (const each of [otter, heron]) await each.call('act', { action: 'roster.ready', id: 'r1' })
  await heron.call('act', { action: 'roster.ready', id: 'r1' })
  await pass(1000)
  await otter.call('options', { action: 'stall.sell', part: { n: 2 } })
  await otter.call('act', { action: 'stall.sell', input: { n: 2 }, id: 7 })
  await otter.call('act', { action: 'stall.sell', input: { n: 2 }, id: 8 })
  await otter.call('act', { action: 'stall.sell', input: { n: 9 } })
  await otter.call('act', { action: 'stall.fish', input: {} })
  venue.matches[0]?.run((match) => match.report('stall.priced', { price: 4 }))
  await pass(50)
  venue.matches[0]?.run((match) => match.report('stall.priced', { price: 5 }))
  await pass(100)
  otter.gone()
  await pass(10)
  await heron.call('act', { action: 'stall.sell', input: { n: 1 } })
  const again = client('otter again')
  const { epoch, player } = result
  const { n } = otter.kept.findLast(({ params }) => params?.n !== undefined).params
  await again.call('join', { name: 'Other', player, from: { epoch, n } })
  const window = client('otter elsewhere')
  await window.call('join', { player })
  await again.call('ping')
  await window.call('direct', { directive: 'phases.pause' })
  await window.call('direct', { directive: 'roster.join', input: { seat: 'coot', name: 'Coot' } })
  await window.call('direct', { directive: 'roster.kick', input: { seat: 'heron', why: 'too loud' } })
  await window.call('leave')
  await window.call('leave')
  vole.raw('{"jsonrpc":"2.0","method":"ping"}')
  vole.raw('nonsense')
  venue.matches[0]?.close('the fair closes')
  await pass(0)
  await saidAs('an-evening')
  const metrics = await (await fetch(`${venue.url}metrics`)).text()
  await expect(metrics.replaceAll(/(sent_bytes_total) \d+/g, '$1 N')).toMatchFileSnapshot(
    'exchanges/metrics.txt',
  )
})

test('what HTTP answers, in order, and what describes it', async () => {
  const { pass, client } = await opened({ limits: { matches: 3 } })
  const ask = async (path: string, method = 'GET', body?: unknown) => {
    const sent = typeof body === 'string' ? body : JSON.stringify(body)
    const answer = await fetch(new URL(path, venue.url), {
      method,
      ...(sent !== undefined && { body: sent, headers: { 'content-type': 'application/json' } }),
    })
    const { headers, status } = answer
    const kind = [headers.get('content-type'), headers.get('location')].filter(Boolean).join(' ')
    lines.push(`${method} /${path} ${sent ?? ''}`.trim(), `  ${status} ${kind}`, `  ${await answer.text()}`)
  }
  await ask('health')
  await ask('ready')
  await ask('matches')
  await ask('matches', 'POST', { mode: 'stall', id: 'one', settings, seed: 'fair-1' })
  await ask('matches', 'POST', { mode: 'stall', id: 'one' })
  await ask('matches', 'POST', { mode: 'fish' })
  await ask('matches', 'POST', { mode: 'stall', id: 7 })
  await ask('matches', 'POST', { mode: 'stall', settings: { stall: { n: 1 } } })
  await ask('matches', 'POST', { mode: 'stall', fish: true })
  await ask('matches', 'POST', '{"mode":')
  await ask('matches', 'POST', { mode: 'stall', id: 'two', listed: false })
  venue.begin('three', book, { seed: 'fair-1', settings })
  await ask('matches', 'POST', { mode: 'stall', id: 'four' })
  for (const name of ['Otter', 'Heron']) await client(name).call('join', { match: 'three', name })
  await pass(10)
  await ask('matches?mode=stall&free=true')
  await ask('matches?mode=fish')
  await ask('matches?seats=2')
  await ask('matches/three')
  await ask('matches/none')
  venue.matches[0]?.pause()
  await ask('ready')
  await ask('matches/one/upgrade', 'POST', {})
  await ask('matches/one', 'DELETE')
  await ask('matches/one', 'DELETE')
  await ask('none')
  await saidAs('http')
  const api = await (await fetch(`${venue.url}openapi.json`)).json()
  await expect(`${JSON.stringify(api, null, 1)}\n`).toMatchFileSnapshot('exchanges/openapi.txt')
})
