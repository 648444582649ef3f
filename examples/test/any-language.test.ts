import { execFile } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { promisify } from 'node:util'
import { reedRegatta, steppingStones } from '@zinc-referee/examples'
import { openVenue } from '@zinc-referee/venue'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, everyone, int, seatRef, single } from 'zinc-referee'
import { HandClock } from '../../packages/venue/test/hand-clock.ts'
import { SocketClient } from '../../packages/venue/test/socket-client.ts'

const run = promisify(execFile)
const player = fileURLToPath(new URL('../python/player.py', import.meta.url))
const page = readFileSync(new URL('../../docs/any-language.md', import.meta.url), 'utf8')

test('the client in Python plays both modes to the verdict, over WebSocket and over TCP, by the page alone', async () => {
  const venue = await openVenue({ tcp: 0, limits: { calls: { burst: 1000, perSecond: 1000 } } })
  const countdown = { countdown: 30 }
  venue.begin('stones', steppingStones, { settings: { phases: countdown } })
  venue.begin('regatta', reedRegatta, {
    settings: { phases: countdown, rounds: { count: 1, length: 1500, suddenEnd: false, overtime: null } },
  })
  const addresses = [`ws://127.0.0.1:${venue.port}/socket`, `tcp://127.0.0.1:${venue.tcpPort}`]
  const games = ['stepping-stones', 'reed-regatta'].flatMap((mode) =>
    addresses.map((address, at) => run('python3', [player, address, mode, at === 0 ? 'Otter' : 'Heron'])),
  )
  const [first, second, third, fourth] = (await Promise.all(games)).map(({ stdout }) => stdout.split('\n'))
  expect(first?.[0]).toBe('Otter sits in stones as otter')
  expect(first?.[1]).toMatch(/^verdict: \{"kind": "(win|draw)"/)
  expect(first?.[1]).toBe(second?.[1])
  expect(third?.[0]).toBe('Otter sits in regatta as otter')
  expect(third?.[1]).toMatch(/^verdict: \{"kind": "/)
  expect(third?.[1]).toBe(fourth?.[1])
  expect(venue.matches.map(({ match }) => match.faults)).toEqual([[], []])
  await venue.close()
  expect(readFileSync(player, 'utf8').split('\n').length).toBeLessThanOrEqual(150)
})

const drum = defineRule({
  name: 'drum',
  state: { drum: single({ beats: int(0).seenBy(everyone) }) },
  events: { beaten: { seat: seatRef().seenBy(everyone) } },
  actions: {
    beat: {
      input: { times: int(1).between(1, 3) },
      decide(match, seat, { times }) {
        match.own.drum.beats += times
        match.emit('beaten', { seat })
      },
    },
  },
})

test('the session on the page is one that took place', async () => {
  const venue = await openVenue({ clock: new HandClock() })
  const book = defineRulebook({ name: 'drum', seats: { min: 1, max: 4 }, rules: [drum] })
  venue.begin('evening', book, { seed: 'fair-1', settings: { phases: { countdown: 0 } } })
  const otter = new SocketClient(venue.port)
  const session: string[] = []
  const ask = async (id: number, method: string, params: object, until = '') => {
    const before = otter.texts.length
    const text = JSON.stringify({ jsonrpc: '2.0', id, method, params })
    await otter.raw(text)
    await otter.until((message) => JSON.stringify(message).includes(until), before)
    session.push(`→ ${text}`, ...otter.texts.slice(before).map((each) => `← ${each}`))
  }
  await ask(1, 'join', { match: 'evening', name: 'Otter' })
  await ask(2, 'act', { action: 'roster.ready', id: 'a1' }, '"to":"live"')
  await ask(3, 'act', { action: 'drum.beat', input: { times: 2 }, id: 'a2' }, 'drum.beaten')
  await ask(4, 'act', { action: 'drum.beat', input: { times: 9 }, id: 'a3' })
  await ask(5, 'ping', {})
  await ask(6, 'act', { action: 'drum.bang' })
  await ask(7, 'fly', {})
  await venue.close()
  await otter.closed
  session.push(`← ${otter.texts.at(-1)}`)
  const text = session.join('\n').replaceAll(/"(epoch|player)":"[^"]+"/g, '"$1":"…"')
  expect(page).toContain(`\n${text}\n`)
})
