import { lanternMarket, spoiledBrew } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import type { Ruling } from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'

interface Watched {
  hash(): string
  flush(): readonly unknown[]
  addViewer(viewer: string): unknown
  readonly seats: readonly string[]
}
/** Refused with this code, and nothing has changed nor was anybody told anything. */
function expectRefused(match: Watched, code: string, act: () => Ruling): void {
  match.flush()
  const before = match.hash()
  expect(act()).toMatchObject({ ok: false, code })
  expect([match.hash(), match.flush()]).toEqual([before, []])
}
const watched = <M extends Watched>(match: M): M => {
  for (const viewer of [...match.seats, 'spectator', 'server']) match.addViewer(viewer)
  return match
}
const market = (seed = 'fair-1') =>
  watched(playMatch(lanternMarket, ['otter', 'heron', 'vole'], { seed }).match)

test('out of turn, in another step, too late, with what is not in the hand: each its own code, and nothing else', () => {
  const match = market()
  const [lantern] = match.state.market.lanterns.all()
  const { turn } = match.view('otter').turns.now
  expectRefused(match, 'not-your-turn', () => match.submit('heron', 'market.wish', {}))
  expectRefused(match, 'wrong-step', () =>
    match.submit('otter', 'market.hang', { lantern: lantern?.id ?? '', quay: 'mill', hook: 3 }),
  )
  const held = match.state.wicks.cards.where({ holder: 'otter' }).map(({ face }) => face)
  const missing = (['amber', 'rose', 'jade', 'ink'] as const).find((each) => !held.includes(each)) ?? 'ink'
  expectRefused(match, 'not-in-hand', () =>
    match.submit('otter', 'market.dip', { dipped: [missing], burnt: [missing] }),
  )
  expect(match.submit('otter', 'market.wish', {}, { turn }).ok).toBe(true)
  for (const seat of ['heron', 'vole']) match.submit(seat, 'turns.pass', {})
  expect(match.view('otter').turns.now.seat).toBe('otter')
  expectRefused(match, 'stale-turn', () => match.submit('otter', 'market.wish', {}, { turn }))
})

test('a card of another match, one that lies hidden in the deck and one that never was are answered alike', () => {
  const [match, other] = [market(), market('fair-2')]
  const hidden = match.state.wicks.cards.where({ place: 'deck' })[0]?.id ?? ''
  const foreign = other.state.wicks.cards.where({ place: 'crates' })[0]?.id ?? ''
  const rulings = [hidden, foreign, 'zzzzzz'].map((id) => {
    expectRefused(match, 'no-such-target', () => match.submit('otter', 'market.fetch', { wicks: [id] }))
    return JSON.stringify(match.submit('otter', 'market.fetch', { wicks: [id] })).replaceAll(id, 'ID')
  })
  expect(new Set(rulings).size).toBe(1)
})

test('votes: for one candidate twice, a second time where it cannot be changed, and after it has closed', () => {
  const seats = ['otter', 'heron', 'vole', 'newt', 'coot']
  const settings = { opening: { changes: false, pick: 2 } }
  const match = watched(playMatch(spoiledBrew, seats, { settings }).match)
  const vote = (...names: string[]) => match.submit('otter', 'opening.vote', { for: names })
  expectRefused(match, 'ballot-closed', () => vote('tun'))
  match.advanceTo(match.now + 60_000)
  expectRefused(match, 'bad-input', () => vote('tun', 'tun'))
  expectRefused(match, 'no-such-candidate', () => vote('pike'))
  expect(vote('tun').ok).toBe(true)
  expectRefused(match, 'already-voted', () => vote('mash'))
  match.advanceTo(match.now + 20_000)
  expectRefused(match, 'ballot-closed', () => vote('mash'))
})
