import type { Regatta } from '@zinc-referee/examples'
import fc from 'fast-check'

export const SEATS = ['otter', 'heron', 'vole', 'a/b~"c" ñ🦦']
export const VIEWERS = [...SEATS, 'spectator']

const seat = fc.constantFrom(...SEATS)
const deed = fc.oneof(
  fc.record({ do: fc.constant('ram' as const), seat, other: seat }),
  fc.record({ do: fc.constant('volley' as const), seat, other: seat }),
  fc.record({ do: fc.constant('found' as const), seat, other: seat }),
  fc.record({
    do: fc.constantFrom('mist', 'bronze', 'at') as fc.Arbitrary<'mist' | 'bronze' | 'at'>,
    seat,
    other: seat,
  }),
  fc.record({ do: fc.constant('docked' as const), seat, other: seat }),
  fc.record({ do: fc.constant('chase' as const), seat, other: seat }),
  fc.record({
    do: fc.constantFrom('search', 'rematch', 'ready', 'leave') as fc.Arbitrary<
      'search' | 'rematch' | 'ready' | 'leave'
    >,
    seat,
    other: seat,
  }),
  fc.record({
    do: fc.constantFrom('absent', 'return', 'pause', 'resume', 'extend', 'kick') as fc.Arbitrary<
      'absent' | 'return' | 'pause' | 'resume' | 'extend' | 'kick'
    >,
    seat,
    other: seat,
  }),
)
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
