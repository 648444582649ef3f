import { hotKettle, modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import type { MatchFor } from 'zinc-referee'
import { playMatch, playToEnd } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole', 'newt', 'coot', 'toad']
type Kettle = MatchFor<typeof hotKettle>
const open = (settings = {}, seats = SEATS) => playMatch(hotKettle, seats, { settings })
const holder = (match: Kettle) => match.state.holds.now.holder.get('kettle')

test('twenty games: each boiling takes one life, nobody hands it straight back within a second, the last with lives wins', () => {
  for (let game = 0; game < 20; game++) {
    const { match, replay } = playMatch(hotKettle, SEATS, { seed: `game ${game}` })
    const crowd = modes['hot-kettle']?.demo.crowd?.(`game ${game}`)
    if (crowd === undefined) throw new Error('no crowd')
    match.addViewer('spectator')
    let boiled = 0
    let last: { readonly from: unknown; readonly at: number } | undefined
    playToEnd(match, crowd, 20 * 60_000, () => {
      for (const { viewer, notices } of match.flush())
        for (const { name, cells, at } of viewer === 'spectator' ? notices : []) {
          if (name === 'kettle.boiled') boiled++
          if (name !== 'holds.passed' || cells['why'] !== 'passed') continue
          if (last !== undefined && last.from === cells['to'])
            expect(at - last.at).toBeGreaterThanOrEqual(1000)
          last = { from: cells['from'], at }
        }
      const lost = SEATS.map((seat) => 3 - (match.state.respawn.lives.of(seat).left ?? 0))
      expect(lost.reduce((sum, each) => sum + each, 0)).toBe(boiled)
    })
    const { kind, winners, reason } = match.view('spectator').verdict.end
    expect([kind, winners.length, reason]).toEqual(['win', 1, 'last-standing'])
    expect(SEATS.filter((seat) => !match.state.roster.seats.of(seat).sidelined)).toEqual(winners)
    const held = SEATS.map((seat) => match.state.holds.totals.of(seat).held.get('kettle') ?? 0)
    const nobody = match.state.holds.now.free.get('kettle') ?? 0
    expect(held.reduce((sum, ms) => sum + ms, nobody)).toBe(match.state.verdict.end.at)
    expect(match.faults).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
})

test('nobody can tell when it boils over: all that is sent is the same until it does', () => {
  const sent = [9000, 20_000].map((soonest) => {
    const { match } = open({ kettle: { soonest, latest: 20_000 } })
    for (const viewer of [...SEATS, 'spectator']) match.addViewer(viewer)
    const lines: string[] = []
    for (let second = 1; second < 9; second++) {
      match.advanceTo(3000 + second * 1000)
      const from = holder(match) ?? ''
      const [option] = match.options(from, 'kettle.pass')
      if (option !== undefined) match.submit(from, 'kettle.pass', option)
      lines.push(JSON.stringify(match.flush()))
    }
    return lines
  })
  expect(sent[0]).toEqual(sent[1])
})

test('it reaches two places round the ring, closed over those who are out; only the holder is offered anything', () => {
  const { match } = open()
  const from = holder(match) ?? ''
  const at = SEATS.indexOf(from)
  const across = SEATS[(at + 3) % 6] ?? ''
  expect(match.submit(from, 'kettle.pass', { to: across })).toMatchObject({ code: 'too-far' })
  expect(match.options(from, 'kettle.pass').length).toBe(4)
  for (const seat of SEATS.filter((each) => each !== from))
    expect(match.options(seat, 'kettle.pass')).toEqual([])
  match.submit(SEATS[(at + 1) % 6] ?? '', 'roster.leave', {})
  expect(match.submit(from, 'kettle.pass', { to: across })).toEqual({ ok: true })
})

test('whoever leaves with the kettle in hand leaves it to somebody else, and it boils over all the same', () => {
  const { match } = open({ kettle: { soonest: 8000, latest: 8000 } })
  const from = holder(match) ?? ''
  match.submit(from, 'roster.leave', {})
  const next = holder(match) ?? ''
  expect([from, '']).not.toContain(next)
  match.advanceTo(3000 + 8000)
  expect(match.state.respawn.lives.of(next).left).toBe(2)
  expect(holder(match)).toBeUndefined()
})

test('a pause holds the fire', () => {
  const { match } = open({ kettle: { soonest: 8000, latest: 8000 } })
  match.advanceTo(3000 + 7999)
  match.direct('phases.pause', {})
  match.advanceTo(60_000)
  expect(holder(match)).toBeDefined()
  match.direct('phases.resume', {})
  match.advanceTo(60_001)
  expect(holder(match)).toBeUndefined()
})

test('settings that cannot be are refused where the match begins', () => {
  expect(() => open({ kettle: { soonest: 9000, latest: 8000 } })).toThrow(/soonest/)
})
