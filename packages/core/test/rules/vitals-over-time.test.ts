import { expect, test } from 'vitest'
import { vitalsMatch } from '../fixtures/vitals-mode.ts'

test('VI18: three ticks a second apart come at 1, 2 and 3 s; it ends with the last', () => {
  const { at, burn, body, burns } = vitalsMatch()
  burn('heron', 10)
  const health = [0, 999, 1000, 2000, 2999, 3000, 9000].map((play) => {
    at(play)
    return body().health
  })
  expect(health).toEqual([100, 100, 90, 80, 80, 70, 70])
  expect(burns()).toEqual([])
})

test('VI19: given again by the same seat its ticks are refilled and the beat stays; another seat’s is its own', () => {
  const { at, burn, body, burns } = vitalsMatch()
  burn('heron', 10)
  at(1500)
  burn('heron', 10)
  burn('vole', 1)
  expect(burns()).toEqual([
    ['heron', 3],
    ['vole', 3],
  ])
  at(2000)
  expect(body().health).toBe(80)
  at(2500)
  expect(body().health).toBe(79)
})

test('VI17, VI20, VI21: it goes on when its giver has left, is used up in protection, and ends when its target goes down', () => {
  const { match, at, burn, protect, body, burns, hit } = vitalsMatch()
  burn('vole', 10)
  match.submit('vole', 'roster.leave', {})
  at(500)
  protect('otter', 1000)
  at(1000)
  expect([body().health, burns()]).toEqual([100, [['vole', 2]]])
  at(2000)
  expect(body().health).toBe(90)
  hit(100)
  expect(burns()).toEqual([])
  at(10_000)
  expect(body().health).toBe(100)
})

test('an affliction without ticks or time is bad input; one of a seat that is down is refused', () => {
  const { match, burn, hit } = vitalsMatch()
  expect(burn('heron', 10, 0)).toMatchObject({ code: 'bad-input' })
  expect(match.report('moves.burn', { target: 'otter', amount: 1, every: 0 })).toMatchObject({
    code: 'bad-input',
  })
  hit(100)
  expect(burn('heron', 10, 1)).toEqual({ ok: false, code: 'target-down', details: { target: 'otter' } })
})

test('VI23: health grows back from so long after the last real wound; a blocked blow does not put it off; a tick comes before a blow', () => {
  const { at, hit, protect, body } = vitalsMatch({ regenDelay: 2000, regenRate: 5 })
  hit(12)
  at(1000)
  protect('otter', 500)
  hit(50)
  const grown = [1999, 2000, 3000, 4000, 5000].map((play) => {
    at(play)
    return body().health
  })
  expect(grown).toEqual([88, 93, 98, 100, 100])
  hit(12)
  at(7000)
  hit(93)
  expect([body().health, body().down]).toEqual([0, true])
})

test('a shield recharges apart from health', () => {
  const { at, hit, body } = vitalsMatch({ shield: 20, shieldDelay: 1000, shieldRate: 8 })
  hit(25)
  const seen = [999, 1000, 2000, 3000, 4000].map((play) => {
    at(play)
    return [body().shield, body().health]
  })
  expect(seen).toEqual([
    [0, 95],
    [8, 95],
    [16, 95],
    [20, 95],
    [20, 95],
  ])
})

test('VI24: decay takes its part of what there is, never below the least, and brings nobody down', () => {
  const { at, body } = vitalsMatch({ decay: { every: 1000, rate: 100, least: 70 } })
  const health = [1000, 2000, 3000, 4000, 60_000].map((play) => {
    at(play)
    return body().health
  })
  expect(health).toEqual([90, 81, 73, 70, 70])
})
