import { modes, spoiledBrew } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { type MatchFor, minutes } from 'zinc-referee'
import { playMatch, playToEnd } from 'zinc-referee/testing'
import { type FairPlace, maltPlaces } from '../src/brew/fair.ts'

const SEATS = ['otter', 'heron', 'vole', 'newt', 'coot', 'moth', 'toad']
type Brew = MatchFor<typeof spoiledBrew>
const holders = (match: Brew, role: 'brewer' | 'spoiler') =>
  match.seats.filter((seat) => match.state.roles.seats.of(seat).role === role)

function brewing(seats: readonly string[] = SEATS, settings: object = {}, seed = 'fair-1') {
  const { match, replay } = playMatch(spoiledBrew, seats, { seed, settings: { brewery: settings } })
  const [spoiler = '', other = ''] = holders(match, 'spoiler')
  const [brewer = '', next = ''] = holders(match, 'brewer')
  return {
    match,
    replay,
    spoiler,
    other,
    brewer,
    next,
    wait: (ms: number) => match.advanceTo(match.now + ms),
    walk: (seat: string, to: FairPlace) => match.submit(seat, 'brewery.walk', { to }),
    stir: (seat: string, way: 'stir' | 'sour' = 'stir') => match.submit(seat, `brewery.${way}`, {}),
    barrel: (name: string, viewer = 'server') =>
      Object.values(match.view(viewer).brewery.barrels).find((each) => each.name === name),
    taste: (name: string) => match.state.brewery.barrels.all().find((each) => each.name === name)?.taste ?? 0,
    vote: (seat: string, name: string) => match.submit(seat, 'opening.vote', { for: [name] }),
  }
}

test('eight matches: five strikes, one camp wins by the barrels, spoilers know each other only, and all replay', () => {
  const won = new Set<string>()
  for (let game = 0; game < 8; game++) {
    const { match, replay } = brewing(SEATS.slice(0, 5 + (game % 3)), {}, `game ${game}`)
    const crowd = modes['spoiled-brew']?.demo.crowd?.(`game ${game}`)
    if (crowd === undefined) throw new Error('no crowd')
    const spoilers = holders(match, 'spoiler')
    expect(spoilers.length).toBe(match.seats.length < 7 ? 1 : 2)
    for (const seat of match.seats)
      expect(Object.keys(match.view(seat).roles.seats)).toEqual(spoilers.includes(seat) ? spoilers : [seat])
    expect(playToEnd(match, crowd, minutes(10))).toBe(true)
    const { verdict, brewery } = match.view('spectator')
    const as = Object.values(brewery.barrels).map(({ opened }) => opened ?? 'sour')
    const sweet = as.filter((each) => each === 'sweet').length
    const role = sweet > as.filter((each) => each === 'sour').length ? 'brewer' : 'spoiler'
    expect(verdict.end).toMatchObject({ kind: 'win', reason: 'five-strikes', winners: holders(match, role) })
    won.add(role)
    for (const seat of match.seats) match.submit(seat, 'rounds.rematch', {})
    match.advanceTo(match.now + 30_000)
    const again = match.view('spectator')
    expect(again.phases.now.phase).toBe('live')
    expect([again.roles.seats, again.brewery.clock.strikes]).toEqual([{}, 0])
    expect(Object.values(again.brewery.barrels).filter(({ opened }) => opened)).toEqual([])
    expect(match.faults).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
  expect([...won].sort()).toEqual(['brewer', 'spoiler'])
})

test('only who stands at a barrel smells it; a walk takes three seconds, and everyone sees where it has led', () => {
  const { match, brewer, next, wait, walk, stir, barrel } = brewing()
  expect(stir(brewer)).toMatchObject({ code: 'no-barrel' })
  walk(brewer, 'tun')
  expect(walk(brewer, 'tun')).toMatchObject({ code: 'there-already' })
  wait(2999)
  expect(barrel('tun', brewer)?.smell).toBeUndefined()
  expect([
    match.view(brewer).brewery.walkers[brewer]?.to,
    match.view(next).brewery.walkers[brewer]?.to,
  ]).toEqual(['tun', undefined])
  wait(1)
  expect(barrel('tun', brewer)?.smell).toBeTypeOf('number')
  expect([next, 'spectator'].map((viewer) => barrel('tun', viewer)?.smell)).toEqual([undefined, undefined])
  expect(match.view('spectator').brewery.walkers[brewer]?.at).toBe('tun')
  const [line] = Object.values(match.view('spectator').brewery.slate)
  expect(line).toEqual({ seat: brewer, barrel: 'tun', since: 3000, stirs: 0 })
  walk(brewer, 'mash')
  expect(barrel('tun', brewer)?.smell).toBeUndefined()
})

test('a stir looks the same whichever way it goes: what others are sent is equal to the byte', () => {
  const [sweet, sour] = (['stir', 'sour'] as const).map((way) => {
    const { match, spoiler, next, wait, walk, stir, taste } = brewing(SEATS, { sours: 0 })
    walk(spoiler, 'tun')
    wait(3000)
    for (const viewer of [next, 'spectator']) match.addViewer(viewer)
    const before = taste('tun')
    expect(stir(spoiler, way)).toEqual({ ok: true })
    expect(stir(spoiler)).toMatchObject({ code: 'tired' })
    return { sent: match.flush(), by: taste('tun') - before }
  })
  expect(sour?.sent).toEqual(sweet?.sent)
  expect([sweet?.by, sour?.by]).toEqual([5, -5])
})

test('only a spoiler can sour, and anyone again after four seconds', () => {
  const { brewer, wait, walk, stir, taste } = brewing(SEATS, { sours: 0 })
  walk(brewer, 'tun')
  wait(3000)
  const before = taste('tun')
  expect([stir(brewer, 'sour'), stir(brewer)]).toMatchObject([{ code: 'not-yours' }, { ok: true }])
  wait(4000)
  expect(stir(brewer)).toEqual({ ok: true })
  expect(taste('tun')).toBe(before + 10)
})

test('malt lies at two of eight places; who brings a sack to a barrel doubles the next stir there', () => {
  const { match, brewer, next, wait, walk, stir, taste } = brewing(SEATS, { sours: 0 })
  const sack = maltPlaces.find((each) => match.state.brewery.malt.at.has(each)) ?? 'mill'
  walk(brewer, sack)
  wait(3000)
  expect(match.view(brewer).brewery.walkers[brewer]?.carries).toBe(true)
  expect(match.view(next).brewery.walkers[brewer]?.carries).toBeUndefined()
  expect(match.state.brewery.malt.at.size).toBe(2)
  for (const seat of [brewer, next]) walk(seat, 'cask')
  wait(3000)
  const before = taste('cask')
  stir(next)
  stir(brewer)
  expect(taste('cask')).toBe(before + 15)
})

test('at a strike play stands still and all choose in secret; a tie opens none; what is open counts as it is', () => {
  const { match, brewer, next, wait, walk, stir, barrel, vote } = brewing(SEATS, { sours: 0 })
  walk(brewer, 'tun')
  wait(minutes(1))
  expect(match.view('spectator').phases.now.frozen).toBe(true)
  expect(walk(next, 'tun')).toMatchObject({ code: 'frozen' })
  for (const [at, seat] of SEATS.entries()) vote(seat, at % 2 === 0 ? 'tun' : 'mash')
  expect(match.view(next).opening.votes[brewer]?.for).toBeUndefined()
  const as = barrel('tun')?.opened
  expect(['sweet', 'sour', 'neither']).toContain(as)
  expect([barrel('tun', 'spectator')?.opened, match.view('spectator').phases.now.frozen]).toEqual([as, false])
  expect(stir(brewer)).toMatchObject({ code: 'opened' })
  wait(minutes(1))
  expect(vote(brewer, 'tun')).toMatchObject({ code: 'no-such-candidate' })
  for (const [at, seat] of SEATS.slice(0, 6).entries()) vote(seat, at % 2 === 0 ? 'cask' : 'mash')
  match.submit('toad', 'opening.abstain', {})
  expect(match.view('spectator').opening.result).toMatchObject({ winners: [], why: 'tie', totals: {} })
})
