import { expect, test } from 'vitest'
import {
  type AnyMatch,
  beginAnyMatch,
  beginMatch,
  defineRule,
  defineRulebook,
  everyone,
  int,
  resumeMatch,
  single,
  type Update,
} from 'zinc-referee'
import { MatchHost } from 'zinc-referee/host'
import { inPhase } from 'zinc-referee/rules'
import { processClock } from '../src/clock.ts'
import { HandClock } from './hand-clock.ts'

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

const began = () => beginMatch(book, { seed: 'fair-1' }) as object as AnyMatch

test('match time is what has passed on the host’s clock; a cell with a rate is sent no sooner than that', () => {
  const clock = new HandClock()
  const host = new MatchHost(began(), { clock })
  expect(host.now()).toBe(0)
  clock.pass(1000)
  expect(host.now()).toBe(1000)
  const told: unknown[] = []
  host.open('spectator', ({ latest }) => told.push(latest))
  for (const x of [1, 2, 3]) {
    host.run((match) => match.report('walk.step', { x }))
    clock.pass(0)
  }
  expect(told).toEqual(['{"walk":{"spot":{"x":1}}}'])
  clock.pass(199)
  expect(told).toHaveLength(1)
  clock.pass(1)
  clock.pass(0)
  expect(told).toEqual([told[0], '{"walk":{"spot":{"x":3}}}'])
  host.close()
  expect(clock.wakes.size).toBe(0)
})

test('while a host is paused no time passes; then it goes on where it was, and so does a match that is resumed', () => {
  const clock = new HandClock()
  const host = new MatchHost(began(), { clock })
  clock.pass(700)
  host.pause()
  clock.pass(5000)
  expect([host.now(), host.isPaused]).toEqual([700, true])
  host.resume()
  clock.pass(50)
  expect([host.now(), host.match.now]).toEqual([750, 700])
  const later = resumeMatch(book, host.match.snapshot()) as object as AnyMatch
  const other = new MatchHost(later, { clock })
  clock.pass(10)
  expect(other.now()).toBe(710)
})

test('updates leave once what they show is safe, and nobody gets one that is in its view already', () => {
  const clock = new HandClock()
  const unsafe: (() => void)[] = []
  const host = new MatchHost(began(), { clock, whenSafe: (send) => unsafe.push(send) })
  const got: string[] = []
  const listen =
    (who: string) =>
    ({ latest = '' }: Update) =>
      got.push(`${who} ${latest}`)
  const step = (x: number) => {
    host.run((match) => match.report('walk.step', { x }))
    clock.pass(200)
    clock.pass(0)
  }
  host.open('spectator', listen('early'))
  step(1)
  expect(JSON.parse(host.open('spectator', listen('late')).view).walk.spot).toEqual({ x: 1 })
  step(2)
  expect(got).toEqual([])
  for (const send of unsafe.splice(0)) send()
  expect(got.map((each) => each.replace(/\{.*"x":(\d).*/, '$1'))).toEqual(['early 1', 'early 2', 'late 2'])
  const ended: string[] = []
  host.ends.add((why) => ended.push(why))
  host.close('over')
  expect(ended).toEqual([])
  for (const send of unsafe) send()
  expect(ended).toEqual(['over'])
})

test('a game’s simulation is played at a beat: facts in, orders out, updates with it; a throw in it is a fault', () => {
  const clock = new HandClock()
  const bell = defineRule({
    name: 'bell',
    state: { rope: single({ pulls: int(0).seenBy(everyone) }) },
    events: { rung: { n: int().seenBy(everyone) } },
    facts: {
      pulled: {
        when: inPhase('lobby'),
        input: {},
        handle(match) {
          match.own.rope.pulls += 1
          match.emit('rung', { n: match.own.rope.pulls })
        },
      },
    },
  })
  const bells = defineRulebook({ name: 'bells', seats: { min: 1, max: 2 }, rules: [bell] })
  const match = beginAnyMatch(bells, { seed: 'fair-1' })
  const beats: unknown[] = []
  const host = new MatchHost(match, {
    clock,
    beat: {
      every: 50,
      play(playing, orders, passed) {
        beats.push([playing.now, passed, orders.map(({ name, cells }) => `${name} ${cells['n']}`).join()])
        playing.report('bell.pulled', {})
        if (playing.now === 150) throw new TypeError('the rope is torn')
      },
    },
  })
  const sent: number[] = []
  host.open('spectator', ({ at }) => sent.push(at))
  clock.pass(120)
  host.pause()
  clock.pass(1000)
  host.resume()
  host.run((playing) => playing.report('bell.pulled', {}))
  clock.pass(80)
  expect(beats.map(String)).toEqual([
    '50,50,',
    '100,50,bell.rung 1',
    '150,50,bell.rung 2,bell.rung 3',
    '200,50,bell.rung 4',
  ])
  expect(sent).toEqual([50, 100, 150, 150, 200]) // at 150 also what was reported in between
  expect(match.faults.map(({ handler }) => handler)).toEqual(['game beat'])
  // So is what throws in any code of the host's: nothing else waits for it.
  const torn = (): never => {
    throw new TypeError('the paper is torn')
  }
  host.open('spectator', torn)
  host.open('spectator', () => sent.push(-1))
  host.whenSafe(torn)
  for (const end of [torn, () => sent.push(-2)]) host.ends.add(end)
  host.run((playing) => playing.report('bell.pulled', {}))
  host.close()
  expect(sent.slice(5)).toEqual([200, -1, -2])
  expect(match.faults.slice(1).map(({ handler }) => handler)).toEqual(
    ['when safe', 'update', 'end'].map((each) => `host ${each}`),
  )
  expect(clock.wakes.size).toBe(0)
})

test('a call that takes longer than its budget is reported with what it took', () => {
  const clock = new HandClock()
  const slow: number[] = []
  const host = new MatchHost(began(), { clock, budget: 20, onSlow: (ms) => slow.push(ms) })
  host.run(() => clock.pass(20))
  host.run(() => clock.pass(21))
  expect(slow).toEqual([21])
})

test('the process’s clock wakes once, and never for what was cancelled', async () => {
  const woken: string[] = []
  for (const ms of [0, 1]) processClock.wakeAfter(ms, () => woken.push('cancelled'))()
  await new Promise<void>((done) =>
    processClock.wakeAfter(5, () => {
      woken.push('due')
      done()
    }),
  )
  expect(woken).toEqual(['due'])
})
