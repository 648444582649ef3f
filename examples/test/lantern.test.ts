import { lanternMarket } from '@zinc-referee/examples'
import { expect, test } from 'vitest'
import { type AnyMatch, type Chance, chanceFrom, type MatchFor } from 'zinc-referee'
import { playMatch } from 'zinc-referee/testing'

type Market = MatchFor<typeof lanternMarket>
const SEATS = ['otter', 'heron', 'vole', 'newt', 'coot', 'toad']
const EXPANSIONS = ['fog', 'tolls', 'moths', 'night-boats', 'guild-marks', 'wind'] as const
type Expansions = readonly (typeof EXPANSIONS)[number][]
const begin = (options: Expansions = [], count = 3, seed = 'fair-1') =>
  playMatch(lanternMarket, SEATS.slice(0, count), { seed, with: options })

/** A match whose actions are asked for by any name. */
const anyAction = (match: Market): AnyMatch => match as object as AnyMatch
/** The first of these actions that has options, and one of them. */
function anyOption(match: Market, seat: string, among: readonly string[], chance: Chance) {
  for (const name of among) {
    const input = chance.pick(anyAction(match).options(seat, name))
    if (input !== undefined) return { name, input }
  }
  return { name: 'turns.pass', input: {} }
}
const listed = (match: Market) =>
  match
    .describe()
    .rules.flatMap(({ actions }) =>
      actions.flatMap(({ name, offered, offers }) => (offered || offers ? [name] : [])),
    )
    .filter((name) => !/^(roster|verdict)\./.test(name))

/** Anything that is offered, whatever comes of it. Returns what it was. */
function playOn(match: Market, chance: Chance, names: readonly string[]): string {
  if (match.state.lampBid.question.open)
    for (const seat of match.seats) {
      const most = match.state.wicks.hands.of(seat).count
      expect(match.submit(seat, 'lampBid.choose', { choice: most + 1 })).toMatchObject({
        code: 'too-few-wicks',
      })
      expect(match.submit(seat, 'lampBid.choose', { choice: chance.int(0, most) })).toEqual({ ok: true })
    }
  else {
    const seat = match.state.turns.now.seat ?? ''
    const chosen = anyOption(match, seat, chance.shuffle(names), chance)
    expect(anyAction(match).submit(seat, chosen.name, Object(chosen.input))).toEqual({ ok: true })
    return chosen.name
  }
  return 'lampBid.choose'
}

/** The seats whose guild's mark is met by the lanterns that they have. */
function whoMeetTheirs(match: Market): readonly string[] {
  const marks: AnyMatch['state'][string] = anyAction(match).state['guild-marks'] ?? {}
  return match.seats.filter((seat) => {
    const own = match.state.market.lanterns.where({ holder: seat })
    const hung = ['mill', 'alder', 'ferry'].map((at) => own.filter(({ quay }) => quay === at).length)
    const isMet: { readonly [mark: string]: boolean } = {
      'every-quay': Math.min(...hung) > 0,
      'one-quay': Math.max(...hung) > 2,
      'four-colours': new Set(own.map(({ colour }) => colour)).size === 4,
      'full-shelf': own.filter(({ on }) => on === 'shelf').length > 2,
    }
    return isMet[Object(marks['marks']).of(seat).mark]
  })
}

test('all 64 combinations of expansions: what is offered is accepted, nobody is ever stuck, each ends with the market closed and replays', () => {
  const done = new Set<string>()
  for (let set = 0; set < 2 ** EXPANSIONS.length; set++) {
    const options = EXPANSIONS.filter((_, at) => (set >> at) % 2 === 1)
    const { match, replay } = begin(options, 2 + (set % 5), `market ${set}`)
    const chance = chanceFrom(`market ${set}`, 'moves')
    const names = listed(match)
    let moves = 0
    for (; match.state.phases.now.phase === 'live' && moves < 2000; moves++)
      done.add(playOn(match, chance, names))
    expect([options, match.state.verdict.end.reason]).toEqual([options, 'market-closed'])
    expect(match.state.market.market.bells).toBe(3)
    const marked = match.state.scores.ledger.all().filter(({ reason }) => reason === 'guild-mark')
    expect(marked.map(({ to }) => to)).toEqual(options.includes('guild-marks') ? whoMeetTheirs(match) : [])
    expect(match.faults).toEqual([])
    expect(replay().differs).toBeUndefined()
  }
  expect([...done].sort()).toEqual(
    'lampBid.choose market.dip market.fetch market.hang market.shelve market.wish moths.letFly moths.lure night-boats.row tolls.keep'.split(
      ' ',
    ),
  )
})

test('a round in which all pass turns the deck to its next bell; level bids give the lamp to nobody', () => {
  const { match } = begin()
  let rounds = 0
  for (; !match.state.lampBid.question.open && rounds < 3; rounds++) {
    for (let n = 0; n < 3; n++) match.submit(match.state.turns.now.seat ?? '', 'turns.pass', {})
    expect(match.state.market.market.bells).toBeGreaterThan(rounds) // one may have been drawn besides
  }
  expect([match.state.market.market.bells, match.state.lampBid.question.open]).toEqual([3, true])
  for (const [seat, choice] of [
    ['otter', 2],
    ['heron', 2],
    ['vole', 0],
  ] as const)
    match.submit(seat, 'lampBid.choose', { choice })
  expect(match.state.scores.ledger.all().filter(({ reason }) => reason === 'harbour-lamp')).toEqual([])
  expect(match.state.wicks.hands.of('otter').count).toBe(4)
  expect(match.state.verdict.end.reason).toBe('market-closed')
})

test('who makes no bid within a minute bids nothing', () => {
  const { match } = begin()
  while (!match.state.lampBid.question.open) match.submit(match.state.turns.now.seat ?? '', 'turns.pass', {})
  match.advanceTo(match.now + 59_999)
  expect(match.state.lampBid.question.open).toBe(true)
  match.advanceTo(match.now + 1)
  expect([match.state.lampBid.question.open, match.state.verdict.end.reason]).toEqual([
    false,
    'market-closed',
  ])
})

test('at the end each quay pays a seat for its longest run without two equal neighbours; only the best bid burns', () => {
  for (let n = 0; n < 6; n++) {
    const { match } = begin([], 3, `runs ${n}`)
    const chance = chanceFrom(`runs ${n}`, 'moves')
    const names = ['market.fetch', 'market.dip', 'market.wish', 'market.hang']
    const hands = new Map<string, number>()
    while (match.state.phases.now.phase === 'live') {
      for (const seat of match.seats) hands.set(seat, match.state.wicks.hands.of(seat).count)
      playOn(match, chance, names)
    }
    const lanterns = match.state.market.lanterns.all()
    for (const at of ['mill', 'alder', 'ferry'] as const)
      for (const seat of match.seats) {
        const own = [1, 2, 3, 4, 5, 6, 7].map(
          (hook) =>
            lanterns.find((each) => each.quay === at && each.hook === hook && each.holder === seat)?.colour,
        )
        const runs = own.map((_, from) => {
          let to = from
          while (own[to] !== undefined && (to === from || own[to] !== own[to - 1])) to++
          return to - from
        })
        const paid = match.state.scores.ledger
          .all()
          .filter(({ to, reason }) => to === seat && reason === `run-${at}`)
        expect(paid.reduce((sum, { amount }) => sum + amount, 0)).toBe(Math.max(...runs))
      }
    const spent = match.seats.filter(
      (seat) => match.state.wicks.hands.of(seat).count < (hands.get(seat) ?? 0),
    )
    const lamp = match.state.scores.ledger.all().filter(({ reason }) => reason === 'harbour-lamp')
    expect(lamp.map(({ to, amount }) => [to, amount])).toEqual(spent.map((seat) => [seat, 4]))
  }
})

test('a dip that answers a wish grants it for all to see, and gives another action', () => {
  const faces = (colours: readonly string[]): string => [...colours].sort().join()
  let answered = 0
  for (let n = 0; n < 12; n++) {
    const { match } = begin([], 2, `wishes ${n}`)
    const chance = chanceFrom(`wishes ${n}`, 'moves')
    while (match.state.phases.now.phase === 'live' && !match.state.lampBid.question.open) {
      const seat = match.state.turns.now.seat ?? ''
      const wished = match.state.wishes.cards.where({ holder: seat }).map(({ face }) => faces(face))
      const answer = match.options(seat, 'market.dip').find(({ dipped }) => wished.includes(faces(dipped)))
      if (answer === undefined) {
        playOn(match, chance, ['market.wish', 'market.fetch', 'market.hang', 'market.shelve'])
        continue
      }
      expect(match.submit(seat, 'market.dip', answer)).toEqual({ ok: true })
      answered++
      const open = Object.values(match.view('spectator').wishes.cards).map(({ face }) => faces(Object(face)))
      expect(open).toContain(faces(answer.dipped))
      expect(match.state.turns.seats.of(seat).budget).toBe(1)
    }
  }
  expect(answered).toBeGreaterThan(3)
})

test('what is not offered is refused, be it a dip or a hook', () => {
  const { match } = begin(EXPANSIONS, 3)
  const chance = chanceFrom('not offered', 'moves')
  const names = listed(match)
  const colours = ['amber', 'rose', 'jade', 'ink'] as const // in the order in which they are offered
  const some = (most: number) =>
    Array.from({ length: chance.int(0, most) }, () => chance.pick(colours) ?? 'ink').sort(
      (a, b) => colours.indexOf(a) - colours.indexOf(b),
    )
  const same = (one: object) => (other: object) => JSON.stringify(one) === JSON.stringify(other)
  const told = { refused: 0, accepted: 0 }
  while (match.state.phases.now.phase === 'live' && !match.state.lampBid.question.open) {
    const seat = match.state.turns.now.seat ?? ''
    const [lantern = ''] =
      Object.entries(match.view(seat).market.lanterns).findLast(([, row]) => row.on === 'bench') ?? []
    for (const quay of ['mill', 'alder', 'ferry'] as const) {
      const hang = { lantern, quay, hook: chance.int(1, 7) }
      const isOffered = match.options(seat, 'market.hang').some(same(hang))
      expect(match.submit(seat, 'market.hang', hang).ok).toBe(isOffered)
      told[isOffered ? 'accepted' : 'refused'] += 1
    }
    for (let tries = 0; tries < 8; tries++) {
      const dip = { dipped: some(2), burnt: some(3) }
      const isOffered = match.options(seat, 'market.dip').some(same(dip))
      expect(match.submit(seat, 'market.dip', dip).ok).toBe(isOffered)
      told[isOffered ? 'accepted' : 'refused'] += 1
    }
    if (match.state.turns.now.seat === seat) playOn(match, chance, names)
  }
  expect(match.faults).toEqual([])
  expect(told.refused).toBeGreaterThan(100)
  expect(told.accepted).toBeGreaterThan(3)
})

test('the expansions: a toll, a moth that halves, fog that lifts, a boat, a mark only its owner sees, the wind', () => {
  const { match } = begin(EXPANSIONS, 2)
  const [first = '', second = ''] = match.seats
  expect(Object.keys(match.view(second)['guild-marks']?.marks ?? {})).toEqual([second])
  expect(Object.values(match.view(first).fog?.quays ?? {}).map((row) => row?.more)).toEqual([
    undefined,
    undefined,
    undefined,
  ])
  expect(match.submit(first, 'tolls.keep', {})).toEqual({ ok: true })
  expect(match.submit(second, 'market.wish', {})).toMatchObject({ code: 'gate-shut' })
  const prices = new Set(
    match.options(second, 'market.dip').map(({ dipped, burnt }) => burnt.length - dipped.length),
  )
  expect([...prices]).toEqual([1])
  expect(match.submit(second, 'moths.letFly', {})).toMatchObject({ code: 'no-moth' })
  const dip = match.options(second, 'market.dip')[0] ?? { dipped: [], burnt: [] }
  expect(match.submit(second, 'market.dip', dip)).toEqual({ ok: true })
  expect(match.state.scores.sums.of(first).score).toBe(1)
  expect(
    match.submit(second, 'market.hang', { ...lanternOf(match, second), quay: 'mill', hook: 1 }),
  ).toMatchObject({
    code: 'nothing-beside',
  })
  expect(match.submit(second, 'market.shelve', lanternOf(match, second))).toEqual({ ok: true })
  expect(match.state.turns.now.step).toBe('boats')
  expect(
    match.submit(second, 'night-boats.row', { ...lanternOf(match, second), quay: 'mill', hook: 1 }),
  ).toEqual({ ok: true })
  const known = Object.values(match.view(first).fog?.quays ?? {}).flatMap((row) =>
    row?.more === undefined ? [] : [row.quay],
  )
  expect(known).toEqual(['mill'])
  // Second has fewer points: the wind lets it begin.
  expect(match.state.turns.now.seat).toBe(second)
  match.submit(second, 'moths.lure', {})
  expect(match.state.moths?.swarm.of(second).sitting).toBe(1)
  match.submit(first, 'turns.pass', {})
  match.submit(second, 'moths.letFly', {})
  const halved = match.options(second, 'market.dip').map(({ dipped, burnt }) => [dipped.length, burnt.length])
  expect(halved.every(([dipped = 0, burnt]) => burnt === Math.max(1, Math.floor(dipped / 2)))).toBe(true)
  // It has flown once it has halved a price.
  const flying = () => match.state.moths?.swarm.of(second).flying
  expect(flying()).toBe(true)
  expect(match.submit(second, 'market.dip', match.options(second, 'market.dip')[0] ?? dip)).toEqual({
    ok: true,
  })
  expect([flying(), match.state.moths?.swarm.of(second).sitting]).toEqual([false, 0])
})

const lanternOf = (match: Market, seat: string) => ({
  lantern:
    match.state.market.lanterns.all().find(({ holder, on }) => holder === seat && on !== 'quay')?.id ?? '',
})
