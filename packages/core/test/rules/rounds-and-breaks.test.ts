import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRulebook } from 'zinc-referee'
import { mostAtTime, mostRounds, respawn, rounds, scores, teams, verdict, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const LENGTH = 10_000
const several = defineRulebook({
  name: 'field',
  seats: { min: 2, max: 4 },
  rules: [
    rounds({ length: LENGTH, count: 3, bestOf: true, breakTime: 2000 }),
    vitals,
    scores,
    respawn({ protectFor: 0 }),
    verdict({ when: [mostAtTime.decides('round'), mostRounds] }),
    moves,
  ],
})
const one = defineRulebook({
  name: 'field',
  seats: { min: 2, max: 4 },
  rules: [rounds({ length: LENGTH }), vitals, scores, respawn, verdict({ when: [mostAtTime] }), moves],
})

function playing(book: typeof several | typeof one, settings: object = {}, seats = ['otter', 'heron']) {
  const { match } = playMatch(book, seats, { settings: { rounds: settings } })
  const view = () => match.view('spectator')
  return {
    match,
    view,
    /** Ms of match time after live play began, breaks and pauses with them. */
    at: (ms: number) => match.advanceTo(3000 + ms),
    earn: (seat: string, amount = 1) => match.report('moves.earn', { seat, amount }),
    phase: () => view().phases.now.phase,
    round: () => view().rounds.now,
    wins: () => view().verdict.rounds.wins,
    end: () => view().verdict.end,
  }
}

test('rounds are won one by one, with a break between them in which play rests', () => {
  const { match, at, earn, phase, round, wins } = playing(several)
  earn('otter')
  at(9999)
  expect([phase(), round().round]).toEqual(['live', 1])
  at(LENGTH)
  expect([phase(), wins(), round().ends]).toEqual(['break', { otter: 1 }, null])
  expect(match.submit('otter', 'moves.wave', {})).toMatchObject({ code: 'on-break' })
  expect(earn('otter')).toMatchObject({ code: 'on-break' })
  expect(match.direct('rounds.extend', { by: 1000 })).toMatchObject({ code: 'round-over' })
  at(LENGTH + 1999)
  expect(phase()).toBe('break')
  at(LENGTH + 2000)
  expect([phase(), round().round, round().ends]).toEqual(['live', 2, 2 * LENGTH]) // the play clock stood still
})

test('RD10: best of three ends when the second cannot catch up any more; without it all rounds are played', () => {
  const best = playing(several)
  best.earn('otter')
  best.at(12_000)
  best.earn('otter')
  best.at(22_000)
  expect(best.end()).toMatchObject({ kind: 'win', winners: ['otter'], reason: 'most-rounds' })
  const all = playing(several, { bestOf: false })
  for (const ms of [0, 12_000]) {
    all.at(ms)
    all.earn('otter')
  }
  all.at(24_000)
  expect([all.phase(), all.round().round]).toEqual(['live', 3])
  all.earn('heron', 50)
  all.at(34_000)
  expect(all.end()).toMatchObject({ kind: 'win', winners: ['otter'] })
})

test('RD11, RD21: a drawn round counts as played and is won by nobody; points of former rounds decide no new one', () => {
  const { at, earn, wins, end } = playing(several)
  earn('otter', 9)
  at(12_000)
  at(22_000) // level in this round, whatever the first one gave
  expect(wins()).toEqual({ otter: 1 })
  at(24_000)
  earn('heron')
  at(34_000)
  expect(wins()).toEqual({ otter: 1, heron: 1 })
  expect(end()).toMatchObject({ kind: 'draw', winners: ['otter', 'heron'] })
})

test('RD19: a break of 0: the next round begins in a step of its own at the same ms, and both are told', () => {
  const { match, at, earn, round } = playing(several, { breakTime: 0 })
  match.addViewer('spectator')
  earn('otter')
  match.flush()
  at(LENGTH)
  const told = match.flush().flatMap(({ notices }) => notices.map(({ name }) => name))
  expect(told.filter((name) => name.startsWith('rounds.'))).toEqual(['rounds.ended', 'rounds.began'])
  expect(round().round).toBe(2)
})

test('a new round is a new life for all, and those who were out of lives per round are in again', () => {
  const { match, at, earn } = playing(several, {}, ['otter', 'heron', 'vole'])
  match.direct('match.set', { rule: 'respawn', settings: { lives: 1, livesPer: 'round' } })
  earn('otter')
  at(12_000)
  match.report('moves.fell', { seat: 'vole' })
  expect(match.state.roster.seats.of('vole').sidelined).toBe(true)
  at(24_000)
  expect([match.state.roster.seats.of('vole').sidelined, match.state.vitals.body.of('vole').health]).toEqual([
    false,
    100,
  ])
})

test('RD5: level when time is up: overtime in the same step, with no break and nothing set back; then as many as there are, then a draw', () => {
  const { match, at, round, phase, end } = playing(one, { overtime: 3000, overtimes: 2 })
  match.report('moves.fell', { seat: 'otter' })
  at(LENGTH)
  expect([phase(), round().overtime, round().ends]).toEqual(['live', 1, 13_000])
  expect(match.submit('heron', 'moves.wave', {})).toEqual({ ok: true })
  at(13_000)
  expect(round().overtime).toBe(2)
  at(16_000)
  expect(end()).toMatchObject({ kind: 'draw', winners: ['otter', 'heron'] })
})

test('a respawn due at the very ms at which overtime begins takes place', () => {
  const { match, at } = playing(one, { overtime: 3000 })
  at(7000)
  match.report('moves.fell', { seat: 'otter' })
  at(LENGTH)
  expect(match.state.vitals.body.of('otter').down).toBe(false)
})

test('RD6, RD8, RD9: sudden end goes on without an end until one side alone is on top, whichever it is', () => {
  const { at, earn, round, phase, end } = playing(one, { suddenEnd: true }, ['otter', 'heron', 'vole'])
  earn('otter', 2)
  earn('heron', 2)
  at(LENGTH)
  expect([phase(), round().sudden, round().ends]).toEqual(['live', true, null])
  at(60_000)
  earn('vole', 1)
  expect(phase()).toBe('live')
  earn('vole', 2)
  expect(end()).toMatchObject({ kind: 'win', winners: ['vole'], at: 60_000 })
  expect(earn('otter', 9)).toMatchObject({ code: 'over' })
})

test('RD7: both score in one step of sudden end: still level, it goes on', () => {
  const { match, at, end } = playing(one, { suddenEnd: true })
  at(LENGTH)
  match.reportAll('moves.earn', [
    { seat: 'otter', amount: 1 },
    { seat: 'heron', amount: 1 },
  ])
  expect(end().kind).toBeNull()
  match.reportAll('moves.earn', [
    { seat: 'otter', amount: 1 },
    { seat: 'heron', amount: 2 },
  ])
  expect(end()).toMatchObject({ kind: 'win', winners: ['heron'] })
})

test('RD6: a cap on sudden end draws it', () => {
  const { at, phase, end } = playing(one, { suddenEnd: true, overtime: 5000 })
  at(14_999)
  expect(phase()).toBe('live')
  at(15_000)
  expect(end().kind).toBe('draw')
})

test('RD20: a round closed by the authority is judged as when time is up, but a level one is drawn', () => {
  const level = playing(one, { overtime: 5000 })
  expect(level.match.direct('rounds.close', {})).toEqual({ ok: true })
  expect(level.end().kind).toBe('draw')
  expect(level.match.direct('rounds.close', {})).toMatchObject({ code: 'round-over' })
  const led = playing(several)
  led.earn('heron')
  led.match.direct('rounds.close', {})
  expect([led.phase(), led.wins()]).toEqual(['break', { heron: 1 }])
})

test('PH12: a pause holds the break; who leaves in a break may forfeit the bout', () => {
  const { match, at, earn, phase, end } = playing(several)
  earn('otter')
  at(11_000)
  match.direct('phases.pause', {})
  at(60_000)
  match.direct('phases.resume', {})
  at(60_999)
  expect(phase()).toBe('break')
  match.submit('heron', 'roster.leave', {})
  expect(end()).toMatchObject({ kind: 'win', winners: ['otter'], reason: 'forfeit' })
  at(120_000)
  expect(phase()).toBe('over')
})

test('several rounds need a condition for the round and one for the bout', () => {
  const book = (...when: Parameters<typeof verdict>[0]['when'] & object) =>
    defineRulebook({
      name: 'b',
      seats: { min: 2, max: 4 },
      rules: [rounds({ length: 1, count: 3 }), scores, verdict({ when }), teams],
    })
  expect(() => book(mostAtTime)).toThrow(expect.objectContaining({ code: 'ZR_RULEBOOK_NO_ROUND_CONDITION' }))
  expect(() => book(mostAtTime.decides('round'))).toThrow(/decides the bout/)
})

test('laws a, b: wins and drawn rounds add up to those played, none too many, and every bout ends', () => {
  const gift = fc.record({ seat: fc.constantFrom('otter', 'heron', 'vole'), wait: fc.nat(5000) })
  const settings = fc.record({
    count: fc.integer({ min: 2, max: 5 }),
    bestOf: fc.boolean(),
    breakTime: fc.constantFrom(0, 1, 2000),
    overtime: fc.option(fc.constantFrom(1, 3000)),
    suddenEnd: fc.constant(false),
  })
  fc.assert(
    fc.property(fc.array(gift, { maxLength: 20 }), settings, (gifts, given) => {
      const { match, earn, view, wins, end, round } = playing(several, given, ['otter', 'heron', 'vole'])
      match.addViewer('spectator')
      match.flush()
      let [ended, drawn] = [0, 0]
      const look = (): void => {
        for (const { viewer, notices } of match.flush())
          for (const { name, cells } of viewer === 'spectator' ? notices : []) {
            if (name !== 'rounds.ended') continue
            ended++
            if ((cells as { winners: readonly string[] }).winners.length === 0) drawn++
          }
      }
      for (const { seat, wait } of gifts) {
        match.advanceTo(match.now + wait)
        earn(seat)
        look()
      }
      match.advanceTo(match.now + 200_000)
      look()
      const won = Object.values(wins()).reduce((sum, each) => sum + each, 0)
      expect(view().phases.now.phase).toBe('over')
      expect(won + drawn).toBe(ended)
      expect(ended).toBeLessThanOrEqual(given.count)
      expect(round().round).toBe(ended)
      expect(end().kind).not.toBeNull()
      expect(match.faults).toEqual([])
    }),
  )
})

test('what an input makes due at its very ms happens right after it, and a record that ends there replays', () => {
  const { match, replay } = playMatch(one, ['otter', 'heron'])
  match.advanceTo(9000)
  match.direct('rounds.extend', { by: -20_000 })
  expect(match.view('spectator').phases.now.phase).toBe('over')
  const { differs, checks } = replay()
  expect([differs, checks > 0]).toEqual([undefined, true])
})
