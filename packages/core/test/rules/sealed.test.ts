import fc from 'fast-check'
import { expect, test } from 'vitest'
import {
  choice,
  defineRule,
  defineRulebook,
  int,
  list,
  minutes,
  refuse,
  rowOf,
  seatRef,
  single,
} from 'zinc-referee'
import { mostAtTime, pilesOf, roster, rounds, scores, sealedOf, verdict } from 'zinc-referee/rules'
import { playMatch } from 'zinc-referee/testing'
import { moves } from '../fixtures/moves.ts'

const bid = sealedOf('bid', int())
const defaulted = sealedOf('bid', int(), { otherwise: 7 })
const drawn = sealedOf('bid', int(), { among: [1, 2, 3, 4, 5] })
const SEATS = ['otter', 'heron', 'vole', 'newt']

const auction = (question: typeof bid) =>
  defineRule({
    name: 'auction',
    needs: [question, roster],
    state: { sold: single({ to: list(seatRef()), for: int(0) }) },
    on: {
      'bid.revealed'(match) {
        const { seats, amount } = match.use(question).highest((offer) => offer)
        match.own.sold.to = seats
        match.own.sold.for = amount
      },
    },
    facts: {
      ask: {
        input: { seats: list(seatRef()) },
        handle: (match, { seats }) => match.use(question).open(seats),
      },
      out: {
        input: { seat: seatRef() },
        handle: (match, { seat }) => match.use(roster).sideline(seat, 'home'),
      },
    },
    amend: {
      // Nobody may bid more than is in the purse: ten.
      'bid.take': (_, { choice }) => (choice > 10 ? refuse('too-dear') : undefined),
    },
  })
const bookOf = (question: typeof bid) =>
  defineRulebook({
    name: 'auction',
    seats: { min: 2, max: 4 },
    rules: [
      rounds({ length: minutes(1) }),
      scores,
      verdict({ when: [mostAtTime] }),
      moves,
      question,
      auction(question),
    ],
  })

function asking(settings: object = {}, question: typeof bid = bid, asked: readonly string[] = SEATS) {
  const { match } = playMatch(bookOf(question), SEATS, { settings: { bid: settings } })
  match.report('auction.ask', { seats: [...asked] })
  return {
    match,
    at: (play: number) => match.advanceTo(3000 + play),
    choose: (seat: string, choice: number) => match.submit(seat, 'bid.choose', { choice }),
    revealed: (by = 'spectator') =>
      Object.fromEntries(
        Object.entries(match.view(by).bid.revealed).map(([seat, { choice }]) => [seat, choice]),
      ),
    isOpen: () => match.view('spectator').bid.question.open,
  }
}
const nobody = { otter: null, heron: null, vole: null, newt: null }

test('chosen in secret, revealed together when all have; that one has chosen is seen, what it is by its owner alone', () => {
  const { match, choose, revealed } = asking()
  for (const [at, seat] of SEATS.slice(0, 3).entries()) expect(choose(seat, at)).toEqual({ ok: true })
  const seen = match.view('heron').bid.seats
  expect([seen['otter']?.chosen, seen['otter']?.choice, seen['heron']?.choice]).toEqual([true, undefined, 1])
  expect(revealed()).toEqual(nobody)
  choose('newt', 9)
  expect(revealed()).toEqual({ otter: 0, heron: 1, vole: 2, newt: 9 })
  expect(match.state.bid.seats.of('otter').choice).toBeUndefined()
})

test('a row that was chosen is told at the reveal, and its name leads nobody to where it goes afterwards', () => {
  const cards = pilesOf('cards', choice('salt', 'silk'), { mat: 'table' })
  const pick = sealedOf('pick', rowOf(cards, 'cards'))
  const table = defineRule({
    name: 'table',
    needs: [cards, pick],
    setUp: (match) => match.use(cards).fill('mat', ['salt', 'silk', 'salt']),
    facts: {
      ask: { input: {}, handle: (match) => match.use(pick).open(match.seats) },
      shuffle: { input: {}, handle: (match) => match.use(cards).shuffle('mat') },
    },
  })
  const { match } = playMatch(
    defineRulebook({ name: 'pick', seats: { min: 1, max: 3 }, rules: [cards, pick, table] }),
    ['otter', 'heron'],
  )
  match.addViewer('heron')
  match.flush()
  match.report('table.ask', {})
  const ids = Object.keys(match.view('heron').cards.cards)
  for (const seat of ['otter', 'heron']) match.submit(seat, 'pick.choose', { choice: ids[0] ?? '' })
  const notices = match.flush().flatMap((update) => update.notices)
  const told = notices.filter(({ name }) => name === 'pick.choice-revealed')
  expect(told.map(({ cells }) => cells)).toEqual([
    { seat: 'otter', choice: ids[0] },
    { seat: 'heron', choice: ids[0] },
  ])
  match.report('table.shuffle', {})
  const view = match.view('heron')
  expect(Object.keys(view.cards.cards).some((id) => JSON.stringify(view.pick).includes(id))).toBe(false)
})

test('SE1: at the closing ms it is closed; what is missing is nothing, or the choice that stands for it', () => {
  const { at, choose, revealed } = asking({ time: 5000 })
  choose('otter', 3)
  at(5000)
  expect(choose('heron', 4)).toMatchObject({ code: 'sealed-closed' })
  expect(revealed()).toEqual({ ...nobody, otter: 3 })
  const other = asking({ time: 5000 }, defaulted)
  other.choose('otter', 3)
  other.at(5000)
  expect(other.revealed()).toEqual({ otter: 3, heron: 7, vole: 7, newt: 7 })
})

test('SE11: the highest choices, all of those that are level, and nobody for 0', () => {
  const { choose, match, at } = asking({ time: 5000 })
  choose('otter', 3)
  choose('vole', 5)
  choose('heron', 5)
  at(5000)
  expect(match.state.auction.sold).toMatchObject({ to: ['heron', 'vole'], for: 5 })
  match.report('auction.ask', { seats: [...SEATS] })
  choose('otter', 0)
  at(10_000)
  expect(match.state.auction.sold).toMatchObject({ to: [], for: 0 })
})

test('SE2: the last choice counts; where nothing changes, the first', () => {
  const { choose, match } = asking()
  choose('otter', 3)
  choose('otter', 5)
  expect(match.view('otter').bid.seats['otter']?.choice).toBe(5)
  match.submit('otter', 'bid.unchoose', {})
  expect(match.view('otter').bid.seats['otter']?.chosen).toBe(false)
  const fixed = asking({ changes: false })
  fixed.choose('otter', 3)
  expect(fixed.choose('otter', 5)).toMatchObject({ code: 'already-chosen' })
  expect(fixed.match.submit('otter', 'bid.unchoose', {})).toMatchObject({ code: 'already-chosen' })
})

test('SE3, SE5: absent seats are not awaited, but what they chose is kept; what a leaver chose is dropped, or kept', () => {
  const { match, choose, revealed, isOpen } = asking()
  choose('otter', 1)
  match.direct('roster.absent', { seat: 'otter' })
  match.direct('roster.absent', { seat: 'newt' })
  choose('heron', 2)
  expect(isOpen()).toBe(true)
  choose('vole', 3)
  expect([isOpen(), revealed()]).toEqual([false, { ...nobody, otter: 1, heron: 2, vole: 3 }])
  const leaving = (leaverChoice: string) => {
    const { match, choose, revealed } = asking({ leaverChoice })
    choose('otter', 1)
    match.submit('otter', 'roster.leave', {})
    for (const seat of SEATS.slice(1)) choose(seat, 2)
    return revealed()['otter']
  }
  expect([leaving('drop'), leaving('keep')]).toEqual([null, 1])
})

test('SE4: where nobody is asked, or all who are leave, it closes at once', () => {
  expect(asking({}, bid, []).isOpen()).toBe(false)
  const { match, isOpen } = asking({}, bid, ['otter', 'heron'])
  match.submit('otter', 'roster.leave', {})
  expect(isOpen()).toBe(true)
  match.report('auction.out', { seat: 'heron' })
  expect(isOpen()).toBe(false)
})

test('SE6: what is not legal is refused when it is chosen, and counts as missing if it has become so, told to its owner alone', () => {
  const { choose } = asking()
  expect(choose('otter', 11)).toMatchObject({ code: 'too-dear' })
  const purse = defineRule({
    name: 'purse',
    needs: [bid],
    state: {},
    facts: { dear: { input: {}, handle() {} } },
    amend: {
      'bid.take': (match, { choice }) =>
        match.time.play >= 1000 && choice > 5 ? refuse('too-dear') : undefined,
    },
  })
  const book = defineRulebook({
    name: 'auction',
    seats: { min: 2, max: 4 },
    rules: [bid, purse, auction(bid)],
  })
  const { match } = playMatch(book, SEATS, { settings: { bid: { time: 2000 } } })
  match.report('auction.ask', { seats: [...SEATS] })
  match.submit('otter', 'bid.choose', { choice: 9 })
  match.submit('heron', 'bid.choose', { choice: 4 })
  for (const viewer of ['otter', 'heron']) match.addViewer(viewer)
  match.flush()
  match.advanceTo(5000)
  const told = match.flush().map(({ viewer, notices }) => [viewer, notices.map(({ name }) => name)])
  expect(told).toEqual([
    ['otter', ['bid.no-longer-legal', 'bid.revealed']],
    ['heron', ['bid.revealed']],
  ])
  expect(match.view('heron').bid.revealed).toMatchObject({ otter: { choice: null }, heron: { choice: 4 } })
})

test('SE7: who joins later is not asked; nor is who was not', () => {
  const { match, choose } = asking({}, bid, ['otter', 'heron'])
  expect(choose('vole', 1)).toMatchObject({ code: 'not-asked' })
  expect(match.report('auction.ask', { seats: ['otter'] })).toMatchObject({ code: 'already-open' })
})

test('SE8: what is drawn for who has not chosen does not depend on who has', () => {
  const drawnFor = (choosers: readonly string[]) => {
    const { at, choose, revealed } = asking({ time: 1000 }, drawn)
    for (const seat of choosers) choose(seat, 9)
    at(1000)
    return revealed()['newt']
  }
  expect(new Set([[], ['otter'], ['otter', 'heron', 'vole']].map(drawnFor)).size).toBe(1)
})

test('at the end of a round it closes; at the verdict it is dropped', () => {
  const { match, choose, revealed, isOpen } = asking()
  choose('otter', 1)
  match.direct('phases.abandon', {})
  expect([isOpen(), revealed()]).toEqual([false, nobody])
  expect(match.state.bid.seats.of('otter').choice).toBeUndefined()
})

test('laws a, b: no outcome depends on the order of choices or on those that were changed, and before the reveal none is seen', () => {
  const amount = fc.integer({ min: 0, max: 10 })
  const move = fc.record({ seat: fc.constantFrom(...SEATS), choice: amount })
  fc.assert(
    fc.property(fc.array(move, { maxLength: 12 }), amount, amount, (list, one, other) => {
      const last = new Map(list.map(({ seat, choice }) => [seat, choice]))
      const play = (chosen: readonly (readonly [string, number])[]) => {
        const { at, choose, revealed } = asking({ time: 1000, closeWhenAll: false })
        for (const [seat, choice] of chosen) choose(seat, choice)
        at(1000)
        return revealed()
      }
      const straight = play([...last].sort(([a], [b]) => (a < b ? -1 : 1)))
      expect(play(list.map(({ seat, choice }) => [seat, choice] as const))).toEqual(straight)
      const sent = [one, other].map((secret) => {
        const { match, choose } = asking({ time: 1000, closeWhenAll: false })
        match.addViewer('heron')
        choose('otter', secret)
        for (const { seat, choice } of list) if (seat !== 'otter') choose(seat, choice)
        return JSON.stringify(match.flush())
      })
      expect(sent[0]).toBe(sent[1])
    }),
    { numRuns: 50 },
  )
})

test('SE10: what replaces a missing choice may come from other rules: here, what a seat has scored', () => {
  const byScore = sealedOf('bid', int(), {
    otherwiseBy: { needs: [scores], of: (match, seat) => match.use(scores).of(seat) || undefined },
  })
  const { match } = playMatch(bookOf(byScore), SEATS, { settings: { bid: { time: 500 } } })
  match.report('moves.earn', { seat: 'heron', amount: 4 })
  match.report('auction.ask', { seats: ['otter', 'heron', 'vole'] })
  match.submit('otter', 'bid.choose', { choice: 9 })
  match.report('moves.earn', { seat: 'heron', amount: 1 })
  match.advanceTo(match.now + 500)
  const { revealed } = match.view('spectator').bid
  expect(SEATS.map((seat) => revealed[seat]?.choice)).toEqual([9, 5, null, null])
})
