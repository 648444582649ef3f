import { expect, test } from 'vitest'
import { defineRule, defineRulebook, everyone, int, maybe, perSeat, seconds } from 'zinc-referee'
import { mostAtTime, phases, rounds, scores, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const bell = defineRule({
  name: 'bell',
  needs: [phases],
  state: { rung: perSeat({ times: int(0).seenBy(everyone) }) },
  actions: {
    ring: {
      input: {},
      decide(match, seat) {
        match.own.rung.of(seat).times += 1
      },
    },
  },
  directives: {
    halt: {
      input: { ms: maybe(int()) },
      handle: (match, { ms }) => match.use(phases).freeze('whistle', ms),
    },
    thaw: { input: {}, handle: (match) => match.use(phases).thaw() },
  },
})
const book = defineRulebook({
  name: 'bell',
  seats: { min: 2, max: 4 },
  rules: [rounds({ length: seconds(10) }), scores, verdict({ when: [mostAtTime] }), bell],
})

function ringing() {
  const { match, replay } = playMatch(book, ['otter', 'heron'])
  return {
    match,
    replay,
    at: (ms: number) => match.advanceTo(3000 + ms),
    ring: () => match.submit('otter', 'bell.ring', {}),
    now: () => match.view('spectator').phases.now,
  }
}

test('a halt for so long holds the clocks of play, lets nobody act, and ends by itself to the millisecond', () => {
  const { match, at, ring, now, replay } = ringing()
  at(4000)
  match.direct('bell.halt', { ms: 3000 })
  expect([ring(), now().frozen]).toMatchObject([{ code: 'frozen' }, true])
  at(6999)
  expect(ring()).toMatchObject({ code: 'frozen' })
  at(7000)
  expect(ring()).toEqual({ ok: true })
  at(12_999)
  expect(now().phase).toBe('live') // ten seconds of play, and three of standing still
  at(13_000)
  expect(now().phase).toBe('over')
  expect(replay().differs).toBeUndefined()
})

test('a halt without an end thaws when the rule says so; to thaw what is not frozen does nothing', () => {
  const { match, at, ring } = ringing()
  match.direct('bell.halt', {})
  at(60_000)
  expect(ring()).toMatchObject({ code: 'frozen' })
  match.direct('bell.thaw', {})
  expect(ring()).toEqual({ ok: true })
  const before = match.hash()
  match.direct('bell.thaw', {})
  expect(match.hash()).toBe(before)
})

test('a pause holds what remains of the halt; the end of a pause does not thaw it', () => {
  const { match, at, ring } = ringing()
  match.direct('bell.halt', { ms: 3000 })
  at(1000)
  match.direct('phases.pause', {})
  expect(ring()).toMatchObject({ code: 'paused' })
  at(50_000)
  match.direct('phases.resume', {})
  expect(ring()).toMatchObject({ code: 'frozen' })
  at(51_999)
  expect(ring()).toMatchObject({ code: 'frozen' })
  at(52_000)
  expect(ring()).toEqual({ ok: true })
})
