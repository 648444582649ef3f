import { expect, test } from 'vitest'
import { defineRule, defineRulebook, int, near, perSeat, seatRef } from 'zinc-referee'
import { type AreaSettings, areasOf, teams, vitals } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole', 'newt']

/** Otter and vole are one crew, heron and newt the other; each stands 200 m from the next, and sees 100 m. */
function onThePier(settings: AreaSettings = {}, withAreas = true) {
  const areas = areasOf({ near: 100, ...settings })
  const pier = defineRule({
    name: 'pier',
    needs: [vitals],
    knows: [areas],
    state: { pockets: perSeat({ stones: int(5).seenBy(near) }) },
    facts: {
      show: {
        input: { seat: seatRef(), ms: int() },
        handle: (match, { seat, ms }) => match.use(areas)?.reveal(seat, ms),
      },
      tell: {
        input: { seat: seatRef(), to: seatRef(), ms: int() },
        handle: (match, { seat, to, ms }) => match.use(areas)?.reveal(seat, ms, [to]),
      },
      fell: { input: { seat: seatRef() }, handle: (match, { seat }) => match.use(vitals).bringDown(seat) },
      count: {
        input: { seat: seatRef() },
        handle(match, { seat }) {
          match.own.pockets.of(seat).stones = match.use(areas)?.unseenFoes(seat) ?? -1
        },
      },
      raise: { input: { seat: seatRef() }, handle: (match, { seat }) => match.use(vitals).raise(seat, 50) },
    },
  })
  const book = defineRulebook({
    name: 'pier',
    seats: { min: 1, max: 8 },
    rules: [vitals({ healthSeen: 'near' }), teams, pier, ...(withAreas ? [areas] : [])],
  })
  const { match } = playMatch(book, SEATS)
  if (withAreas)
    for (const [at, seat] of SEATS.entries()) match.report('areas.at', { seat, x: 200 * at, y: 0 })
  const seen = (part: (view: ReturnType<typeof match.view>, seat: string) => unknown) => (seat: string) =>
    [...SEATS, 'spectator'].filter((viewer) => part(match.view(viewer), seat) !== undefined).join(' ')
  return {
    match,
    report: match.report.bind(match),
    seesOf: seen((view, seat) => view.areas.spots[seat]?.x),
    healthOf: seen((view, seat) => view.vitals.body[seat]?.health),
    stonesOf: seen((view, seat) => view.pier.pockets[seat]?.stones),
  }
}

test.each([
  ['AR18: own side always', { teamSees: true }, 'otter vole', 'otter heron newt'],
  ['AR18: or only when near', {}, 'otter', 'otter heron'],
] as const)('%s', (_case, settings, apart, together) => {
  const { report, seesOf, match } = onThePier(settings)
  expect(seesOf('otter')).toBe(apart)
  report('areas.at', { seat: 'heron', x: 50, y: 0 })
  expect(seesOf('heron')).toBe(together)
  expect(match.faults).toEqual([])
})

test.each([
  ['place', 'otter heron', 'heron newt'],
  ['nothing', 'heron', 'heron newt'],
  ['all', 'otter heron', 'otter heron newt'],
] as const)('AR12: who is down sees %s, until it is up again', (downSees, near, far) => {
  const { report, seesOf } = onThePier({ downSees })
  report('areas.at', { seat: 'heron', x: 50, y: 0 })
  const before = seesOf('heron')
  report('pier.fell', { seat: 'otter' })
  expect(seesOf('heron')).toBe(near)
  report('areas.at', { seat: 'heron', x: 610, y: 0 })
  expect(seesOf('heron')).toBe(far)
  report('areas.at', { seat: 'heron', x: 50, y: 0 })
  report('pier.raise', { seat: 'otter' })
  expect(seesOf('heron')).toBe(before)
})

test('AR12: where everyone sees everything, who is down may see nothing but itself', () => {
  const { report, seesOf } = onThePier({ near: 10_000, downSees: 'nothing' })
  report('pier.fell', { seat: 'otter' })
  expect(seesOf('heron')).toBe('heron vole newt')
  expect(seesOf('otter')).toBe('otter heron vole newt')
})

test('AR19: shown to one for 5 s and to all for 2 s: each for its own time, wherever the seat goes', () => {
  const { match, report, seesOf } = onThePier()
  report('pier.tell', { seat: 'otter', to: 'newt', ms: 5000 })
  report('pier.show', { seat: 'otter', ms: 2000 })
  report('pier.show', { seat: 'otter', ms: 500 })
  report('areas.at', { seat: 'otter', x: -900, y: 0 })
  match.advanceTo(match.now + 1999)
  expect(seesOf('otter')).toBe('otter heron vole newt spectator')
  match.advanceTo(match.now + 1)
  expect(seesOf('otter')).toBe('otter newt')
  match.advanceTo(match.now + 3000)
  expect(seesOf('otter')).toBe('otter')
})

test('AR19: who has left is not shown again when it comes back', () => {
  const { match, report, seesOf } = onThePier()
  report('pier.show', { seat: 'otter', ms: 9000 })
  match.submit('otter', 'roster.leave', {})
  match.direct('roster.join', { seat: 'otter', name: 'otter' })
  report('areas.at', { seat: 'otter', x: -900, y: 0 })
  expect(seesOf('otter')).toBe('otter')
})

test('AR20: cells that are seen near follow who sees where the seat is', () => {
  const { report, seesOf, healthOf, stonesOf } = onThePier({ teamSees: true })
  for (const act of [
    () => undefined,
    () => report('areas.at', { seat: 'otter', x: 650, y: 0 }),
    () => report('pier.show', { seat: 'otter', ms: 100 }),
  ]) {
    act()
    expect(healthOf('otter')).toBe(seesOf('otter'))
    expect(stonesOf('otter')).toBe(seesOf('otter'))
  }
})

test('AR20: without a rule that places seats, only the owner is near', () => {
  const { healthOf, stonesOf } = onThePier({}, false)
  expect([healthOf('otter'), stonesOf('otter')]).toEqual(['otter', 'otter'])
})

test('two rules that say who sees where a seat is are refused', () => {
  const fog = defineRule({ name: 'fog', inSight: () => ({ all: true, seats: new Set() }) })
  expect(() =>
    defineRulebook({ name: 'pier', seats: { min: 1, max: 2 }, rules: [areasOf({ near: 5 }), fog] }),
  ).toThrow(/more than one rule that says who sees where a seat is: 'areas', 'fog'/)
})

test.each([
  ['AR21: an absent foe is not seen', false, 'otter vole', 2],
  ['AR21, AR22: or is, by default', true, 'otter heron vole', 1],
] as const)('%s', (_case, absentSeen, seen, left) => {
  const { match, report, seesOf, stonesOf } = onThePier({ absentSeen, teamSees: true })
  report('areas.at', { seat: 'otter', x: 190, y: 0 })
  match.direct('roster.absent', { seat: 'otter' })
  expect(seesOf('otter')).toBe(seen)
  // AR22: vole stands apart from heron and newt, heron sees vole or not.
  report('pier.count', { seat: 'heron' })
  expect(match.view('heron').pier.pockets['heron']?.stones).toBe(left)
  match.direct('roster.join', { seat: 'otter', name: 'Otter' })
  expect([seesOf('otter'), stonesOf('otter').includes('heron')]).toEqual(['otter heron vole', true])
})
