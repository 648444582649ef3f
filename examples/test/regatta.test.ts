import { reedRegatta } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { playMatch } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole', 'newt']

function onTheRiver() {
  const { match } = playMatch(reedRegatta, SEATS)
  match.advanceTo(match.now + 2000) // nobody is protected any more
  const [foe = ''] = SEATS.filter((seat) => match.state.teams.side.of(seat).team === 1)
  const [own = ''] = SEATS.filter((seat) => match.state.teams.side.of(seat).team === 0)
  return {
    match,
    own,
    foe,
    ram: () => match.report('raft.rammed', { target: foe, by: own }),
    health: () => match.state.vitals.body.of(foe).health,
  }
}

test('a bronze prow doubles rams, for eight seconds', () => {
  const { match, own, ram, health } = onTheRiver()
  ram()
  expect(health()).toBe(75)
  match.report('raft.bronze', { seat: own })
  ram()
  expect(health()).toBe(25)
  match.advanceTo(match.now + 8000)
  match.report('raft.rammed', { target: own, by: own })
  expect(match.state.vitals.body.of(own).health).toBe(75)
})

test('a raft that is down finds no cargo, no bronze and no mist', () => {
  const { match, foe, ram } = onTheRiver()
  for (let n = 0; n < 4; n++) ram()
  expect(match.state.vitals.body.of(foe).down).toBe(true)
  const codes = (['raft.found', 'raft.bronze', 'raft.mist'] as const).map((find) => {
    const ruling = match.report(find, { seat: foe })
    return ruling.ok ? 'ok' : ruling.code
  })
  expect(codes).toEqual(['down', 'target-down', 'target-down'])
})

test('a raft that is back is protected for two seconds: a ram does nothing, and nobody hears of one', () => {
  const { match, foe, ram, health } = onTheRiver()
  match.addViewer('spectator')
  const told = (): number => {
    const notices = match.flush().flatMap((update) => update.notices)
    return notices.filter(({ name }) => name === 'raft.rammed').length
  }
  for (let n = 0; n < 4; n++) ram()
  match.advanceTo(match.now + 3000)
  expect([told(), match.state.vitals.body.of(foe).down]).toEqual([4, false])
  ram()
  expect([told(), health()]).toEqual([0, 100])
  match.advanceTo(match.now + 2000)
  ram()
  expect([told(), health()]).toEqual([1, 75])
})

test('a foe that is seen can be chased: not in mist and far, not one of the crew, not who has left', () => {
  const { match, own, foe } = onTheRiver()
  const chase = (quarry: string) => {
    const ruling = match.submit(own, 'raft.chase', { quarry })
    return ruling.ok ? match.state.raft.helm.of(own).quarry : ruling.code
  }
  const [mate = '', other = ''] = [0, 1].map((team) =>
    SEATS.findLast((seat) => match.state.teams.side.of(seat).team === team),
  )
  match.report('areas.at', { seat: own, x: 100, y: 100 })
  match.report('areas.at', { seat: foe, x: 500, y: 100 })
  expect([chase(own), chase(mate), chase(foe)]).toEqual(['own-raft', 'own-crew', foe])
  expect(chase(other)).toBe(other)
  match.report('raft.mist', { seat: foe })
  expect([chase(foe), match.state.raft.helm.of(own).quarry]).toEqual(['no-such-target', other])
  match.report('areas.at', { seat: foe, x: 110, y: 100 })
  expect(chase(foe)).toBe(foe)
  match.submit(other, 'roster.leave', {})
  expect(chase(other)).toBe('not-in-play')
})
