import type { Regatta } from '@zinc-referee/examples'
import fc from 'fast-check'

export const SEATS = ['otter', 'heron', 'vole', 'a/b~"c" ñ🦦']
const seat = fc.constantFrom(...SEATS)
const whats = [
  ...(['ram', 'volley', 'found', 'mist', 'bronze', 'at', 'docked', 'chase', 'search'] as const),
  ...(['rematch', 'ready', 'leave', 'absent', 'return', 'pause', 'resume', 'extend', 'kick'] as const),
]
const deed = fc.record({ do: fc.constantFrom(...whats), seat, other: seat })
export type Deed = typeof deed extends fc.Arbitrary<infer D> ? D : never
export const deeds = fc.array(
  fc.record({ deed, wait: fc.constantFrom(0, 0, 1, 700, 3000, 61_000), flush: fc.boolean() }),
  { maxLength: 60 },
)

/** Everything that a regatta can be told, legal or not. */
export function carryOut(match: Regatta, { do: what, seat, other }: Deed) {
  switch (what) {
    case 'ram':
      return match.report('raft.rammed', { target: other, by: seat })
    case 'volley':
      return match.reportAll('raft.rammed', [
        { target: other, by: seat },
        { target: seat, by: other },
        { target: seat, by: other },
      ])
    case 'found':
      return match.report('raft.found', { seat })
    case 'mist':
      return match.report('raft.mist', { seat })
    case 'bronze':
      return match.report('raft.bronze', { seat })
    case 'at':
      return match.report('areas.at', { seat, x: 100, y: 100 })
    case 'docked':
      return match.report('raft.docked', { seat })
    case 'chase':
      return match.submit(seat, 'raft.chase', { quarry: other })
    case 'search':
      return match.submit(seat, 'raft.search', {})
    case 'rematch':
      return match.submit(seat, 'rounds.rematch', {})
    case 'ready':
      return match.submit(seat, 'roster.ready', {})
    case 'leave':
      return match.submit(seat, 'roster.leave', {})
    case 'absent':
      return match.direct('roster.absent', { seat })
    case 'return':
      return match.direct('roster.join', { seat, name: 'Again' })
    case 'pause':
      return match.direct('phases.pause', {})
    case 'resume':
      return match.direct('phases.resume', {})
    case 'extend':
      return match.direct('rounds.extend', { by: -40_000 })
    case 'kick':
      return match.direct('roster.kick', { seat })
  }
}
