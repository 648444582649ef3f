import { performance } from 'node:perf_hooks'
import { reedRegatta } from '@zinc-referee/examples'
import { beginMatch, type MatchFor } from 'zinc-referee'
import { SEATS } from './hits.js'
import { quantiles, type Row, row } from './measure.js'

type Regatta = MatchFor<typeof reedRegatta>
const FLEET = 10_000
const VIRTUAL_SECONDS = 20
const ACTIONS = 40_000
const ACTIONS_A_SECOND = 5000

/** A regatta in live play whose eight seats all view it. */
export function regatta(n: number, record?: (line: string) => void): Regatta {
  const match = beginMatch(reedRegatta, { seed: `bench-${n}`, ...(record && { record }) })
  for (const seat of SEATS) match.direct('roster.join', { seat, name: seat })
  for (const seat of SEATS) match.submit(seat, 'roster.ready', {})
  match.advanceTo(match.nextDue ?? 0)
  for (const seat of SEATS) match.open(seat)
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
export function fleetRows(): Row[] {
  const fleet = Array.from({ length: FLEET }, (_, n) => regatta(n))
  return [idle(fleet), ...load(fleet)]
}

/** A host that asks each match every second whether something is due, and carries it out: the share of a core. */
function idle(fleet: readonly Regatta[]): Row {
  const shares = Array.from({ length: 9 }, () => {
    const began = performance.now()
    for (let second = 0; second < VIRTUAL_SECONDS; second++)
      for (const match of fleet) {
        const due = match.nextDue
        if (due === undefined || due > match.now + 1000) continue
        match.advanceTo(due)
      }
    return ((performance.now() - began) / (VIRTUAL_SECONDS * 1000)) * 100
  })
  const at = quantiles(shares)
  return row('idle/10k', at(0.5), '% core', { most: 0.2 }, [at(0.25), at(0.75)])
}

/** Actions spread over all matches, each applied and sent to eight viewers. */
function load(fleet: readonly Regatta[]): Row[] {
  const times: number[] = []
  let sent = 0
  const act = (n: number): void => {
    const match = fleet[(n * 7919) % FLEET] as Regatta
    const began = performance.now()
    match.advanceTo(match.now + 10)
    happen(match, n)
    for (const { patch } of match.flush()) sent += patch.length
    times.push(performance.now() - began)
  }
  for (let n = 0; n < ACTIONS / 4; n++) act(n)
  times.length = 0
  for (let n = 0; n < ACTIONS; n++) act(n)
  if (sent === 0) throw new Error('nothing was sent')
  const mean = times.reduce((sum, ms) => sum + ms, 0) / times.length
  return [
    row('load/10k', ((mean * ACTIONS_A_SECOND) / 1000) * 100, '% core', { most: 25 }),
    row('load/10k p99', quantiles(times)(0.99) * 1000, 'µs', { most: 100 }),
  ]
}
