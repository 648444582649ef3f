import { expect, test } from 'vitest'
import { mostAtTime, mostRounds, parity, rolesOf, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { bookWith, SEATS } from '../fixtures/brew-mode.ts'
import { code } from '../fixtures/error-code.ts'

const secret = rolesOf({
  brewer: {},
  spoiler: { count: { 3: 1, 5: 2 }, between: { 3: [1, 1], 5: [1, 3] } },
  taster: { count: 1 },
})
const inRounds = [mostAtTime.decides('round'), mostRounds]
const book = bookWith(verdict({ when: [parity(secret.camp('spoiler')), ...inRounds] }), secret)
const lobby = (count: number, roles = {}) =>
  playMatch(book, SEATS.slice(0, count), { start: false, settings: { roles } }).match as any
const setTo = (match: any, counts: object) =>
  match.direct('match.set', { rule: 'roles', settings: { counts } })
const counts = (match: any) => match.view('otter').roles.table.counts

test('RL13: the number of a role that is set in the lobby is dealt, and parity counts by it', () => {
  const match = lobby(6)
  expect(setTo(match, { spoiler: 3 })).toEqual({ ok: true })
  match.direct('phases.start', {})
  match.advanceTo(3000)
  expect(counts(match)).toEqual({ brewer: 2, spoiler: 3, taster: 1 })
  expect(match.state.verdict.end.winners).toHaveLength(3)
})

test.each([[{ taster: 2 }], [{ fox: 1 }], [{ spoiler: -1 }], [{ spoiler: 1.5 }], [2]])(
  'RL13: %j is refused, with the names that may be set, and changes nothing',
  (wrong) => {
    const match = lobby(5)
    expect(setTo(match, wrong as object)).toMatchObject({ ok: false })
    expect(match.settings.roles.counts).toEqual({})
    expect(code(() => lobby(5, { counts: wrong }))).toBe('ZR_SETTING_INVALID')
  },
)

test('RL13: a number that does not fit the seats refuses the start, and cancels a countdown', () => {
  const match = lobby(4, { counts: { spoiler: 2 } })
  expect(match.direct('phases.start', {})).toMatchObject({ code: 'bad-counts' })
  setTo(match, {})
  expect(match.direct('phases.start', {})).toEqual({ ok: true })
  setTo(match, { spoiler: 3 })
  expect(match.view('otter').phases.now.phase).toBe('lobby')
})

test('RL13: set during play, it counts from the next dealing, and then within the bounds of the seats there are', () => {
  const match = playMatch(bookWith(verdict({ when: inRounds }), secret), SEATS.slice(0, 5), {
    settings: { roles: { dealt: 'round' }, rounds: { count: 3, breakTime: 1000 } },
  }).match as any
  const dealt = [counts(match)]
  const nextRound = (then: () => void) => {
    then()
    match.advanceTo(match.now + 61_000)
    dealt.push(counts(match))
  }
  nextRound(() => setTo(match, { spoiler: 3 }))
  nextRound(() => match.submit('coot', 'roster.leave', {}))
  expect(dealt).toEqual([
    { brewer: 2, spoiler: 2, taster: 1 },
    { brewer: 1, spoiler: 3, taster: 1 },
    { brewer: 2, spoiler: 1, taster: 1 },
  ])
})

test('RL13: bounds that leave out the usual count are refused when the rule is made', () => {
  expect(code(() => rolesOf({ brewer: {}, spoiler: { count: 1, between: [2, 3] } }))).toBe(
    'ZR_SETTING_INVALID',
  )
  expect(code(() => rolesOf({ brewer: {}, spoiler: { count: 2, between: { 5: [1, 2] } } }))).toBe(
    'ZR_SETTING_INVALID',
  )
})
