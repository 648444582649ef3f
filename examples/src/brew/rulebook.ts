import {
  choice,
  declareRule,
  defineRulebook,
  everyone,
  flag,
  type MatchOf,
  minutes,
  owner,
  perSeat,
  refuse,
  rowOf,
  type Seat,
  seatRef,
  seconds,
  table,
} from 'zinc-referee'
import {
  allDone,
  ballotOf,
  errands,
  parity,
  phases,
  rolesOf,
  roster,
  rounds,
  timeUp,
  verdict,
} from 'zinc-referee/rules'
import { fields, setting, whole } from 'zinc-referee/settings'

// From seven seats on there are two spoilers, and they know each other.
export const secret = rolesOf({ brewer: {}, spoiler: { count: { 5: 1, 7: 2 }, tellCamp: true } })
export const tasting = ballotOf('tasting')
const [brewers, spoilers] = [secret.camp('brewer'), secret.camp('spoiler')]
const barrel = choice('mash', 'copper', 'tun', 'cooler')

const shape = declareRule({
  name: 'brewery',
  needs: [roster, phases, secret, errands, tasting],
  settings: fields({
    /** Time that a pour takes, in ms. Nobody pours two at once. */
    pour: setting(whole({ min: 1 }), seconds(4)),
    /** Time that a spoiler waits between two barrels, and until a barrel turns sour, in ms. */
    wait: setting(whole({ min: 1 }), seconds(30)),
    sours: setting(whole({ min: 1 }), seconds(20)),
  }),
  state: {
    // Only spoilers know that a barrel was tampered with. Everyone knows that it is sour.
    barrels: table({
      name: barrel.seenBy(everyone),
      tampered: flag(false).seenBy(secret.holders('spoiler')),
      sour: flag(false).seenBy(everyone),
    }),
    calls: perSeat({ hasCalled: flag(false).seenBy(everyone) }),
  },
  events: {
    soured: { barrel: barrel.seenBy(everyone) },
    rinsed: { seat: seatRef().seenBy(everyone), barrel: barrel.seenBy(everyone) },
    called: { seat: seatRef().seenBy(everyone) },
  },
  timers: ['pour', 'wait', 'sour'],
})
type Match = MatchOf<typeof shape>

const everyBarrel = (match: Match) => match.own.barrels.all().map(({ id }) => ({ barrel: id }))

/** Brewers fill barrels. Spoilers pretend to, and sour them. Anyone may call a tasting, once. */
export const brewery = shape.does({
  refusals: {
    pouring: 'You are filling a barrel already. Wait until it is full.',
    sour: 'That barrel is sour. Rinse it first.',
    'not-sour': 'That barrel is not sour. Fill it instead.',
    'too-soon': 'You tampered a moment ago. Wait a while.',
    'tampered-already': 'That barrel is sour already. Choose another.',
    'called-already': 'You have called a tasting in this bout. Wait for one that somebody else calls.',
  },
  discloses: [
    {
      secret: 'brewery.barrels.tampered',
      by: 'brewery.soured',
      to: 'everyone',
      why: 'a barrel that was tampered with turns sour, for all to see',
    },
    {
      secret: 'roles.seats.role',
      by: ['roster.sidelined', 'verdict.reached'],
      to: 'everyone',
      why: 'whoever is sent home is revealed, and the game ends by the roles',
    },
  ],
  setUp(match) {
    for (const name of barrel.values) match.own.barrels.add({ name })
    for (const seat of match.seats)
      if (match.use(secret).of(seat) === 'spoiler')
        match.timers.start('wait', { in: match.settings.wait, key: seat })
  },
  actions: {
    /** Each seat fills its own errands. The spoilers' do not count, but look the same. */
    fill: {
      offered: true,
      input: { errand: rowOf(errands, 'rows') },
      options: (match, seat) =>
        match
          .use(errands)
          .open(seat)
          .map((errand) => ({ errand })),
      decide(match, seat, { errand }) {
        if (match.timers.runs('pour', seat)) return refuse('pouring')
        const { kind } = match.use(errands).errand(errand) ?? {}
        if (match.own.barrels.all().some(({ name, sour }) => sour && name === kind)) return refuse('sour')
        match.timers.start('pour', { in: match.settings.pour, key: seat })
        return match.use(errands).progress({ seat, errand, amount: 1 })
      },
    },
    rinse: {
      offered: true,
      input: { barrel: rowOf('barrels') },
      options: everyBarrel,
      decide(match, seat, { barrel: id }) {
        const found = match.own.barrels.get(id)
        if (!found?.sour) return refuse('not-sour')
        found.sour = false
        found.tampered = false
        match.emit('rinsed', { seat, barrel: found.name })
      },
    },
    tamper: {
      when: secret.only('spoiler'),
      offered: true,
      input: { barrel: rowOf('barrels') },
      options: everyBarrel,
      decide(match, seat, { barrel: id }) {
        const found = match.own.barrels.get(id)
        if (match.timers.runs('wait', seat)) return refuse('too-soon')
        if (!found || found.tampered) return refuse('tampered-already')
        found.tampered = true
        match.timers.start('sour', { in: match.settings.sours, key: id })
        match.timers.start('wait', { in: match.settings.wait, key: seat })
      },
    },
    /** During a tasting and its vote, nobody fills or tampers. */
    call: {
      offered: true,
      input: {},
      decide(match, seat) {
        const calls = match.own.calls.of(seat)
        if (calls.hasCalled) return refuse('called-already')
        calls.hasCalled = true
        match.emit('called', { seat })
        match.use(phases).freeze('tasting')
        const seats: readonly Seat[] = match.use(roster).inPlay()
        return match.use(tasting).open({ voters: seats, candidates: seats })
      },
    },
  },
  timers: {
    pour: { seenBy: owner },
    wait: { seenBy: owner },
    sour(match, id) {
      const found = match.own.barrels.get(id)
      if (!found?.tampered) return
      found.sour = true
      match.emit('soured', { barrel: found.name })
    },
  },
  on: {
    /** A tied vote sends nobody home. */
    'tasting.closed'(match, { winners: [seat] }) {
      match.use(phases).thaw()
      if (seat !== undefined) match.use(roster).sideline(seat, 'sent-home')
    },
  },
})

/**
 * Five to eight seats. Brewers win when all errands are done or no spoiler is left. Spoilers win when they are as
 * many as the others, or when time is up.
 */
export const spoiledBrew = defineRulebook({
  name: 'spoiled-brew',
  seats: { min: 5, max: 8 },
  rules: [
    rounds({ length: minutes(6) }),
    secret({ revealOnOut: true }),
    errands({
      uncounted: spoilers,
      list: barrel.values.map((kind) => ({ kind, need: 8 })),
      each: 4,
      shown: 'fifths',
      leaverErrands: 'keep',
    }),
    tasting({ time: seconds(30) }),
    verdict({ when: [allDone.wonBy(brewers), parity(spoilers), timeUp.wonBy(spoilers)] }),
    brewery,
  ],
})
