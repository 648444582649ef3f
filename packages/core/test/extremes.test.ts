import { expect, test } from 'vitest'
import { defineRule, defineRulebook, minutes, type RuleLike, seatRef } from 'zinc-referee'
import {
  areasOf,
  boostsOf,
  credit,
  holds,
  idle,
  mostAtTime,
  respawn,
  rolesOf,
  roster,
  rounds,
  scores,
  tasks,
  teams,
  verdict,
  vitals,
  zones,
} from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const DAY = minutes(24 * 60)
const charms = (lasts: number) => boostsOf({ bell: { lasts } })
const secret = rolesOf({ brewer: {}, spoiler: { count: 1 } })
const blows = defineRule({
  name: 'blows',
  needs: [vitals, holds, zones],
  facts: {
    hit: {
      input: { target: seatRef(), by: seatRef() },
      hear: (match, { target, by }) =>
        match.use(vitals).hurt({ target, by, amount: Number.MAX_SAFE_INTEGER }),
    },
    grab: { input: { seat: seatRef() }, hear: (match, { seat }) => match.use(holds).take(seat, 'bell') },
  },
})
const everyRule = (ms: number, least: number): RuleLike[] => [
  roster({ grace: least }),
  rounds({ length: ms, count: 3, breakTime: least, overtime: ms }),
  teams({ count: 2 }),
  vitals({ max: ms, shieldDelay: least, regenDelay: least, regenRate: 1 }),
  scores,
  credit({ assistWindow: least, pushWindow: ms }),
  respawn({ after: least, waveEvery: ms, protectFor: least, livesPer: 'round' }),
  holds({ things: ['bell'], passLock: least, takeLock: least }),
  zones({ names: ['mill'], needed: ms, scoreEvery: ms }),
  charms(ms),
  areasOf({ near: 1, far: 1, every: 1 }),
  secret,
  tasks({ list: [{ kind: 'stave', need: ms, within: ms }] }),
  idle({ after: ms }),
  verdict({ when: [mostAtTime.decides('round'), mostAtTime] }),
  blows,
]
const bookOf = (rules: RuleLike[], max = 4) =>
  defineRulebook({ name: 'extremes', seats: { min: 2, max }, rules } as any) as any

test.each([
  ['a ms', 1, 0],
  ['a ms, nothing at once', 1, 1],
  ['a day', DAY, DAY],
])('times of %s work in every rule, to the verdict', (_what, ms, least) => {
  const { match, replay } = playMatch(bookOf(everyRule(ms, least)), ['otter', 'heron', 'vole']) as any
  match.report('zones.enter', { seat: 'otter', zone: 'mill' })
  match.report('blows.grab', { seat: 'heron' })
  match.report('blows.hit', { target: 'heron', by: 'otter' })
  match.advanceTo(match.now + 20 * DAY)
  expect(match.faults).toEqual([])
  expect(match.view('spectator').verdict.end.kind).not.toBeNull()
  expect(replay().differs).toBeUndefined()
})

test('a thousand seats sit down, take sides and are seen; one more is refused', () => {
  const seats = Array.from({ length: 1000 }, (_, n) => `fish-${n}`)
  const { match } = playMatch(bookOf([teams({ count: 2 }), scores, areasOf({ near: 5, far: 6 })], 1000), [], {
    start: false,
  }) as any
  for (const seat of seats) match.direct('roster.join', { seat, name: 'Fish' })
  expect(match.seats.length).toBe(1000)
  expect(match.direct('roster.join', { seat: 'more', name: 'Fish' })).toMatchObject({ code: 'match-full' })
  match.direct('phases.start', {})
  match.advanceTo(3000)
  match.reportAll(
    'areas.at',
    seats.map((seat, n) => ({ seat, x: (n % 100) * 10, y: Math.floor(n / 100) * 10 })),
  )
  expect(match.faults).toEqual([])
  expect(Object.values(match.view('fish-5').areas.spots).length).toBe(1)
})

test('more than that, and times that cannot be, are refused as the rulebook is defined', () => {
  expect(() => bookOf([scores], 10_000)).toThrow('max ≤ 1000')
  for (const make of [
    () => rounds({ length: 0 }),
    () => respawn({ after: -1 }),
    () => zones({ names: ['mill'], needed: 0 }),
    () => tasks({ list: [{ kind: 'stave', need: 0 }] }),
    () => idle({ after: 0 }),
    () => roster({ grace: -1 }),
    () => holds({ things: ['bell'], passLock: 0.5 }),
  ])
    expect(() => bookOf([vitals, scores, verdict({ when: [mostAtTime] }), make() as RuleLike])).toThrow(
      /ZR_SETTING_INVALID|must|expected|Too small|Invalid/i,
    )
})
