import { modes, spoiledBrew } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import type { MatchFor } from 'zinc-referee'
import { playMatch, playToEnd } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole', 'newt', 'coot', 'moth', 'toad']
type Brew = MatchFor<typeof spoiledBrew>
const open = (seed = 'fair-1', seats: readonly string[] = SEATS) => playMatch(spoiledBrew, seats, { seed })
const holders = (match: Brew, role: 'brewer' | 'spoiler') =>
  match.seats.filter((seat) => match.state.roles.seats.of(seat).role === role)
const barrelOf = (match: Brew, nth = 0) => match.state.brewery.barrels.all()[nth]?.id ?? ''
/** The first barrel as a viewer sees it. */
const seenBy = (match: Brew, viewer: string) =>
  Object.values(match.view(viewer).brewery.barrels).find(
    ({ name }) => name === match.state.brewery.barrels.all()[0]?.name,
  )

test('twenty games: every way to end is met, winners are one camp, spoilers know each other and nobody else knows them, and all replay', () => {
  const reasons = new Set<string>()
  for (let game = 0; game < 20; game++) {
    const { match, replay } = open(`game ${game}`, SEATS.slice(0, 5 + (game % 3)))
    const crowd = modes['spoiled-brew']?.demo.crowd?.(`game ${game}`)
    if (crowd === undefined) throw new Error('no crowd')
    const spoilers = holders(match, 'spoiler')
    expect(spoilers.length).toBe(match.seats.length < 7 ? 1 : 2)
    for (const seat of match.seats) {
      const known = Object.keys(match.view(seat).roles.seats)
      expect(known).toEqual(spoilers.includes(seat) ? spoilers : [seat])
    }
    expect(playToEnd(match, crowd, 20 * 60_000)).toBe(true)
    const { kind, winners, reason } = match.view('spectator').verdict.end
    reasons.add(reason)
    expect(kind).toBe('win')
    const won = new Set(winners.map((seat) => match.state.roles.seats.of(seat).role))
    expect(won.size).toBe(1)
    expect(match.faults).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
  expect([...reasons].sort()).toEqual(['all-done', 'parity', 'time-up'])
})

test('a spoiler tampers, after its wait; a brewer cannot, and is refused as for anything that is not there', () => {
  const { match } = open()
  const [spoiler = '', other = ''] = holders(match, 'spoiler')
  const [brewer = ''] = holders(match, 'brewer')
  const tamper = (seat: string, nth = 0) =>
    match.submit(seat, 'brewery.tamper', { barrel: barrelOf(match, nth) })
  expect(tamper(spoiler)).toMatchObject({ code: 'too-soon' })
  match.advanceTo(33_000)
  expect(tamper(brewer)).toEqual({ ok: false, code: 'not-yours' })
  expect(tamper(spoiler)).toEqual({ ok: true })
  expect(tamper(other)).toMatchObject({ code: 'tampered-already' })
  const tampered = (viewer: string) => seenBy(match, viewer)?.tampered
  expect([tampered(other), tampered(brewer), tampered('spectator')]).toEqual([true, undefined, undefined])
  match.advanceTo(53_000)
  expect(seenBy(match, brewer)?.sour).toBe(true)
  expect(match.submit(brewer, 'brewery.rinse', { barrel: barrelOf(match) })).toEqual({ ok: true })
})

test('what a spoiler fills is a pretence: the same rulings, and nothing that anybody else is sent', () => {
  const { match } = open()
  const [spoiler = ''] = holders(match, 'spoiler')
  const [brewer = ''] = holders(match, 'brewer')
  for (const viewer of [spoiler, brewer, 'spectator']) match.addViewer(viewer)
  match.flush()
  const [option] = match.options(spoiler, 'brewery.fill')
  expect(match.submit(spoiler, 'brewery.fill', Object(option))).toEqual({ ok: true })
  expect(match.flush().map(({ viewer }) => viewer)).toEqual([spoiler])
  expect(match.state.errands.total.done).toBe(0)
})

test('a tasting: nobody works meanwhile, votes are secret, a tie sends nobody home, and each calls one only', () => {
  const { match } = open()
  expect(match.submit('otter', 'brewery.call', {})).toEqual({ ok: true })
  const [option] = match.options('heron', 'brewery.fill')
  expect(option).toBeUndefined()
  const vote = (seat: string, other: string) => match.submit(seat, 'tasting.vote', { for: [other] })
  vote('otter', 'heron')
  expect(match.view('vole').tasting.votes['otter']).toMatchObject({ voted: true })
  expect(match.view('vole').tasting.votes['otter']?.for).toBeUndefined()
  for (const [seat, other] of [
    ['heron', 'otter'],
    ['vole', 'otter'],
    ['newt', 'heron'],
  ] as const)
    vote(seat, other)
  for (const seat of ['coot', 'moth', 'toad']) match.submit(seat, 'tasting.abstain', {})
  expect([match.view('otter').tasting.result.why, match.view('otter').phases.now.frozen]).toEqual([
    'tie',
    false,
  ])
  expect(match.submit('otter', 'brewery.call', {})).toMatchObject({ code: 'called-already' })
  match.submit('heron', 'brewery.call', {})
  for (const seat of SEATS) vote(seat, 'toad')
  expect(match.view('otter').roster.seats['toad']?.sidelined).toBe(true)
  expect(match.view('otter').roles.seats['toad']?.role).toBe(match.state.roles.seats.of('toad').role)
})

test('who leaves in a tasting is no candidate; whoever had voted for it has abstained, and nobody can tell who did', () => {
  const { match } = open()
  match.submit('otter', 'brewery.call', {})
  for (const seat of SEATS.slice(0, 6)) match.submit(seat, 'tasting.vote', { for: ['toad'] })
  match.submit('toad', 'roster.leave', {})
  expect(match.view('otter').tasting.ballot).toMatchObject({ open: false, candidates: SEATS.slice(0, 6) })
  expect(match.view('otter').tasting.result).toMatchObject({ winners: [], why: 'no-votes' })
})
