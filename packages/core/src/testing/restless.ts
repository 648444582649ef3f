import type { Seat } from '../cells/index.ts'
import { chanceFrom } from '../chance/index.ts'
import type { Crowd } from './crowd.ts'

/** Once in how many beats somebody comes or goes, and from which share of the match on somebody leaves for good. */
const SELDOM = 40
const LATE = 0.6

/** Returns a crowd of which now and then somebody is away and comes back, leaves, or is kicked. `until`: ms of match time. */
export function restless(players: Crowd, seed: string, until: number): Crowd {
  const chance = chanceFrom(seed, 'comings and goings')
  const away = new Set<Seat>()
  return {
    every: players.every,
    beat(match, drives) {
      players.beat(match, (seat) => drives(seat) && !away.has(seat))
      if (chance.int(1, SELDOM) > 1) return
      const [back] = away
      const seat = chance.pick(match.allSeats) ?? ''
      if (back !== undefined) {
        away.delete(back)
        match.direct('roster.join', { seat: back, name: back })
      } else if (match.now > LATE * until && match.allSeats.length > 3) {
        const goes = chance.int(0, 1) === 0
        if (goes) match.submit(seat, 'roster.leave', {})
        else match.direct('roster.kick', { seat })
      } else if (match.allSeats.length > 2) {
        away.add(seat)
        match.direct('roster.absent', { seat })
      }
    },
  }
}
