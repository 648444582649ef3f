import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { isDeepStrictEqual } from 'node:util'
import { kettleWatch, musselDip, steppingStones } from '@zinc-referee/examples'
import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'
import { expect, test } from 'vitest'
import { WebSocket } from 'ws'
import { type AnyRulebook, type AnyView, type RecordContent, readRecord, replayRecord } from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import { anyMove } from '../packages/venue/test/any-move.ts'

const KILLS = Number(process.env['SOAK_KILLS'] ?? 50)
const SEED = Number(process.env['SOAK_SEED'] ?? Date.now() % 1_000_000)
const MATCHES = 50
const BOOKS: readonly (readonly [AnyRulebook, seats: number])[] = [
  [steppingStones, 2],
  [musselDip, 3],
  [kettleWatch, 4],
]
const bookOf = (match: number) => BOOKS[match % BOOKS.length] as (typeof BOOKS)[number]

/** A venue in a process of its own, which goes on with what the ones before have left in the folder. */
const SCRIPT = `
import { kettleWatch, musselDip, steppingStones } from '@zinc-referee/examples'
import { openVenue } from '@zinc-referee/venue'
const books = [steppingStones, musselDip, kettleWatch]
const plenty = { burst: 1e9, perSecond: 1e9 }
const venue = await openVenue({
  records: { folder: process.argv[1], snapshotEvery: 40 }, rulebooks: books,
  limits: { calls: plenty, joins: plenty, connectionsPerAddress: 1e6 },
  onBroken: (error) => { console.error(error.message); process.exit(3) },
})
if (venue.matches.length === 0)
  for (let match = 0; match < ${MATCHES}; match++)
    venue.begin('m' + match, books[match % 3], { seed: 'fair-' + match, settings: { phases: { countdown: 100, linger: 0 } } })
process.stdout.write(venue.port + ' ' + venue.matches.length)`

const generator = xoroshiro128plus(SEED)
const random = (below: number): number => Math.floor(((generator.next() >>> 0) / 2 ** 32) * below)

/** A seat: what it was shown last, and what it was told was done. */
class Seat {
  readonly match: number
  readonly name: string
  readonly done: string[] = []
  view!: AnyView
  at = 0
  seat = ''
  private player: string | undefined
  private socket: WebSocket | undefined
  private acts = 0

  constructor(match: number, name: string) {
    this.match = match
    this.name = name
  }

  async join(port: number): Promise<void> {
    const socket = new WebSocket(`ws://127.0.0.1:${port}/socket`)
    this.socket = socket
    socket.on('error', () => {})
    await once(socket, 'open')
    const joined = new Promise<void>((resolve) =>
      socket.on('message', (data) => {
        const { id, result, method, params } = JSON.parse(String(data))
        if (id === 'join') {
          this.player = result.player
          this.seat = result.seat
          this.view = result.view
          this.at = result.at
          resolve()
        } else if (method === 'view') {
          this.view = params.view ?? applyPatch(this.view, params.patch)
          this.at = params.at
        } else if (result?.ok) this.done.push(id)
      }),
    )
    const params = { match: `m${this.match}`, name: this.name, player: this.player, latest: false }
    socket.send(JSON.stringify({ jsonrpc: '2.0', id: 'join', method: 'join', params }))
    await joined
  }

  /** Does anything that it may do. */
  act(): void {
    const choice = anyMove(this.view, (all) => all[random(all.length)])
    if (choice === undefined || this.socket?.readyState !== WebSocket.OPEN) return
    const id = `${this.match}-${this.name}-${this.acts++}`
    this.socket.send(JSON.stringify({ jsonrpc: '2.0', id, method: 'act', params: { ...choice, id } }))
  }

  leave(): void {
    this.socket?.terminate()
  }
}

async function venueIn(folder: string): Promise<{ readonly child: ChildProcess; readonly port: number }> {
  const child = spawn(process.execPath, ['--input-type=module', '-e', SCRIPT, folder], {
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const [line] = (await once(child.stdout as NonNullable<ChildProcess['stdout']>, 'data')) as [Buffer]
  const [port, matches] = String(line).split(' ').map(Number)
  expect(matches).toBe(MATCHES)
  return { child, port: port ?? 0 }
}

/** What the record of a match has, without a last line that was torn off. */
function contentOf(folder: string, match: number): RecordContent {
  const text = readFileSync(join(folder, `${bookOf(match)[0].name}-m${match}.jsonl`), 'utf8')
  return readRecord(text.slice(0, text.lastIndexOf('\n') + 1))
}

/** True if a seat was shown what the match was after some line of its record. */
function wasShown(content: RecordContent, { match, view, at, seat }: Seat): boolean {
  const [book] = bookOf(match)
  const before = content.lines.filter(({ line }) => line.t < at).length
  const until = content.lines.filter(({ line }) => line.t <= at).length
  for (let count = until; count >= before; count--) {
    const { match: replayed } = replayRecord(book, { ...content, lines: content.lines.slice(0, count) })
    if (replayed.now <= at) replayed.advanceTo(at)
    if (isDeepStrictEqual(JSON.parse(JSON.stringify(replayed.view(seat))), view)) return true
  }
  return false
}

test(`${MATCHES} matches, ${KILLS} kills, seed ${SEED}`, async () => {
  const folder = mkdtempSync(join(tmpdir(), 'kills-'))
  const seats = Array.from({ length: MATCHES }, (_, match) =>
    Array.from(
      { length: bookOf(match)[1] },
      (_, at) => new Seat(match, ['Otter', 'Heron', 'Vole', 'Newt'][at] ?? ''),
    ),
  ).flat()
  let [acted, shown] = [0, 0]
  for (let kill = 1; kill <= KILLS; kill++) {
    const { child, port } = await venueIn(folder)
    await Promise.all(seats.map((seat) => seat.join(port)))
    const gone = once(child, 'exit')
    const until = performance.now() + 200 + random(1500)
    while (performance.now() < until) {
      for (let n = 0; n < 20; n++) seats[random(seats.length)]?.act()
      await new Promise((soon) => setTimeout(soon, 5))
    }
    child.kill('SIGKILL')
    await gone
    for (const seat of seats) seat.leave()
    const contents = Array.from({ length: MATCHES }, (_, match) => contentOf(folder, match))
    for (const seat of seats) {
      const content = contents[seat.match] as RecordContent
      const ids = new Set(content.lines.map(({ line }) => /"id":"([^"]+)"/.exec(JSON.stringify(line))?.[1]))
      expect(seat.done.filter((id) => !ids.has(id))).toEqual([])
      if (random(10) > 0) continue // each is looked at often enough
      expect([seat.match, seat.name, wasShown(content, seat)]).toEqual([seat.match, seat.name, true])
      shown++
    }
    acted = seats.reduce((sum, { done }) => sum + done.length, 0)
    console.log(`kill ${kill}   ${acted} actions answered   ${shown} views compared`)
  }
  for (let match = 0; match < MATCHES; match++)
    expect(replayRecord(bookOf(match)[0], contentOf(folder, match)).differs).toBeUndefined()
  console.log(`done   ${MATCHES} matches   ${KILLS} kills   ${acted} actions   ${shown} views`)
}, 3_600_000)
