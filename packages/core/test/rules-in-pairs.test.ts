import fc from 'fast-check'
import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, maybe, minutes, perSeat, seatRef, side, text } from 'zinc-referee'
import {
  areasOf,
  boostsOf,
  credit,
  holds,
  idle,
  mostAtTime,
  mostRounds,
  respawn,
  rolesOf,
  rounds,
  scores,
  tasks,
  teams,
  verdict,
  vitals,
  whileUp,
  zones,
} from 'zinc-referee/rules'

import { playMatch } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole', 'newt']
const charms = boostsOf({
  bell: { lasts: 4000 },
  veil: { lasts: 2000, again: 'stack', most: 2, seenBy: side },
})
const secret = rolesOf({ brewer: {}, spoiler: { count: 1, tellCamp: true } })
const meadow = areasOf({ near: 50, far: 70, every: 100 })

/** What is done to the rules from outside; a rule that is not in the rulebook is left alone. */
const hand = defineRule({
  name: 'hand',
  needs: [vitals, scores],
  knows: [charms, holds, meadow, secret, tasks, zones],
  state: { notes: perSeat({ note: text('').seenBy(side) }) },
  actions: {
    act: {
      when: whileUp,
      input: {},
      decide(match, seat) {
        match.own.notes.of(seat).note = String(match.time.play)
      },
    },
  },
  amend: {
    'vitals.hurt'(match, { by, amount }) {
      if (match.use(charms)?.has(by, 'bell')) amount.times(2)
    },
  },
  facts: {
    hit: {
      late: 500,
      input: { target: seatRef(), by: maybe(seatRef()), amount: int() },
      hear: (match, blow) => match.use(vitals).hurt(blow),
    },
    earn: {
      input: { seat: seatRef(), amount: int() },
      hear: (match, { seat, amount }) => match.use(scores).give({ seat, amount, reason: 'earned' }),
    },
    charm: {
      input: { seat: seatRef() },
      hear: (match, { seat }) => match.use(charms)?.give({ seat, kind: 'bell' }),
    },
    veil: {
      input: { seat: seatRef() },
      hear: (match, { seat }) => match.use(charms)?.give({ seat, kind: 'veil' }),
    },
    take: { input: { seat: seatRef() }, hear: (match, { seat }) => match.use(holds)?.take(seat, 'lamp') },
    enter: { input: { seat: seatRef() }, hear: (match, { seat }) => match.use(zones)?.enter(seat, 'mill') },
    go: { input: { seat: seatRef() }, hear: (match, { seat }) => match.use(zones)?.leave(seat, 'mill') },
    swap: {
      input: { seat: seatRef(), by: seatRef() },
      hear: (match, { seat, by }) => match.use(secret)?.swap(seat, by),
    },
    work: {
      input: { seat: seatRef(), task: text(), amount: int() },
      hear: (match, given) => match.use(tasks)?.progress(given),
    },
    swim: {
      input: { seat: seatRef(), x: int() },
      hear: (match, { seat, x }) => match.use(meadow)?.put(seat, { x, y: 0 }),
    },
  },
})

/** Each rule that may be there or not, set so that its corners are met. */
const parts = {
  teams: teams({ count: 2, friendlyFire: 'on' }),
  credit: credit({ points: { kill: 2, assist: 1, team: -1 } }),
  respawn: respawn({ after: 1500, lives: 4, protectFor: 500 }),
  waves: respawn({ mode: 'wave', waveEvery: 4000 }),
  charms,
  holds: holds({ things: ['lamp'], onDown: 'random', onLeave: 'fewest' }),
  pool: respawn({
    after: 1000,
    lives: 3,
    shared: true,
    places: [
      { name: 'mill', x: 0, y: 0 },
      { name: 'lock', x: 90, y: 0 },
    ],
    place: 'far',
  }),
  meadow,
  zones: zones({
    names: ['mill'],
    needed: 1500,
    scoreEvery: 1000,
    contested: 'more-heads',
    whenEmpty: 'drains',
  }),
  secret,
  tasks: tasks({
    list: [
      { kind: 'stave', need: 150, within: 6000 },
      { kind: 'hoop', need: 60 },
    ],
    spawn: 'random',
    again: true,
    points: 1,
  }),
  idle: idle({ after: 5000 }),
} as const
const names = Object.keys(parts) as (keyof typeof parts)[]
const pairs = names
  .flatMap((a, at) => names.slice(at + 1).map((b) => [a, b] as const))
  .filter((pair) => pair.filter((part) => ['respawn', 'waves', 'pool'].includes(part)).length < 2)
const several = [
  rounds({ length: 20_000, count: 3, bestOf: true, breakTime: 1000, overtime: 2000 }),
  verdict({ when: [mostAtTime.decides('round'), mostRounds] }),
]
const single = [rounds({ length: minutes(1) }), verdict({ when: [mostAtTime] })]

const deed = fc.record({
  what: fc.constantFrom(
    'hit',
    'hit',
    'hit',
    'earn',
    'charm',
    'veil',
    'take',
    'swim',
    'act',
    'enter',
    'go',
    'swap',
    'work',
    'leave',
    'join',
    'absent',
    'pause',
    'resume',
  ),
  seat: fc.constantFrom(...SEATS),
  other: fc.constantFrom(...SEATS, undefined),
  amount: fc.integer({ min: 0, max: 120 }),
  wait: fc.constantFrom(0, 0, 1, 499, 1500, 4000),
})

test.each(pairs)('%s with %s: no law of either is broken, in one round or several', (a, b) => {
  for (const shape of [single, several]) {
    const book: any = defineRulebook({
      name: 'pair',
      seats: { min: 2, max: 4 },
      rules: [...shape, vitals({ regenRate: 3, regenDelay: 2000 }), scores, parts[a], parts[b], hand] as any,
    })
    fc.assert(
      fc.property(fc.array(deed, { maxLength: 40 }), (deeds) => {
        const { match, replay }: any = playMatch(book, SEATS)
        match.open('spectator')
        match.flush()
        const seen = { downs: 0, credits: 0, verdicts: 0 }
        const look = (): void => {
          for (const { viewer, notices } of match.flush({ all: true }))
            for (const { name } of viewer === 'spectator' ? notices : []) {
              if (name === 'credit.given') seen.credits++
              if (name === 'verdict.reached') seen.verdicts++
            }
          const { vitals: body, scores: sums, respawn: back } = match.state
          const given = new Map<string, number>()
          for (const { to, amount } of sums.ledger.all()) given.set(to, (given.get(to) ?? 0) + amount)
          for (const seat of SEATS) {
            if (!match.seats.includes(seat)) continue
            const { health, max, down } = body.body.of(seat)
            expect(health >= 0 && health <= max).toBe(true)
            expect(sums.sums.of(seat).score).toBe(given.get(seat) ?? 0)
            const due = back?.back.of(seat).due
            if (due !== undefined) expect(down).toBe(true)
          }
          for (const zone of match.state.zones?.zones.all() ?? [])
            expect(zone.progress >= 0 && zone.progress <= zone.full).toBe(true)
          for (const { due } of match.snapshot().time.timers) expect(due).toBeGreaterThanOrEqual(0)
        }
        for (const { what, seat, other, amount, wait } of deeds) {
          match.advanceTo(match.now + wait)
          const wasDown = match.seats.includes(seat) && match.state.vitals.body.of(seat)
          const at = wasDown ? { down: wasDown.down, since: wasDown.downAt } : undefined
          const input = { seat, target: seat, by: other, amount, x: amount }
          const pick = (...cells: (keyof typeof input)[]) =>
            Object.fromEntries(cells.map((cell) => [cell, input[cell]]))
          if (what === 'hit')
            match.report('hand.hit', pick('target', 'by', 'amount'), { at: match.now - (wait % 500) })
          else if (what === 'earn') match.report('hand.earn', pick('seat', 'amount'))
          else if (what === 'swim') match.report('hand.swim', pick('seat', 'x'))
          else if (what === 'act') {
            const { ok } = match.submit(seat, 'hand.act', {})
            if (ok && at?.down) expect(at.since).toBe(match.now) // only in the very ms of going down
          } else if (what === 'work') {
            const task = match.state.tasks?.rows.all()[0]?.id ?? 'none'
            match.report('hand.work', { seat, task, amount })
          } else if (what === 'swap') match.report('hand.swap', { seat, by: other ?? seat })
          else if (what === 'join') match.direct('roster.join', { seat, name: seat })
          else if (what === 'leave') match.submit(seat, 'roster.leave', {})
          else if (what === 'absent') match.direct('roster.absent', { seat })
          else if (what === 'pause' || what === 'resume') match.direct(`phases.${what}`, {})
          else match.report(`hand.${what}`, { seat })
          look()
        }
        match.direct('phases.resume', {})
        match.advanceTo(match.now + 200_000)
        look()
        expect(match.faults).toEqual([])
        expect(match.view('spectator').phases.now.phase).toBe('over')
        expect(seen.verdicts).toBe(1)
        const downs = (a === 'credit' || b === 'credit') && match.state.credit
        if (downs) {
          const counted = SEATS.reduce((sum, seat) => sum + downs.tally.of(seat).downs, 0)
          expect(seen.credits).toBe(counted)
        }
        expect(replay().differs).toBeUndefined()
      }),
      { numRuns: 12 },
    )
  }
})
