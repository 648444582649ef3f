import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, nobody, owner, resumeMatch, seatRef, text } from 'zinc-referee'
import { scoreSheet } from 'zinc-referee/replica'
import {
  inPhase,
  mostAtTime,
  mostRounds,
  rounds,
  scores,
  sheetOf,
  teams,
  turnStep,
  turns,
  verdict,
} from 'zinc-referee/rules'
import { auditSight, playMatch, randomCrowd } from 'zinc-referee/testing'

const play = turnStep('play', { budget: null })
const sheet = sheetOf({
  throws: {},
  ringing: { keeps: 'time', seenBy: owner },
  streak: { keeps: 'most' },
  slowest: { keeps: 'least', seenBy: nobody },
})
const pier = defineRule({
  name: 'pier',
  needs: [sheet, scores, turns],
  facts: {
    count: {
      when: inPhase('lobby', 'live', 'break', 'over'),
      input: { seat: seatRef(), counter: text(), by: int(1) },
      handle: (match, { seat, counter, by }) => match.use(sheet).count(seat, counter as 'throws', by),
    },
  },
  directives: {
    crew: {
      input: { team: int(), counter: text(), by: int(1) },
      handle: (match, { team, counter, by }) => match.use(sheet).countTeam(team, counter as 'throws', by),
    },
  },
  actions: {
    throw: {
      when: play,
      input: {},
      decide(match, seat) {
        match.use(sheet).count(seat, 'throws')
        match.use(scores).give({ seat, amount: match.use(sheet).inRound(seat, 'throws'), reason: 'thrown' })
      },
    },
  },
})
const book = defineRulebook({
  name: 'pier',
  seats: { min: 2, max: 4 },
  rules: [
    rounds({ length: 10_000, count: 2, breakTime: 1000 }),
    turns({ steps: [play], takingBack: true }),
    teams({ count: 2 }),
    scores,
    verdict({ when: [mostAtTime.decides('round'), mostRounds] }),
    sheet,
    pier,
  ],
})
function onPier(seats: readonly string[] = ['otter', 'heron']) {
  const { match, replay } = playMatch(book, seats)
  return {
    match,
    replay,
    count: (seat: string, counter: string, by = 1) =>
      expect(match.report('pier.count', { seat, counter, by })).toEqual({ ok: true }),
    total: (seat: string, viewer = 'server') =>
      scoreSheet(match.view(viewer)).seats.find((row) => row.seat === seat)?.total,
    pass: (ms: number) => match.advanceTo(match.now + ms),
  }
}

test('SH1, SH2, SH9: each round has its own numbers, and the bout theirs together', () => {
  const { match, count, total, pass, replay } = onPier()
  for (const [counter, by] of [
    ['throws', 2],
    ['throws', 1],
    ['ringing', 1500],
    ['ringing', 0],
    ['streak', 3],
    ['streak', 2],
    ['slowest', 40],
    ['slowest', 70],
  ] as const)
    count('otter', counter, by)
  pass(11_000)
  for (const [counter, by] of Object.entries({ throws: 4, streak: 2, slowest: 50 }))
    count('otter', counter, by)
  count('heron', 'throws', 0)
  count('heron', 'streak', 0)
  expect(total('otter')).toEqual({ score: 0, throws: 7, ringing: 1500, streak: 3, slowest: 40 })
  expect(total('heron')).toEqual({ score: 0, streak: 0 })
  expect(scoreSheet(match.view('server')).seats.find(({ seat }) => seat === 'otter')?.rounds).toEqual([
    { throws: 3, ringing: 1500, streak: 3, slowest: 40 },
    { throws: 4, streak: 2, slowest: 50 },
  ])
  expect(replay().differs).toBeUndefined()
})

test('SH3, SH5, SH7: what is hidden shows when the bout is over; nothing counts then, and the next bout begins blank', () => {
  const { match, count, total, pass } = onPier()
  count('otter', 'ringing', 900)
  count('otter', 'slowest', 40)
  expect([total('otter', 'otter'), total('otter', 'heron')]).toEqual([
    { score: 0, ringing: 900 },
    { score: 0 },
  ])
  expect(JSON.stringify(match.view('heron').sheet)).toBe('{"lines":{},"teamLines":{}}')
  const resumed = resumeMatch(book, JSON.parse(JSON.stringify(match.snapshot())))
  pass(25_000)
  expect(match.view('heron').phases.now.phase).toBe('over')
  count('otter', 'slowest', 1)
  const all = { score: 0, ringing: 900, slowest: 40 }
  expect(['otter', 'heron', 'spectator'].map((viewer) => total('otter', viewer))).toEqual([all, all, all])
  resumed.advanceTo(match.now)
  expect(resumed.view('heron').sheet).toEqual(match.view('heron').sheet)
  for (const seat of ['otter', 'heron']) match.submit(seat, 'rounds.rematch', {})
  pass(3000)
  expect(total('otter')).toEqual({ score: 0 })
})

test('SH4, SH10: lines of who has left stay; a team has the numbers of its seats', () => {
  const { match, count, total } = onPier(['otter', 'heron', 'vole', 'newt'])
  const teamOf = (seat: string) => match.view('server').teams.side[seat]?.team
  const [mate = ''] = ['heron', 'vole', 'newt'].filter((seat) => teamOf(seat) === teamOf('otter'))
  for (const [seat, streak] of [
    ['otter', 2],
    [mate, 5],
  ] as const) {
    count(seat, 'throws', 3)
    count(seat, 'streak', streak)
  }
  match.submit(mate, 'roster.leave', {})
  count(mate, 'throws', 1) // it flew when its thrower left
  expect(total(mate)).toMatchObject({ throws: 4 })
  const { teams: sums } = scoreSheet(match.view('server'))
  expect(sums.find(({ team }) => team === teamOf('otter'))?.total).toEqual({ score: 0, throws: 7, streak: 5 })
})

test('SH11: a team has counters as a whole: its seats see what seats see of their own, and the sheet adds both', () => {
  const { match, count } = onPier(['otter', 'heron', 'vole'])
  const [mine, other] = ['otter', 'heron'].map((seat) => match.view('server').teams.side[seat]?.team ?? 0)
  const crew = (counter: string, by: number, team = mine) =>
    match.direct('pier.crew', { team: team ?? 0, counter, by })
  count('otter', 'throws', 2)
  for (const [counter, by] of [
    ['throws', 3],
    ['throws', 1],
    ['ringing', 700],
    ['slowest', 9],
  ] as const)
    crew(counter, by)
  crew('slowest', 5, other)
  const seen = (viewer: string) => scoreSheet(match.view(viewer)).teams[mine ?? 0]?.total
  expect(seen('otter')).toEqual({ score: 0, throws: 6, ringing: 700 })
  expect(seen('heron')).toEqual({ score: 0, throws: 6 })
  match.advanceTo(match.now + 21_000)
  expect(seen('heron')).toEqual({ score: 0, throws: 6, ringing: 700, slowest: 9 })
})

test('SH6, SH8: a throw taken back is not counted; a bout that is abandoned shows its sheet', () => {
  const { match, total, count } = onPier()
  const { seat } = match.view('server').turns.now
  for (let n = 0; n < 2; n++) expect(match.submit(seat ?? '', 'pier.throw', {})).toEqual({ ok: true })
  expect(match.submit(seat ?? '', 'turns.take-back', {})).toEqual({ ok: true })
  expect(total(seat ?? '')).toEqual({ score: 1, throws: 1 })
  count('heron', 'slowest', 7)
  match.direct('phases.abandon', {})
  expect(total('heron', 'spectator')).toMatchObject({ slowest: 7 })
})

test('no counter that is hidden shows before the end, not even that it counted', () => {
  const audit = auditSight(book, {
    seats: ['otter', 'heron', 'vole'],
    crowd: () => {
      const random = randomCrowd('fair-1')
      return {
        every: 400,
        beat(match, drives) {
          random.beat(match, drives)
          for (const [at, counter] of ['ringing', 'slowest'].entries())
            match.report('pier.count', { seat: match.seats[at], counter, by: match.now % 50 })
        },
      }
    },
    checks: 12,
  })
  expect(audit.leaks).toEqual([])
  expect(audit.secrets['sheet.lines.count']?.varied).toBeGreaterThan(10)
})
