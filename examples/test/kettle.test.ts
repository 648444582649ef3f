import { kettleWatch, modes } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { type MatchFor, minutes } from 'zinc-referee'
import { playMatch, playToEnd } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole', 'newt', 'coot', 'toad']
type Kettle = MatchFor<typeof kettleWatch>
const EIGHT = { soonest: 8000, latest: 8000 }
const holder = (match: Kettle) => match.state.holds.now.holder.get('kettle') ?? ''

function watch(settings = {}, seats = SEATS, seed = 'fair-1') {
  const { match, replay } = playMatch(kettleWatch, seats, { settings: { kettle: settings }, seed })
  return {
    match,
    replay,
    at: (play: number) => match.advanceTo(3000 + play),
    cups: (seat: string) => match.state.scores.sums.of(seat).score,
    hand: (to: string, from = holder(match)) => match.submit(from, 'kettle.hand', { to }),
    take: (seat: string) => match.submit(seat, 'kettle.take', {}),
    /** The seat so many places on from the holder. */
    on: (places: number) =>
      seats[(seats.indexOf(holder(match)) + places + seats.length) % seats.length] ?? '',
    heat: (viewer: string, seat = holder(match)) => match.view(viewer).kettle.paws[seat]?.heat,
  }
}

test('twenty matches: every cup is counted, spilt, lost to a neighbour or lost at the end, and most cups win', () => {
  for (let game = 0; game < 20; game++) {
    const { match, replay, cups } = watch({}, SEATS, `game ${game}`)
    const crowd = modes['kettle-watch']?.demo.crowd?.(`game ${game}`)
    if (crowd === undefined) throw new Error('no crowd')
    match.addViewer('spectator')
    let [counted, spilt, boiled] = [0, 0, 0]
    playToEnd(match, crowd, minutes(5), () => {
      for (const { viewer, notices } of match.flush())
        for (const { name, cells } of viewer === 'spectator' ? notices : []) {
          if (name === 'kettle.counted') counted += Number(cells['cups'])
          if (name === 'kettle.boiled') [spilt, boiled] = [spilt + Number(cells['spilt']), boiled + 1]
        }
    })
    expect(SEATS.reduce((sum, seat) => sum + cups(seat), 0)).toBe(counted)
    expect(counted + spilt).toBeLessThanOrEqual(240)
    expect(boiled).toBeGreaterThanOrEqual(8)
    const { kind, winners, reason, at } = match.view('spectator').verdict.end
    expect([kind, winners.length, reason, at]).toEqual(['win', 1, 'most-cups', minutes(4)])
    expect(cups(winners[0] ?? '')).toBe(Math.max(...SEATS.map(cups)))
    expect(match.faults).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
})

test('cups count when the kettle is handed on, two at least, within reach and not back to the last two', () => {
  const { at, hand, cups, on, match } = watch({ soonest: 60_000, latest: 60_000 })
  const first = holder(match)
  at(1999)
  expect(hand(on(1))).toMatchObject({ code: 'fill-first' })
  at(5000)
  expect(hand(on(3))).toMatchObject({ code: 'too-far' })
  expect(match.submit(on(1), 'kettle.hand', { to: first })).toMatchObject({ code: 'not-holding' })
  expect(hand(on(1))).toEqual({ ok: true })
  expect(cups(first)).toBe(5)
  const second = holder(match)
  at(7000)
  expect(hand(first)).toMatchObject({ code: 'too-far' })
  hand(on(1))
  at(9000)
  expect(hand(first)).toMatchObject({ code: 'too-far' })
  expect(match.options(holder(match), 'kettle.hand').map(({ to }) => to)).not.toContain(second)
  hand(on(1))
  at(11_000)
  expect([cups(second), match.state.kettle.hands.before.length]).toEqual([2, 2])
})

test('a neighbour takes it once it has been held for three seconds: half of the cups count, rounded down', () => {
  const { at, take, cups, on, match } = watch({ soonest: 60_000, latest: 60_000 })
  const [first, beside, across] = [holder(match), on(-1), on(2)]
  at(2999)
  expect([take(beside), take(first)]).toMatchObject([{ code: 'too-firm' }, { code: 'too-far' }])
  at(5000)
  expect(take(across)).toMatchObject({ code: 'too-far' })
  expect([first, beside, across].map((seat) => match.options(seat, 'kettle.take').length)).toEqual([0, 1, 0])
  expect(take(beside)).toEqual({ ok: true })
  expect([holder(match), cups(first), cups(beside)]).toEqual([beside, 2, 0])
  expect(take(first)).toMatchObject({ code: 'too-firm' })
})

test('only the holder feels the heat, in fifths; nobody can tell when it boils over until it does', () => {
  const { at, heat, match } = watch({ soonest: 10_000, latest: 10_000 })
  const first = holder(match)
  const felt = [0, 1999, 2000, 6000, 9999].map((play) => {
    at(play)
    return heat(first)
  })
  expect(felt).toEqual([0, 0, 1, 3, 4])
  expect(
    [...SEATS.filter((seat) => seat !== first), 'spectator'].map((viewer) => heat(viewer, first)),
  ).toEqual(Array(6).fill(undefined))
  const sent = [9000, 20_000].map((latest) => {
    const { match: other } = watch({ soonest: latest, latest })
    const lines: string[] = []
    for (const viewer of [...SEATS, 'spectator']) if (viewer !== holder(other)) other.addViewer(viewer)
    for (let play = 0; play < 9000; play += 500) {
      other.advanceTo(3000 + play)
      lines.push(JSON.stringify(other.flush()))
    }
    return lines
  })
  expect(sent[0]).toEqual(sent[1])
})

test('when it boils over the cups are spilt, and it is cold with who has fewest, of these who has waited longest', () => {
  const { at, hand, cups, heat, match } = watch(EIGHT, ['otter', 'heron', 'vole'])
  const first = holder(match)
  at(3000)
  const [second = '', third = ''] = ['otter', 'heron', 'vole'].filter((seat) => seat !== first)
  hand(second)
  at(8000)
  expect([cups(first), cups(second), holder(match), heat(third)]).toEqual([3, 0, third, 0])
  at(16_000)
  expect(holder(match)).toBe(second) // it has as few cups, and the third has just had it
})

test('a pause holds the fire; who leaves leaves the kettle to another and loses the cups', () => {
  const { at, match, cups } = watch(EIGHT)
  const first = holder(match)
  at(7999)
  match.direct('phases.pause', {})
  match.advanceTo(60_000)
  expect(holder(match)).toBe(first)
  match.direct('phases.resume', {})
  match.submit(first, 'roster.leave', {})
  expect([first, '']).not.toContain(holder(match))
  expect(cups(first)).toBe(0)
})

test('settings that cannot be are refused where the match begins', () => {
  expect(() => watch({ soonest: 9000, latest: 8000 })).toThrow(/soonest/)
})
