import { modes, musselDip } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { playMatch, playToEnd } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'newt']
const open = (settings = {}) => playMatch(musselDip, SEATS, { settings })
type Dip = ReturnType<typeof open>['match']
const at = (match: Dip, place: number) => match.state.dip.mussels.where({ place })[0]
const shown = (match: Dip, viewer: string, place: number) =>
  Object.values(match.view(viewer).dip.mussels).find((mussel) => mussel.place === place)

test('a peek shows a kind to one seat for 3 s, a lift to all for 2 s, and nobody else ever', () => {
  const { match } = open()
  const kind = at(match, 7)?.kind
  match.submit('otter', 'dip.peek', { place: 7 })
  expect([shown(match, 'otter', 7)?.kind, shown(match, 'heron', 7)?.kind]).toEqual([kind, undefined])
  match.advanceTo(match.now + 2999)
  expect(shown(match, 'otter', 7)?.kind).toBe(kind)
  match.advanceTo(match.now + 1)
  expect(shown(match, 'otter', 7)).toEqual({ place: 7 })

  const wishes = match.state.dip.lists.of('heron').wishes
  const unwished = match.state.dip.mussels.all().find((mussel) => !wishes.includes(mussel.kind))
  match.submit('heron', 'dip.lift', { place: unwished?.place ?? 0 })
  for (const viewer of [...SEATS, 'spectator'])
    expect(shown(match, viewer, unwished?.place ?? 0)?.kind).toBe(unwished?.kind)
  match.advanceTo(match.now + 2000)
  expect(shown(match, 'spectator', unwished?.place ?? 0)).toEqual({ place: unwished?.place })
})

test('at the tide all name two places in secret, but who lifted a wrong one; swaps go in seat order, and nobody can follow', () => {
  const { match } = open()
  const wrong = (seat: string) => {
    const { wishes } = match.state.dip.lists.of(seat)
    return match.state.dip.mussels.all().find(({ kind, open }) => !open && !wishes.includes(kind))?.place ?? 0
  }
  const first = match.state.turns.now.seat ?? ''
  match.submit(first, 'dip.lift', { place: wrong(first) })
  expect(match.view('spectator').dip.lists[first]?.silent).toBe(true)
  for (let turn = 0; !match.state.naming.question.open; turn++)
    match.submit(match.state.turns.now.seat ?? '', 'dip.peek', { place: 1 + (turn % 24) })
  const [second = '', third = ''] = SEATS.filter((seat) => seat !== first)
  const name = (seat: string, ...choice: number[]) => match.submit(seat, 'naming.choose', { choice })
  expect(match.submit(second, 'dip.peek', { place: 9 })).toMatchObject({ code: 'not-now' })
  expect(name(first, 1, 2)).toMatchObject({ code: 'not-asked' })
  expect(name(second, 3, 3)).toMatchObject({ code: 'one-place' })
  match.advanceTo(match.now + 19_000) // the turn clock is held
  const kinds = new Map([3, 4, 9].map((place) => [place, at(match, place)?.kind]))
  const lying = () => JSON.stringify(match.view('spectator').dip.mussels)
  const before = lying()
  name(second, 3, 4)
  expect(match.view('spectator').naming.seats[second]).toEqual({ asked: true, chosen: true })
  name(third, 4, 9)
  expect(match.state.naming.question.open).toBe(false)
  const now = [3, 4, 9].map((place) => at(match, place)?.kind)
  expect(now).toEqual([kinds.get(4), kinds.get(9), kinds.get(3)])
  expect(lying()).toBe(before)
  expect(Object.values(match.view('spectator').naming.revealed).map(({ choice }) => choice)).toEqual([
    null,
    null,
    null,
  ])
  expect(match.view('spectator').dip.lists[first]?.silent).toBe(false)
  expect(match.submit(match.state.turns.now.seat ?? '', 'dip.lift', { place: 20 }).ok).toBe(true)
})

test('another seat’s peek tells a seat the place and not a byte of what lies there', () => {
  const sent = (peeked: number, kind: string): string => {
    const { match } = open()
    expect(at(match, peeked)?.kind).toBe(kind)
    const { view } = match.addViewer('newt')
    match.submit('otter', 'dip.peek', { place: peeked })
    return view + JSON.stringify(match.flush()).replaceAll(`"place":${peeked}}`, '"place":0}')
  }
  const { match } = open()
  const [one, other] = [11, 13].map((place) => ({ place, kind: at(match, place)?.kind ?? '' }))
  if (one === undefined || other === undefined) throw new Error('no mussels')
  expect(one.kind).not.toBe(other.kind)
  expect(sent(one.place, one.kind)).toBe(sent(other.place, other.kind))
})

test('many games of the crowd end with a list that is filled, without a fault, and replay', () => {
  for (let game = 0; game < 12; game++) {
    const { match, replay } = playMatch(musselDip, SEATS, { seed: `game ${game}` })
    const crowd = modes['mussel-dip']?.demo.crowd?.(`game ${game}`)
    if (crowd === undefined) throw new Error('the mode has no crowd')
    expect(playToEnd(match, crowd, 60 * 60_000)).toBe(true)
    const { reason, winners } = match.state.verdict.end
    expect(reason).toBe('list-filled')
    for (const winner of winners) {
      const { wishes, found } = match.state.dip.lists.of(winner)
      for (const wish of wishes) expect(found.filter((each) => each === wish)).toHaveLength(2)
    }
    // What was sought, and what lies where, is for all to see now.
    match.advanceTo(match.now + 10_000)
    const { lists, mussels } = match.view('spectator').dip
    expect(Object.values(lists).map(({ wishes }) => wishes?.length)).toEqual([2, 2, 2])
    expect(Object.values(mussels).filter(({ kind }) => kind === undefined)).toEqual([])
    expect(match.faults).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
})
