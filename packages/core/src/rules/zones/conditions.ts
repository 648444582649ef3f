import type { Seat } from '../../cells/index.ts'
import { type Condition, condition, type Side } from '../conditions.ts'
import { zones } from './zones.ts'

const seatsOf = (sides: readonly Side[]): Seat[] => sides.flatMap(({ seats }) => seats)

/**
 * The first side that has had zones to itself for the time of their setting `goal` wins. Sides that reach it in one
 * millisecond are tied. Needs `zones` with `counts: 'time'` and a `goal`.
 */
export const firstToHold: Condition = condition({
  name: 'first-to-hold',
  needs: [zones],
  judge(match, { sides }) {
    const goal = match.use(zones).goal() ?? Number.POSITIVE_INFINITY
    const there = sides.filter(({ seats: [seat = ''] }) => match.use(zones).heldBy(seat) >= goal)
    return there.length === 0 ? undefined : { winners: seatsOf(there), reason: 'first-to-hold', goesOn: true }
  },
})

/**
 * When time is up, the side that has had zones to itself longest wins. Sides that are at most `levelWithin` ms behind
 * it are tied with it. Default: 0. Needs `zones` with `counts: 'time'`.
 */
export function mostHeld({ levelWithin = 0 }: { readonly levelWithin?: number } = {}): Condition {
  return condition({
    name: levelWithin === 0 ? 'most-held' : `most-held-within-${levelWithin}`,
    needs: [zones],
    atTime: true,
    judge(match, { timeUp, sides }) {
      if (!timeUp || sides.length === 0) return undefined
      const times = sides.map(({ seats: [seat = ''] }) => match.use(zones).heldBy(seat))
      const most = Math.max(...times)
      const winners = seatsOf(sides.filter((_, at) => most - (times[at] ?? 0) <= levelWithin))
      return { winners, reason: 'most-held' }
    },
  })
}
