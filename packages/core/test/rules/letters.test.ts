import { expect, test } from 'vitest'
import { choice, defineRule, defineRulebook, list, maybe, seatRef } from 'zinc-referee'
import {
  mostAtTime,
  notebookOf,
  pilesOf,
  rounds,
  scores,
  sealedOf,
  turnStep,
  turns,
  verdict,
} from 'zinc-referee/rules'
import { fields, word } from 'zinc-referee/settings'
import { auditSight, playMatch, randomCrowd } from 'zinc-referee/testing'

const SEATS = ['otter', 'heron', 'vole']
const colour = choice('red', 'blue')
const letters = pilesOf('letters', colour, { sack: 'deck', rack: 'rack' })
const notebook = notebookOf(fields({ whose: word, colour: word }))
const guess = sealedOf('guess', colour, { revealedTo: 'nobody' })
const act = turnStep('act')

/** Letters in hands and on racks, looked at, passed on and written down. */
const post = defineRule({
  name: 'post',
  needs: [letters, notebook, guess, turns],
  state: {},
  actions: {
    read: {
      when: act,
      offered: true,
      input: { whose: seatRef() },
      options: (match, seat) => match.seats.filter((each) => each !== seat).map((whose) => ({ whose })),
      decide(match, seat, { whose }) {
        const [card] = match.use(letters).hand(whose)
        if (card === undefined) return
        match.use(letters).peek(seat, [card.id])
        match.use(notebook).write(seat, { whose, colour: card.face })
      },
    },
  },
  facts: {
    lay: {
      input: { seat: seatRef(), on: maybe(seatRef()) },
      handle(match, { seat, on }) {
        const cards = match.use(letters).hand(seat).slice(0, 1)
        return match.use(letters).move({
          seat,
          ...(on !== undefined && { toSeat: on }),
          cards: cards.map(({ id }) => id),
          from: 'hand',
          to: 'rack',
        })
      },
    },
    give: {
      input: { from: list(seatRef()), to: list(seatRef()) },
      handle: (match, { from, to }) =>
        match.use(letters).pass(
          from.map((seat, at) => ({
            from: seat,
            to: to[at] ?? '',
            cards: match
              .use(letters)
              .hand(seat)
              .slice(0, 1)
              .map(({ id }) => id),
          })),
        ),
    },
    blink: { input: { seat: seatRef() }, handle: (match, { seat }) => match.use(letters).endPeek(seat) },
    ask: { input: {}, handle: (match) => match.use(guess).open(match.seats) },
    free: { input: {}, handle: (match) => match.use(turns).goOn('ebb') },
  },
  setUp(match) {
    match.use(letters).fill('sack', ['red', 'blue', 'red', 'blue', 'red', 'blue', 'red'])
    match.use(letters).deal('sack', 2)
  },
  on: {
    'turns.cycle-ending'(match, { cycle }) {
      if (cycle !== 2) return
      match.use(turns).hold('ebb')
      match.use(turns).arrange(['vole'])
    },
  },
})
const book = defineRulebook({
  name: 'post',
  seats: { min: 2, max: 4 },
  rules: [
    rounds({ length: 600_000 }),
    scores,
    verdict({ when: [mostAtTime] }),
    turns({ steps: [act], takingBack: true }),
    letters({ maxHand: 2 }),
    notebook,
    guess,
    post,
  ],
})

function atThePost(settings: object = {}) {
  const { match, replay } = playMatch(book, SEATS, { settings })
  return {
    match,
    replay,
    hand: (seat: string) =>
      match.state.letters.cards
        .where({ place: 'hand', holder: seat })
        .map(({ face }) => face)
        .sort()
        .join(' '),
    rack: (viewer: string) =>
      Object.values(match.view(viewer).letters.cards)
        .filter(({ place }) => place === 'rack')
        .map(({ holder, face }) => `${holder} ${face}`),
    facesSeen: (viewer: string) =>
      Object.values(match.view(viewer).letters.cards).filter(({ face }) => face !== undefined).length,
    notes: (viewer: string) => Object.values(match.view(viewer).notebook.notes).map(({ note }) => note),
    told(deed: () => unknown) {
      match.flush()
      deed()
      return match
        .flush()
        .filter(({ viewer }) => viewer === 'spectator')
        .flatMap(({ notices }) => notices.map(({ name, cells }) => ({ name, ...cells })))
    },
    play: (seat: string) => match.submit(seat, 'turns.pass', {}),
  }
}

test('PI21: each seat has a rack of its own that everyone sees, and it stays when the seat leaves', () => {
  const { match, rack } = atThePost()
  const [face] = [...match.state.letters.cards.where({ place: 'hand', holder: 'otter' })]
    .sort((one, other) => one.at - other.at)
    .map((card) => card.face)
  match.report('post.lay', { seat: 'otter' })
  match.report('post.lay', { seat: 'heron' })
  expect(rack('spectator')).toHaveLength(2)
  expect(rack('vole')).toContain(`otter ${face}`)
  match.submit('otter', 'roster.leave', {})
  expect(rack('vole')).toContain(`otter ${face}`)
  expect(match.state.letters.cards.where({ place: 'aside' })).toHaveLength(1)
})

test('PI22: what goes to another seat is one notice, and nobody else sees the card', () => {
  const game = atThePost()
  const { match, rack, told } = game
  match.addViewer('spectator')
  const given = told(() => match.report('post.lay', { seat: 'otter', on: 'heron' }))
  expect(given).toEqual([
    { name: 'letters.passed', seat: 'otter', toSeat: 'heron', from: 'hand', to: 'rack', count: 1 },
  ])
  expect(rack('vole')).toEqual([expect.stringMatching(/^heron/)])
  match.submit('vole', 'roster.leave', {})
  expect(match.report('post.lay', { seat: 'otter', on: 'vole' })).toMatchObject({ code: 'not-in-play' })
})

test('PI23: hands are passed all at once: full ones change places; one that would be too full moves nothing', () => {
  const { match, hand, told, facesSeen } = atThePost()
  const before = SEATS.map(hand)
  match.addViewer('spectator')
  const given = told(() => match.report('post.give', { from: SEATS, to: ['heron', 'vole', 'otter'] }))
  expect(given.map(({ name }) => name)).toEqual(Array.from({ length: 3 }, () => 'letters.passed'))
  expect(SEATS.map((seat) => hand(seat).split(' ').length)).toEqual([2, 2, 2])
  expect(SEATS.flatMap((seat) => hand(seat).split(' ')).sort()).toEqual(
    before.flatMap((each) => each.split(' ')).sort(),
  )
  expect(SEATS.map(facesSeen)).toEqual([2, 2, 2])
  const now = SEATS.map(hand)
  expect(match.report('post.give', { from: ['otter', 'heron'], to: ['vole', 'otter'] })).toMatchObject({
    code: 'hand-full',
  })
  expect(SEATS.map(hand)).toEqual(now)
  match.submit('vole', 'roster.leave', {})
  expect(match.report('post.give', { from: ['otter'], to: ['vole'] })).toMatchObject({ code: 'not-in-play' })
})

test('PI24, NB1, NB2: a look lasts until a rule ends it; the note of it stays, and is seen by its seat alone', () => {
  const { match, facesSeen, notes, replay } = atThePost()
  match.submit('otter', 'post.read', { whose: 'heron' })
  expect([facesSeen('otter'), facesSeen('vole')]).toEqual([3, 2])
  const [note] = notes('otter')
  expect(note).toMatchObject({ whose: 'heron' })
  match.report('post.blink', { seat: 'otter' })
  match.submit('heron', 'roster.leave', {})
  match.direct('roster.absent', { seat: 'otter' })
  match.direct('roster.join', { seat: 'otter', name: 'otter' })
  expect([facesSeen('otter'), notes('otter'), notes('vole'), notes('spectator')]).toEqual([2, [note], [], []])
  expect(replay().differs).toBeUndefined()
})

test('NB3: what was shown cannot be taken back, and its note stays', () => {
  const { match, notes } = atThePost({ turns: { passing: 'never' } })
  match.submit('otter', 'post.read', { whose: 'heron' })
  expect(match.submit('otter', 'turns.take-back', {}).ok).toBe(false)
  expect(notes('otter')).toHaveLength(1)
})

test('SE9: choices that are revealed to nobody are known to rules alone', () => {
  const { match, told } = atThePost()
  match.addViewer('spectator')
  match.report('post.ask', {})
  const said = told(() => {
    for (const seat of SEATS) match.submit(seat, 'guess.choose', { choice: 'red' })
  })
  expect(said.map(({ name }) => name)).toEqual([
    'guess.chosen',
    'guess.chosen',
    'guess.chosen',
    'guess.revealed',
  ])
  expect(match.view('heron').guess.revealed).toEqual(
    Object.fromEntries(SEATS.map((seat) => [seat, { choice: null }])),
  )
  expect(match.state.guess.last.of('heron').choice).toBe('red')
})

test('TU35, TU36: before a cycle ends turns can be held, and the next order is arranged', () => {
  const { match, play } = atThePost()
  for (const seat of [...SEATS, ...SEATS]) expect(play(seat).ok, seat).toBe(true)
  const { now } = match.view('spectator').turns
  expect([now.seat, now.cycle]).toEqual([null, 2])
  match.advanceTo(match.now + 5000)
  match.report('post.free', {})
  expect(match.view('spectator').turns.now).toMatchObject({ seat: 'vole', cycle: 3 })
})

test('NB4, NB5: no look, pass, note or hidden choice can be told by anybody whom it does not concern', () => {
  const audit = auditSight(book, {
    seats: SEATS,
    crowd: () => {
      const random = randomCrowd('fair-1')
      return {
        every: 400,
        beat(match, drives) {
          random.beat(match, drives)
          const n = Math.floor(match.now / 400) % 7
          if (n === 1) match.report('post.ask', {})
          if (n === 2)
            match.report('post.give', {
              from: match.seats,
              to: [...match.seats.slice(1), ...match.seats.slice(0, 1)],
            })
          if (n === 5) match.report('post.blink', { seat: match.seats[0] })
          if (n === 6) match.report('post.free', {})
        },
      }
    },
    until: 60_000,
    checks: 3,
    discloses: [
      {
        secret: 'letters.cards.face',
        by: 'notebook.written',
        to: 'seat',
        why: 'whoever reads a letter notes it',
      },
    ],
  })
  expect(audit.leaks).toEqual([])
  expect(audit.secrets['letters.cards.face']?.varied).toBeGreaterThan(5)
  expect(audit.secrets['guess.seats.choice']?.varied).toBeGreaterThan(0)
})
