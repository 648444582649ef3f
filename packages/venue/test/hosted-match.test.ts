import { setImmediate as turn } from 'node:timers/promises'
import { openVenue } from '@zinc-referee/venue'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, everyone, int, single } from 'zinc-referee'
import { inPhase } from 'zinc-referee/rules'
import { processClock } from '../src/clock.ts'

const walk = defineRule({
  name: 'walk',
  state: { spot: single({ x: int(0).latest(200).seenBy(everyone) }) },
  facts: {
    step: {
      when: inPhase('lobby'),
      input: { x: int() },
      handle(match, { x }) {
        match.own.spot.x = x
      },
    },
  },
})
const book = defineRulebook({ name: 'walk', seats: { min: 1, max: 2 }, rules: [walk] })

test('match time is what has passed on the venue’s clock; a cell with a rate is sent no sooner than that', async () => {
  let now = 5000
  const wakes = new Map<() => void, number>()
  const wakeAfter = (ms: number, wake: () => void) => {
    wakes.set(wake, now + ms)
    return () => void wakes.delete(wake)
  }
  const venue = await openVenue({ clock: { now: () => now, wakeAfter } })
  const hosted = venue.begin('walk', book, { seed: 'fair-1' })
  expect(hosted.now()).toBe(0)
  now = 6000
  expect(hosted.now()).toBe(1000)
  const patches: string[] = []
  hosted.open('spectator', ({ patch }) => patches.push(patch))
  for (const x of [1, 2, 3]) {
    hosted.run((match) => match.report('walk.step', { x }))
    await turn()
  }
  expect(patches).toEqual([expect.stringContaining('"value":1')])
  const [[wake, due]] = [...wakes] as [[() => void, number]]
  expect(due).toBe(6200)
  now = due
  wake()
  await turn()
  expect(patches).toEqual([patches[0], expect.stringContaining('"value":3')])
  await venue.close()
  expect(wakes.size).toBe(0)
})

test('the process’s clock wakes once, and never for what was cancelled', async () => {
  const woken: string[] = []
  processClock.wakeAfter(1, () => woken.push('cancelled'))()
  await new Promise<void>((done) =>
    processClock.wakeAfter(5, () => {
      woken.push('due')
      done()
    }),
  )
  expect(woken).toEqual(['due'])
})
