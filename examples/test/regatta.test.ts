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
