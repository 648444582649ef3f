import { int, list, refuse, rowOf, type Seat } from 'zinc-referee'
import { scores, turns, verdict } from 'zinc-referee/rules'
import { ofFaces, sameFaces, upTo, waysToDip } from './choices.ts'
import { refusals } from './refusals.ts'
import {
  colour,
  hang,
  hooks,
  lampBid,
  type Market,
  type Quay,
  quay,
  shape,
  wicks,
  wishes,
  work,
} from './shape.ts'

const benchOf = (match: Market, seat: Seat) => match.own.lanterns.where({ holder: seat, on: 'bench' })
const shelfOf = (match: Market, seat: Seat) => match.own.lanterns.where({ holder: seat, on: 'shelf' })
const hanging = (match: Market, at: Quay, hook: number) => match.own.lanterns.where({ quay: at, hook })[0]

function payMost(match: Market, why: string, prizes: readonly number[], counted: (seat: Seat) => number) {
  for (const [seat, points] of match.use(scores).majority(counted, prizes))
    match.resolve('prize', { seat, why, points })
}

function hangUp(match: Market, lantern: ReturnType<typeof benchOf>[number], at: Quay, hook: number) {
  const { id, holder, colour: hung } = lantern
  if (hanging(match, at, hook) !== undefined) return refuse('hook-taken')
  lantern.on = 'quay'
  lantern.quay = at
  lantern.hook = hook
  if (holder !== undefined) match.emit('hung', { seat: holder, lantern: id, colour: hung, quay: at, hook })
}

/** At a bell, every quay pays prizes for the most lanterns hung. */
function ringBell(match: Market) {
  match.own.market.bells += 1
  match.emit('rang', { bell: match.own.market.bells })
  for (const at of quay.values)
    payMost(
      match,
      at,
      match.own.market.pays,
      (seat) => match.own.lanterns.where({ quay: at, holder: seat }).length,
    )
  match.own.market.pays = nextPrizes(match)
}

const nextPrizes = (match: Market) => match.settings.prizes[match.own.market.bells] ?? []

function fillCrates(match: Market) {
  while (match.use(wicks).in('crates').length < 5) {
    const drawn = match.use(wicks).top('deck', 'crates')
    if (drawn === undefined) return
    if (drawn.face !== 'bell') continue
    match.use(wicks).move({ cards: [drawn.id], from: 'crates', to: 'rung' })
    ringBell(match)
  }
}

/** The length of a seat's longest run of lanterns on a quay without two equal neighbours. */
function longestRun(match: Market, seat: Seat, at: Quay) {
  let [longest, run, last] = [0, 0, '']
  for (const hook of hooks) {
    const lantern = hanging(match, at, hook)
    const isOwn = lantern?.holder === seat
    run = isOwn ? (lantern.colour === last ? 1 : run + 1) : 0
    last = isOwn ? lantern.colour : ''
    longest = Math.max(longest, run)
  }
  return longest
}

/** The bids for the harbour lamp: the highest alone wins it and burns; level ones give it to nobody. */
function sellLamp(match: Market) {
  const { seats, amount } = match.use(lampBid).highest((bid) => bid)
  const [seat, ...level] = seats
  const isSold = seat !== undefined && level.length === 0
  match.emit('sold', { seat: isSold ? seat : undefined, bid: amount })
  if (!isSold) return
  const spare = match
    .use(wicks)
    .hand(seat)
    .map(({ id }) => id)
  match.use(wicks).move({ seat, cards: spare.sort().slice(0, amount), from: 'hand', to: 'burnt' })
  match.resolve('prize', { seat, why: 'harbour-lamp', points: match.settings.lamp })
}

/** All have passed: the deck is turned to its next bell. */
function turnToBell(match: Market) {
  for (;;) {
    const drawn = match.use(wicks).top('deck', 'crates')
    if (drawn === undefined) return
    match.use(wicks).move({ cards: [drawn.id], from: 'crates', to: drawn.face === 'bell' ? 'rung' : 'burnt' })
    if (drawn.face === 'bell') return ringBell(match)
  }
}

/** After the last bell the lamp is sold. */
function closeAfterBells(match: Market) {
  if (match.own.market.bells < 3 || match.use(lampBid).isOpen()) return
  match.use(turns).finish('market-closed')
  match.use(lampBid).open(match.seats)
}

/** Wicks are fetched, dipped into lanterns, and hung on quays, which pay at each of three bells. */
export const market = shape.does({
  refusals,
  discloses: [
    {
      secret: 'wishes.cards.face',
      by: 'market.granted',
      to: 'everyone',
      why: 'a wish that is answered is shown',
    },
    {
      secret: 'wicks.cards',
      by: 'turns.ended',
      to: 'everyone',
      why: 'of two wicks alike in the crates, the older one goes stale',
    },
    {
      secret: 'wicks.cards.face',
      by: 'market.sold',
      to: 'everyone',
      why: 'the highest bid is burnt, and the last wick of it lies on top',
    },
  ],
  setUp(match) {
    match.use(wicks).fill(
      'deck',
      colour.values.flatMap((each) => Array.from({ length: 15 }, () => each)),
    )
    match.use(wicks).shuffle('deck')
    match.use(wicks).deal('deck', 4)
    // Who comes later in the first round begins with more.
    for (const [at, seat] of match.seats.entries())
      for (let more = Math.ceil(at / 2); more > 0; more--) match.use(wicks).draw({ seat, from: 'deck' })
    fillCrates(match)
    match.use(wicks).fill('deck', ['bell', 'bell', 'bell']) // after the deal: no bell in a hand
    match.use(wicks).shuffle('deck')
    match.use(wishes).fill(
      'deck',
      colour.values.flatMap((a) => colour.values.map((b) => [a, b])),
    )
    match.use(wishes).shuffle('deck')
    match.own.market.pays = nextPrizes(match)
    for (const at of quay.values) match.own.lanterns.add({ colour: 'amber', on: 'quay', quay: at, hook: 4 }) // nobody's
  },
  apply: {
    pay(match, { seat, dipped, burnt, price, toll }) {
      if (burnt.length !== price + toll) return refuse('other-price', { price: price + toll })
      const cards = ofFaces(match.use(wicks).hand(seat), [...dipped, ...burnt])
      if (cards === undefined) return refuse('not-in-hand')
      const paid = match.use(wicks).move({ seat, cards, from: 'hand', to: 'burnt' })
      if (!paid.ok) return paid
      for (const each of dipped) match.own.lanterns.add({ colour: each, holder: seat, on: 'bench' })
      match.emit('dipped', { seat, colours: dipped })
      match.use(turns).owe(seat, hang, dipped.length)
      const answered = match
        .use(wishes)
        .hand(seat)
        .find(({ face }) => sameFaces(face, dipped))
      if (answered === undefined) return
      match.emit('granted', { seat })
      const day = match.own.day.of(seat)
      // To the wick: another action, at most two in a turn.
      if (!day.wished) match.use(turns).budget({ seat, add: 1, why: 'wish-answered' })
      day.wished = true
      return match.use(wishes).move({ seat, cards: [answered.id], from: 'hand', to: 'granted' })
    },
    prize: (match, { seat, points, why }) => match.use(scores).give({ seat, amount: points, reason: why }),
  },
  actions: {
    /**
     * Fetch up to three wicks from the open crates. They are sorted, so that they do not reveal in which order they
     * came.
     */
    fetch: {
      when: work,
      offered: true,
      input: { wicks: list(rowOf(wicks, 'cards')).between(1, 3) },
      options: (match) =>
        upTo(3, match.use(wicks).in('crates')).map((set) => ({ wicks: set.map(({ id }) => id).sort() })),
      decide(match, seat, { wicks: chosen }) {
        match.own.day.of(seat).fetched = true
        return match.use(wicks).move({ seat, cards: chosen, from: 'crates', to: 'hand' })
      },
    },
    /** Dip one or two wicks of your hand into lanterns. As many others of your hand burn for it. */
    dip: {
      when: work, // on request only: hundreds of ways to pay are too many for a view
      input: { dipped: list(colour).between(1, 2), burnt: list(colour).between(0, 3) },
      options(match, seat) {
        const hand = match.use(wicks).hand(seat)
        const held = colour.values.flatMap((each) => hand.filter(({ face }) => face === each).map(() => each))
        return waysToDip(held)
      },
      decide(match, seat, { dipped, burnt }) {
        if (match.own.day.of(seat).fetched) return refuse('fetched-this-turn')
        return match.resolve('pay', { seat, dipped, burnt, price: dipped.length })
      },
    },
    /** Take a wish card. */
    wish: {
      when: work,
      offered: true,
      input: {},
      decide: (match, seat) => match.use(wishes).draw({ seat, from: 'deck' }),
    },
    /** Hang a lantern on a quay next to one that hangs there … */
    hang: {
      when: hang,
      offered: true,
      input: { lantern: rowOf('lanterns'), quay, hook: int().between(1, 7) },
      options: (
        match,
        seat, // one's own alone: all lanterns on all hooks are hundreds
      ) =>
        benchOf(match, seat).flatMap(({ id }) =>
          quay.values.flatMap((at) => hooks.map((hook) => ({ lantern: id, quay: at, hook }))),
        ),
      decide(match, seat, { lantern: id, quay: at, hook }) {
        const lantern = benchOf(match, seat).find((each) => each.id === id)
        if (lantern === undefined) return refuse('not-yours')
        if (!hanging(match, at, hook - 1) && !hanging(match, at, hook + 1)) return refuse('nothing-beside')
        return hangUp(match, lantern, at, hook)
      },
    },
    /** … or put it on your shelf. */
    shelve: {
      when: hang,
      offered: true,
      input: { lantern: rowOf('lanterns') },
      onTimeOut: (match, seat) => benchOf(match, seat).map(({ id }) => ({ lantern: id }))[0],
      decide(match, seat, { lantern: id }) {
        const lantern = benchOf(match, seat).find((each) => each.id === id)
        if (lantern === undefined) return refuse('not-yours')
        lantern.on = 'shelf'
      },
    },
  },
  amend: {
    'lampBid.take': (match, { seat, choice: bid }) =>
      bid > match.use(wicks).hand(seat).length ? refuse('too-few-wicks') : undefined,
  },
  on: {
    'turns.began'(match, { seat }) {
      if (seat === undefined) return
      match.own.day.of(seat).fetched = false
      match.own.day.of(seat).wished = false
    },
    /** Wicks that nobody fetches go stale: the market moves on by one crate each turn. */
    'turns.ended'(match, { seat }) {
      const [oldest] = match.use(wicks).in('crates')
      if (seat !== undefined && !match.own.day.of(seat).fetched && oldest !== undefined)
        match.use(wicks).move({ cards: [oldest.id], from: 'crates', to: 'burnt' })
      fillCrates(match)
      closeAfterBells(match)
    },
    'turns.all-passed'(match) {
      turnToBell(match)
      closeAfterBells(match)
    },
    /** The harbour lamp, and what each quay pays for runs. Then the most points win. */
    'lampBid.revealed'(match) {
      sellLamp(match)
      for (const at of quay.values)
        for (const seat of match.seats)
          match.resolve('prize', { seat, why: `run-${at}`, points: longestRun(match, seat, at) })
      match.use(verdict).claim({ winners: match.use(scores).leaders(), reason: 'market-closed' })
    },
  },
  calls: {
    bells: (match): number => match.own.market.bells,
    /** A seat's lanterns, hung or on the shelf. */
    lanternsOf: (match, seat: Seat) => match.own.lanterns.where({ holder: seat }),
    /** Moves a lantern from a seat's shelf to any free hook. */
    row(match, seat: Seat, id: string, at: Quay, hook: number) {
      const lantern = shelfOf(match, seat).find((each) => each.id === id)
      if (lantern === undefined) return refuse('not-yours')
      return hangUp(match, lantern, at, hook)
    },
  },
})
