import { performance } from 'node:perf_hooks'
import { setTimeout as setTimeoutFor } from 'node:timers/promises'
import { reedRegatta } from '@zinc-referee/examples'
import { beginMatch, type MatchFor } from 'zinc-referee'
import { bareThousand } from './bare-loop.js'
import { SEATS } from './hits.js'
import { quantiles, type Row, ratio, row } from './measure.js'
import { hitMatch } from './report.js'
import { read } from './world.js'

type Regatta = MatchFor<typeof reedRegatta>
type HitMatch = ReturnType<typeof hitMatch>['match']
const FLEET = 10_000
const IDLE_MS = 3000
const ACTIONS = 40_000
const ACTIONS_A_SECOND = 5000

/** A regatta in live play whose eight seats all view it. */
export function regatta(n: number, record?: (line: string) => void): Regatta {
  const match = beginMatch(reedRegatta, { seed: `bench-${n}`, ...(record && { record }) })
  for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
  for (const seat of SEATS) match.submit(seat, 'roster.ready', {})
  match.advanceTo(match.nextDue ?? 0)
  for (const seat of SEATS) match.addViewer(seat)
  match.flush()
  return match
}

/** One thing that happens on the river: mostly rams, some of them refused. */
export function happen(match: Regatta, n: number): void {
  const seat = SEATS[n % 8] ?? ''
  const other = SEATS[(n * 5 + 3) % 8] ?? ''
  if (n % 5 === 0) match.report('raft.found', { seat, crates: 1 })
  else if (n % 5 === 1) match.submit(seat, 'raft.chase', { quarry: other })
  else match.report('raft.rammed', { target: other, by: seat })
}

/** Many live matches with running clocks: what they cost when nothing happens, and under load. */
export async function fleetRows(): Promise<Row[]> {
  const regattas = Array.from({ length: FLEET }, (_, n) => regatta(n))
  const asleep = await idle(regattas)
  const whole = loadOfRegattas(regattas)
  regattas.length = 0
  const hits = Array.from({ length: FLEET }, () => hitMatch().match)
  const blow = (match: HitMatch, n: number): void => {
    const by = SEATS[(n * 5 + 3) % 8] ?? ''
    match.report('blows.hit', { target: SEATS[n % 8] ?? '', by, amount: 10 + (n % 30) })
  }
  const times = load(hits, blow)
  return [
    asleep,
    row('load/10k', ((meanOf(times) * ACTIONS_A_SECOND) / 1000) * 100, '% core', { most: 25 }),
    row('load/10k p99', quantiles(times)(0.99) * 1000, 'µs', { most: 100 }),
    ...whole,
  ]
}

/** An action of a whole mode takes what the machine gives: it is compared with the bare loop, and the slowest with all. */
function loadOfRegattas(fleet: readonly Regatta[]): Row[] {
  let last: readonly number[] = []
  const against = ratio(
    'load/regatta',
    { most: 1 },
    () => {
      last = load(fleet, happen, (FLEET / ACTIONS_A_SECOND) * 1000)
      return meanOf(last)
    },
    bareThousand,
    5,
  )
  return [
    against,
    row('load/regatta p99', quantiles(last)(0.99) / meanOf(last), '×', { most: 5 }),
    row('load/regatta share', ((meanOf(last) * ACTIONS_A_SECOND) / 1000) * 100, '% core', undefined),
  ]
}

const meanOf = (times: readonly number[]): number => times.reduce((sum, ms) => sum + ms, 0) / times.length

/** A host as the venue is one: it sleeps until a match is due. What the process takes of a core while nothing happens. */
async function idle(fleet: readonly Regatta[]): Promise<Row> {
  const asleep = fleet.map((match) =>
    setTimeout(
      () => {
        match.advanceTo(match.nextDue ?? match.now)
      },
      (match.nextDue ?? match.now) - match.now,
    ),
  )
  await setTimeoutFor(100)
  const shares: number[] = []
  for (let n = 0; n < 3; n++) {
    const before = process.cpuUsage()
    await setTimeoutFor(IDLE_MS)
    const { user, system } = process.cpuUsage(before)
    shares.push(((user + system) / 1000 / IDLE_MS) * 100)
  }
  for (const each of asleep) clearTimeout(each)
  return row('idle/10k', quantiles(shares)(0.5), '% core', { most: 0.2 })
}

interface Sending {
  readonly now: number
  advanceTo(ms: number): void
  flush(): readonly { readonly patch: string; readonly latest?: string }[]
}

/**
 * Actions spread over all matches, each applied and sent to eight viewers: how long each of them takes, ms. `wait` is the
 * match time between two of one match, ms.
 */
function load<M extends Sending>(
  fleet: readonly M[],
  happens: (match: M, n: number) => void,
  wait = 10,
): readonly number[] {
  const times: number[] = []
  let sent = 0
  const act = (n: number): void => {
    const match = fleet[(n * 7919) % FLEET] as M
    const began = performance.now()
    match.advanceTo(match.now + wait)
    happens(match, n)
    for (const { patch, latest = '' } of match.flush()) sent += read(patch) + read(latest)
    times.push(performance.now() - began)
  }
  for (let n = 0; n < ACTIONS / 4; n++) act(n)
  times.length = 0
  for (let n = 0; n < ACTIONS; n++) act(n)
  if (sent === 0) throw new Error('nothing was sent')
  return times
}
