import { expect, test } from 'vitest'
import { everyone, int, nobody, refuse, text } from 'zinc-referee'
import { auditPart, joinAudits } from 'zinc-referee/testing'
import { auditOf, crowd, SEATS, type Stall, stallWith } from './fixtures/shell-stall.ts'

const hand = (match: any, seat: string) =>
  match.own.shells.where({ place: 'hand' }).filter(({ holder }: any) => holder === seat)
const others = (match: any, seat: string) =>
  match.own.shells.where({ place: 'hand' }).filter(({ holder }: any) => holder !== seat)
const isAmber = (shell: any): boolean => shell?.face === 'amber'
const onlyGuess = (decide: (match: any, seat: string) => unknown) => ({ guess: { input: {}, decide } })

/** Each leak alone in a stall that keeps its secrets otherwise. */
const leaks: readonly Stall[] = [
  {
    name: 'the face of a drawn shell in a cell for all',
    drawn(match, _, shell) {
      match.own.stand.last = shell.face
    },
  },
  {
    name: 'the number of a drawn shell in a cell for all',
    drawn(match, _, shell) {
      match.own.stand.shown = shell.number
    },
  },
  {
    name: 'a count that grows with one face',
    drawn(match, seat, shell) {
      match.own.hands.of(seat).shown += isAmber(shell) ? 1 : 0
    },
  },
  {
    name: 'the face in a notice',
    drawn: (match, seat, shell) => match.emit('drew', { seat, face: shell.face }),
  },
  {
    name: 'a notice that is sent or not',
    drawn(match, _, shell) {
      isAmber(shell) && match.emit('rumour', { what: 'something' })
    },
  },
  {
    name: 'how many notices are sent',
    drawn(match, _, shell) {
      for (let n = 0; n < (isAmber(shell) ? 2 : 1); n++) match.emit('rumour', { what: 'something' })
    },
  },
  {
    name: 'a word of a notice',
    drawn: (match, _, shell) => match.emit('rumour', { what: isAmber(shell) ? 'warm' : 'cold' }),
  },
  {
    name: 'a notice with a value drawn in that step',
    drawn: (match, seat) => match.emit('drew', { seat, roll: match.chance('dice').int(1, 6) }),
  },
  {
    name: 'when a timer that all see is due',
    drawn: (match, _, shell) => match.timers.start('hint', { in: isAmber(shell) ? 60_000 : 70_000 }),
  },
  {
    name: 'the key of a timer that all see',
    drawn: (match, _, shell) => match.timers.start('hint', { in: 60_000, key: shell.face }),
  },
  {
    name: 'when a timer fires that nobody sees',
    drawn: (match, _, shell) => match.timers.start('hush', { in: isAmber(shell) ? 400 : 800, key: 'time' }),
  },
  {
    name: 'whether a timer fires that nobody sees',
    drawn(match, _, shell) {
      isAmber(shell) && match.timers.start('hush', { in: 700, key: 'time' })
    },
  },
  {
    name: 'a code of a refusal',
    actions: onlyGuess((match, seat) => refuse(isAmber(others(match, seat)[0]) ? 'warm' : 'cold')),
  },
  {
    name: 'a detail of a refusal',
    actions: onlyGuess((match, seat) =>
      refuse('cold', { ambers: others(match, seat).filter(isAmber).length }),
    ),
  },
  {
    name: 'whether an action is refused',
    actions: onlyGuess((match, seat) => (isAmber(others(match, seat)[0]) ? refuse('cold') : undefined)),
  },
  {
    name: 'the draft of another rule that is refused',
    actions: {
      offer: {
        input: {},
        decide: (match: any, seat: string) =>
          match.resolve('trade', { seat, with: match.seats.find((each: string) => each !== seat) }),
      },
    },
    amend: {
      'stall.trade': () => undefined,
    },
    played: (match, seat) => {
      const other = match.seats.find((each: string) => each !== seat)
      return match.own.hands.of(other).coins > 3 ? refuse('too-rich') : undefined
    },
  },
  {
    name: 'what is offered',
    actions: {
      bid: {
        input: { most: int() },
        options: (match: any, seat: string) =>
          others(match, seat)
            .slice(0, 1)
            .filter(isAmber)
            .map((_: unknown, most: number) => ({ most })),
        decide: () => undefined,
      },
    },
  },
  {
    name: 'how many are offered, by rows that nobody sees',
    actions: {
      bid: {
        input: { most: int() },
        options: (match: any) =>
          match.own.shells.where({ place: 'deck' }).map((_: unknown, most: number) => ({ most })),
        decide: () => undefined,
      },
    },
  },
  {
    name: 'what chance is about to give, tried out for the options',
    actions: {
      call: {
        input: { side: int() },
        options: () => [{ side: 0 }, { side: 1 }],
        decide: (match: any, _: string, { side }: any) =>
          match.chance('toss').int(0, 1) === side ? undefined : refuse('wrong-call'),
      },
    },
  },
  {
    name: 'a number shown steps later',
    drawn(match, _, shell) {
      match.own.stand.kept = shell.number
    },
    played(match) {
      match.own.stand.shown = match.own.stand.kept
    },
  },
  {
    name: 'a sum shown four plays later',
    drawn(match, _, shell) {
      match.own.stand.kept += isAmber(shell) ? 1 : 0
    },
    played(match) {
      match.own.stand.count += 100
      if (match.own.stand.count % 400 < 100) match.own.stand.shown = match.own.stand.kept
    },
  },
  {
    name: 'whether a sum is even, shown later',
    drawn(match, _, shell) {
      match.own.stand.kept += isAmber(shell) ? 1 : 0
    },
    played(match) {
      match.own.stand.shown = match.own.stand.kept % 2
    },
  },
  {
    name: 'the count of draws, which nobody sees',
    played(match) {
      match.own.stand.shown = match.own.stand.count
    },
  },
  {
    name: 'a flag that says that a purse holds more than three coins',
    played(match, seat) {
      match.own.stand.isRich = match.own.hands.of(seat).coins > 3
    },
  },
  {
    name: 'who has most coins, by name',
    played(match) {
      const coins = (seat: string) => match.own.hands.of(seat).coins
      match.own.stand.word = [...match.seats].sort((a, b) => coins(b) - coins(a))[0]
    },
  },
  {
    name: 'an order of names that follows from purses',
    played(match) {
      const coins = (seat: string) => match.own.hands.of(seat).coins
      match.own.stand.names = [...match.seats].sort((a, b) => coins(b) - coins(a))
    },
  },
  {
    name: 'an action that takes the cup with most under it',
    actions: {
      lift: {
        input: {},
        decide(match: any) {
          const [best] = [...match.own.cups.all()].sort((a: any, b: any) => b.coin - a.coin)
          if (best !== undefined) best.spot += 1
        },
      },
    },
  },
  {
    name: 'a cup with its inner id in a text',
    played(match) {
      match.own.stand.word = match.own.cups.all()[0].id
    },
  },
  {
    name: 'the order in which look-alikes were made',
    played(match) {
      const [first] = [...match.own.cups.all()].sort((a: any, b: any) => a.spot - b.spot)
      first.spot += 1
    },
  },
  {
    name: 'a name that a shell keeps while it is mixed in',
    seen: {
      number: ({ place, holder }) =>
        place === 'deck' ? nobody : place === 'open' ? everyone : { all: false, seats: new Set([holder]) },
    },
  },
  {
    name: 'a sight that depends on a face',
    seen: { mark: (shell) => (shell.place === 'hand' && isAmber(shell) ? everyone : nobody) },
  },
  {
    name: 'a derived value that tells of a face',
    derives: { glow: { to: everyone, as: (shell: any) => shell.place === 'hand' && isAmber(shell) } },
  },
  {
    name: 'a settling that follows a face',
    settle: {
      tier: 'upkeep',
      wokenBy: ['shells'],
      run(match: any) {
        match.own.stand.shown = match.own.shells.where({ place: 'hand' }).filter(isAmber).length
      },
    },
  },
  {
    name: 'a whisper to all',
    drawn(match, seat, shell) {
      for (const each of match.seats) match.emit('whispered', { seat: each, to: seat, face: shell.face })
    },
  },
  {
    name: 'a secret declared for its owner, said to everybody else',
    discloses: [
      { secret: 'stall.shells.face', by: 'stall.whispered', to: 'seat', why: 'who draws is told its face' },
    ],
    drawn(match, seat, shell) {
      match.emit('whispered', { seat, face: shell.face })
      match.own.stand.last = shell.face
    },
  },
]

test.each(leaks)('found: $name', (stall) => {
  expect(auditOf(stall).leaks).not.toEqual([])
})

/** Much the same, and nothing that anybody may not know. */
const clean: readonly Stall[] = [
  { name: 'nothing more' },
  { name: 'a notice without a face', drawn: (match, seat) => match.emit('drew', { seat }) },
  {
    name: 'a face told to its owner',
    discloses: [
      { secret: 'stall.shells.face', by: 'stall.whispered', to: 'seat', why: 'who draws is told its face' },
    ],
    drawn: (match, seat, shell) => match.emit('whispered', { seat, face: shell.face }),
  },
  {
    name: 'the face of a played shell in a cell for all',
    played(match, _, shell) {
      match.own.stand.last = shell.face
    },
  },
  { name: 'a timer that is always the same', drawn: (match) => match.timers.start('hint', { in: 60_000 }) },
  {
    name: 'a hidden timer that fires alike',
    drawn: (match) => match.timers.start('hush', { in: 700, key: 'time' }),
  },
  { name: 'a refusal that is always the same', actions: onlyGuess(() => refuse('cold')) },
  {
    name: 'a refusal that goes by what one holds oneself',
    actions: onlyGuess((match, seat) => refuse(isAmber(hand(match, seat)[0]) ? 'warm' : 'cold')),
  },
  {
    name: 'a die that all see',
    actions: {
      roll: {
        input: {},
        decide(match: any) {
          match.own.stand.shown = match.chance('dice').int(1, 6)
        },
      },
    },
  },
  {
    name: 'what one may do with what one holds, on request',
    actions: {
      show: {
        input: { word: text() },
        options: (match: any, seat: string) => hand(match, seat).map(({ face }: any) => ({ word: face })),
        decide: () => undefined,
      },
    },
  },
]

test.each(clean)('no false alarm: $name', (stall) => {
  const { leaks: found, secrets, faults } = auditOf(stall)
  expect([found, faults]).toEqual([[], []])
  expect(secrets['stall.shells.face']?.varied).toBeGreaterThan(10)
  expect(secrets['stall.shells.face']?.steps).toBeGreaterThanOrEqual(10)
})

test('an audit finds the same in any number of parts', () => {
  const asked = { seats: SEATS, crowd, until: 20_000, checks: 8 }
  const book = stallWith(leaks[0] as Stall)
  const whole = joinAudits([auditPart(book, asked)])
  const parts = [0, 1, 2].map((part) => auditPart(book, asked, { part, of: 3 }))
  expect(joinAudits(JSON.parse(JSON.stringify(parts)))).toEqual(JSON.parse(JSON.stringify(whole)))
  expect(whole.leaks.length).toBeGreaterThan(0)
})
