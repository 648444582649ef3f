import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { expect, test } from 'vitest'
import {
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  minutes,
  perSeat,
  seconds,
} from 'zinc-referee'

const SEATS = 1000
const TIMERS = 100_000
const HOUR = minutes(60)
const DAY = 24 * HOUR

setFlagsFromString('--expose-gc')
const collect: () => void = runInNewContext('gc')
const heap = (): number => {
  collect()
  collect()
  return process.memoryUsage().heapUsed
}

/** A hundred lanterns a seat, each lit again and again: every firing starts the next. */
const lanterns = defineRule({
  name: 'lanterns',
  state: { quay: perSeat({ lit: int(0).seenBy(everyone), rounds: int(0) }) },
  timers: {
    light: {
      clock: 'match',
      fire(match, key) {
        const [seat = '', n = ''] = key.split('/')
        match.own.quay.of(seat).lit += 1
        match.timers.start('light', { key, in: HOUR + seconds(Number(n)) })
      },
    },
    patrol: {
      clock: 'match',
      fire(match, seat) {
        match.own.quay.of(seat).rounds += 1
      },
    },
  },
  directives: {
    hang: {
      input: {},
      obey(match) {
        for (const [at, seat] of match.seats.entries()) {
          match.timers.start('patrol', { key: seat, every: minutes(30) })
          for (let n = 1; n < TIMERS / SEATS; n++)
            match.timers.start('light', { key: `${seat}/${n}`, in: (at * 37 + n * 36_013) % HOUR })
        }
      },
    },
  },
})
const book = defineRulebook({ name: 'lanterns', seats: { min: 1, max: SEATS }, rules: [lanterns] })

test('a match of 24 hours, 100,000 timers and 1,000 seats: none is missed, none drifts, and memory stays as it was', () => {
  const match = beginMatch(book, { seed: 'fair-1' })
  for (let n = 1; n <= SEATS; n++) match.direct('roster.join', { seat: `boat-${n}`, name: `Boat ${n}` })
  match.direct('lanterns.hang', {})
  match.open('boat-1')
  let at = 0
  const playTo = (until: number): void => {
    for (; at < until; at += minutes(5)) {
      match.advanceTo(at + minutes(5))
      match.flush()
    }
  }
  playTo(HOUR)
  const first = heap()
  playTo(DAY)
  const last = heap()
  const { of } = match.state.lanterns.quay
  const quay = match.seats.map((seat) => of.call(match.state.lanterns.quay, seat))
  expect(quay.every(({ rounds }) => rounds === 48)).toBe(true)
  // Each lantern burns for an hour and n seconds, and began within the first hour.
  const lit = quay.reduce((sum, row) => sum + row.lit, 0)
  let wanted = 0
  for (let seat = 0; seat < SEATS; seat++)
    for (let n = 1; n < TIMERS / SEATS; n++) {
      const begins = (seat * 37 + n * 36_013) % HOUR
      wanted += Math.floor((DAY - begins) / (HOUR + seconds(n))) + 1
    }
  expect(lit).toBe(wanted)
  expect(match.faults).toEqual([])
  expect(last / first).toBeLessThanOrEqual(1.05)
}, 120_000)
