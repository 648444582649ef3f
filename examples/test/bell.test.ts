import { bellTide, modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { minutes, type Seat } from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole', 'newt']
const BELL = { x: 300, y: 100 }
const FAR = { x: 20, y: 20 }

/** Two crews of two, with everyone far from the bell. `a` is one crew's keeper, `c` the other's. */
function onThePier(settings: object = {}) {
  const { match, replay } = playMatch(bellTide, SEATS, {
    settings: { respawn: { protectFor: 0 }, idle: { after: minutes(9), warnAfter: null }, ...settings },
  })
  const start = match.now
  const teamOf = (seat: Seat) => match.state.teams.side.of(seat).team
  const seatOf = (team: number, role: string): Seat => {
    const found = SEATS.find(
      (seat) => teamOf(seat) === team && match.state.roles.seats.of(seat).role === role,
    )
    return found ?? expect.fail(`crew ${team} has no ${role}`)
  }
  const game = {
    match,
    replay,
    keepers: [seatOf(0, 'keeper'), seatOf(1, 'keeper')] as const,
    ringers: [seatOf(0, 'ringer'), seatOf(1, 'ringer')] as const,
    at: (play: number) => match.advanceTo(start + play),
    stand: (seat: Seat, to = BELL) => match.report('areas.at', { seat, ...to }),
    rung: () => {
      const [bell] = match.state.zones.zones.all()
      const running = (side: string) =>
        bell?.side === side ? bell.rate * (match.now - start - bell.since) : 0
      return ['0', '1'].map((side) => ((bell?.held.get(side) ?? 0) + running(side)) / 1_000_000)
    },
    /** Throws until somebody is down. */
    fell(by: Seat, target: Seat) {
      game.stand(by)
      game.stand(target)
      for (const _ of [1, 2]) {
        match.submit(by, 'tide.throw', { target })
        const [stone] = match.state.tide.flying.all()
        match.report('tide.landed', { stone: stone?.id ?? '', hits: true })
      }
      game.stand(by, FAR)
      return match.state.vitals.body.of(target).down
    },
    sees: (viewer: Seat | 'spectator', seat: Seat) => match.view(viewer).areas.spots[seat]?.x !== undefined,
  }
  for (const seat of SEATS) game.stand(seat, FAR)
  return game
}

test('a crew rings while it alone stands at the bell, twice as fast with its keeper there', () => {
  const { at, stand, rung, keepers, ringers } = onThePier()
  stand(ringers[0])
  at(4000)
  stand(keepers[0])
  at(7000)
  expect(rung()).toEqual([10, 0])
  stand(ringers[1])
  at(20_000)
  stand(ringers[0], FAR)
  stand(keepers[0], FAR)
  at(21_000)
  expect(rung()).toEqual([10, 1])
})

test('a keeper that is brought down is shown to all and gives the foes ten seconds, once a round', () => {
  const { match, at, fell, rung, keepers, ringers } = onThePier()
  const shown = () => match.view('spectator').roles.seats[keepers[0]]?.role
  expect(shown()).toBeUndefined()
  expect(fell(ringers[1], keepers[0])).toBe(true)
  expect([shown(), rung()[1]]).toEqual(['keeper', 10])
  at(5000)
  expect(fell(ringers[1], keepers[0])).toBe(true)
  expect(rung()[1]).toBe(10)
})

test('three downs in a row light a seat up for everyone, for ten seconds', () => {
  const { match, at, fell, sees, ringers } = onThePier()
  const [hunter, hunted] = ringers
  for (const wait of [5000, 11_000, 18_000]) {
    fell(hunter, hunted)
    expect(sees('spectator', hunter)).toBe(wait === 18_000)
    for (const stone of match.state.areas.things.all())
      match.report('tide.gathered', { seat: hunter, stone: stone.id })
    if (wait < 18_000) at(wait)
  }
  at(20_999)
  expect(sees('spectator', hunter)).toBe(true)
  at(21_000)
  expect(sees('spectator', hunter)).toBe(false)
})

test('level within a tenth of a second: the next full second decides; with none, the round is drawn', () => {
  for (const goesOn of [true, false]) {
    const { match, at, stand, ringers, replay } = onThePier()
    const [one, other] = ringers
    stand(one)
    at(4050)
    stand(one, FAR)
    stand(other)
    at(8000)
    stand(other, FAR)
    at(minutes(4))
    const { now } = match.view('spectator').rounds
    expect([now.round, now.overtime]).toEqual([1, 1])
    if (goesOn) stand(other)
    at(minutes(4) + 1049)
    expect(match.view('spectator').rounds.now.round).toBe(1)
    at(minutes(goesOn ? 4 : 5) + 1050)
    const { phases, verdict } = match.view('spectator')
    expect([phases.now.phase, verdict.rounds.wins]).toEqual(['break', goesOn ? { 1: 1 } : {}])
    expect(replay().differs).toBeUndefined()
  }
})

test('fog: a foe more than 30 m away is not seen, its health neither, and nobody can throw at it', () => {
  const { match, stand, sees, ringers, keepers } = onThePier()
  const [one, foe] = ringers
  stand(foe, { x: 600, y: 20 })
  const health = (seat: Seat) => match.view(one).vitals.body[seat]?.health
  expect([sees(one, foe), health(foe), sees(one, keepers[0]), health(keepers[0])]).toEqual([
    false,
    undefined,
    true,
    100,
  ])
  expect(match.submit(one, 'tide.throw', { target: foe })).toMatchObject({ code: 'no-such-target' })
  expect(match.submit(one, 'tide.throw', { target: keepers[0] })).toMatchObject({ code: 'own-crew' })
  stand(foe, { x: 300, y: 20 })
  expect([sees(one, foe), health(foe)]).toEqual([true, 100])
  for (let n = 0; n < 5; n++) match.submit(one, 'tide.throw', { target: foe })
  expect(match.submit(one, 'tide.throw', { target: foe })).toMatchObject({ code: 'no-stone' })
  expect(match.view(foe).tide.pockets[one]?.stones).toBeUndefined()
})

test('who comes after a minute waits for the next round; who does nothing is warned, then watches', () => {
  const { match, at } = onThePier({ idle: { after: minutes(1), warnAfter: 45_000 } })
  at(45_000)
  expect(match.addViewer('otter').notices.map(({ name }) => name)).toContain('idle.warned')
  for (const seat of ['heron', 'vole', 'newt']) match.report('idle.seen', { seat })
  at(59_999)
  match.direct('roster.join', { seat: 'coot', name: 'Coot' })
  at(60_000)
  match.direct('roster.join', { seat: 'toad', name: 'Toad' })
  const { seats } = match.view('spectator').roster
  expect(Object.values(seats).map(({ sidelined }) => sidelined)).toEqual([
    true,
    false,
    false,
    false,
    false,
    true,
  ])
})

test('bots that find a bout over wish for another, and play it', () => {
  const { match } = onThePier()
  const crowd = modes['bell-tide']?.demo.crowd?.('fair-1')
  for (let round = 0; match.state.phases.now.phase !== 'over'; round++) {
    match.direct('rounds.close', {})
    match.advanceTo(match.now + 20_000)
    expect(round).toBeLessThan(20)
  }
  const { bout } = match.state.phases.now
  for (let beat = 0; beat < 200; beat++) {
    crowd?.beat(match, () => true)
    match.advanceTo(match.now + 500)
  }
  expect(match.state.phases.now.bout).toBe(bout + 1)
})
