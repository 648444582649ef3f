import {
  choice,
  declareRule,
  defineRulebook,
  everyone,
  flag,
  int,
  type MatchOf,
  maybe,
  minutes,
  only,
  owner,
  perSeat,
  refuse,
  type Seat,
  seatRef,
  seconds,
  set,
  single,
  table,
  text,
} from 'zinc-referee'
import { ballotOf, condition, phases, rolesOf, roster, rounds, verdict } from 'zinc-referee/rules'
import { fields, setting, whole } from 'zinc-referee/settings'
import { barrelNames, fifthOf, MOST, maltPlaces } from './fair.ts'

const STRIKES = 5
const SACKS = 2
// From seven seats on there are two spoilers, and they know each other.
export const secret = rolesOf({ brewer: {}, spoiler: { count: { 5: 1, 7: 2 }, tellCamp: true } })
export const opening = ballotOf('opening')
const place = choice(...barrelNames, ...maltPlaces)

/** Six or more brewers stir too much for two spoilers: with eight at the fair, barrels sour a little faster. */
const FULL = 8

const shape = declareRule({
  name: 'brewery',
  needs: [roster, phases, secret, opening],
  settings: fields({
    /** How long a walk takes, and how long one waits between two stirs, in ms. */
    walk: setting(whole({ min: 1 }), seconds(3)),
    rest: setting(whole({ min: 1 }), seconds(4)),
    /** How much a stir changes a barrel, of a hundred, and how much a shut barrel sours by itself every five seconds. */
    stir: setting(whole({ min: 1 }), 5),
    sours: setting(whole({ min: 0 }), 5),
    /** Time between two strikes of the clock, in ms of play time. */
    strike: setting(whole({ min: 1 }), minutes(1)),
  }),
  state: {
    /** What only those who stand at a barrel smell; `malted`: the next stir counts double. */
    barrels: table({
      name: choice(...barrelNames).seenBy(everyone),
      taste: int(50),
      smell: int(2),
      malted: flag(false),
      opened: maybe(choice('sweet', 'sour', 'neither')).seenBy(everyone),
      noses: set(seatRef()),
    })
      .indexedBy('name')
      .seenWhen({ smell: ({ noses }) => only(...noses), malted: ({ noses }) => only(...noses) }),
    walkers: perSeat({
      at: maybe(place).seenBy(everyone),
      to: maybe(place).seenBy(owner),
      carries: flag(false).seenBy(owner),
    }),
    malt: single({ at: set(text()) }),
    clock: single({ strikes: int(0).seenBy(everyone) }),
    /** Who stood at which barrel, and since when, on the play clock. */
    slate: table({
      seat: seatRef().seenBy(everyone),
      barrel: choice(...barrelNames).seenBy(everyone),
      since: int().seenBy(everyone),
      stirs: int(0).seenBy(everyone),
    }).indexedBy('seat'),
  },
  events: {
    stirred: { seat: seatRef().seenBy(everyone), barrel: choice(...barrelNames).seenBy(everyone) },
    struck: { strikes: int().seenBy(everyone) },
    opened: { barrel: choice(...barrelNames).seenBy(everyone), as: text().seenBy(everyone) },
  },
  timers: ['arrive', 'rest', 'sour', 'strike'],
})
type Match = MatchOf<typeof shape>
type Barrel = ReturnType<Match['own']['barrels']['all']>[number]

const barrelAt = (match: Match, seat: Seat): Barrel | undefined => {
  const { at } = match.own.walkers.of(seat)
  return match.own.barrels.all().find(({ name }) => name === at)
}

const shut = (match: Match): Barrel[] => match.own.barrels.all().filter(({ opened }) => opened === undefined)

function season(barrel: Barrel, by: number) {
  barrel.taste = Math.max(0, Math.min(MOST, barrel.taste + by))
  const smell = fifthOf(barrel.taste)
  if (smell !== barrel.smell) barrel.smell = smell
}

/** Two sacks of malt lie about, each at a place of its own. */
function layMalt(match: Match) {
  const { malt } = match.own
  const free = maltPlaces.filter((each) => !malt.at.has(each))
  const next = match
    .chance('malt')
    .shuffle(free)
    .slice(0, SACKS - malt.at.size)
  malt.at = new Set([...malt.at, ...next])
}

function depart(match: Match, seat: Seat) {
  const left = barrelAt(match, seat)
  if (left !== undefined) left.noses = new Set([...left.noses].filter((nose) => nose !== seat))
  match.own.walkers.of(seat).at = undefined
}

/** Malt that lies there is taken along; malt that is carried to a barrel goes in. */
function arrive(match: Match, seat: Seat) {
  const walker = match.own.walkers.of(seat)
  walker.at = walker.to
  walker.to = undefined
  const barrel = barrelAt(match, seat)
  if (barrel !== undefined) {
    barrel.noses = new Set([...barrel.noses, seat])
    match.own.slate.add({ seat, barrel: barrel.name, since: match.time.play })
    if (walker.carries && barrel.opened === undefined) {
      walker.carries = false
      barrel.malted = true
    }
  } else if (walker.at !== undefined && match.own.malt.at.has(walker.at) && !walker.carries) {
    walker.carries = true
    match.own.malt.at = new Set([...match.own.malt.at].filter((each) => each !== walker.at))
    layMalt(match)
  }
}

/** Stirs the barrel at which a seat stands: towards sweet, or the other way. Nobody else can tell which. */
function stir(match: Match, seat: Seat, way: 1 | -1) {
  const barrel = barrelAt(match, seat)
  if (barrel === undefined) return refuse('no-barrel')
  if (barrel.opened !== undefined) return refuse('opened')
  if (match.timers.runs('rest', seat)) return refuse('tired')
  season(barrel, way * match.settings.stir * (barrel.malted ? 2 : 1))
  barrel.malted = false
  const line = match.own.slate.where({ seat }).at(-1)
  if (line !== undefined) line.stirs += 1
  match.timers.start('rest', { in: match.settings.rest, key: seat })
  return match.emit('stirred', { seat, barrel: barrel.name })
}

function strike(match: Match) {
  match.own.clock.strikes += 1
  match.emit('struck', { strikes: match.own.clock.strikes })
  match.use(phases).freeze('strike')
  match.use(opening).open({
    voters: match.use(roster).inPlay(),
    candidates: shut(match).map(({ name }) => name),
  })
}

/** How much a shut barrel sours: with eight at the fair a little faster. */
const souring = (match: Match): number =>
  match.settings.sours + (match.use(roster).inPlay().length >= FULL ? 1 : 0)

/** Brewers stir five barrels towards sweet, spoilers as they like; at each strike of the clock one may be opened. */
export const brewery = shape.does({
  refusals: {
    'no-barrel': 'You stand at no barrel. Walk to one first.',
    opened: 'That barrel is open, and counts as it is. Walk to another.',
    tired: 'You have just stirred. Wait a moment.',
    'there-already': 'You stand there already. Choose another place.',
  },
  discloses: [
    ...['taste', 'smell'].map((cell) => ({
      secret: `brewery.barrels.${cell}`,
      by: ['brewery.opened', 'verdict.reached'],
      to: 'everyone',
      why: 'an open barrel counts as it is, for all to see',
    })),
    ...['walkers.to', 'walkers.carries', 'barrels.malted'].map((cell) => ({
      secret: `brewery.${cell}`,
      by: ['time', 'brewery.stirred', 'brewery.opened', 'verdict.reached'],
      to: 'everyone',
      why: 'who arrives is seen, and malt that goes into a barrel is smelt there, and counts when it is opened',
    })),
    {
      secret: 'roles.seats.role',
      by: 'verdict.reached',
      to: 'everyone',
      why: 'a camp wins, and roles are shown',
    },
  ],
  setUp(match) {
    for (const name of barrelNames) {
      const taste = match.chance('brew').int(30, 69)
      match.own.barrels.add({ name, taste, smell: fifthOf(taste) })
    }
    layMalt(match)
  },
  actions: {
    walk: {
      offered: true,
      input: { to: place },
      decide(match, seat, { to }) {
        const walker = match.own.walkers.of(seat)
        if (walker.at === to || walker.to === to) return refuse('there-already')
        depart(match, seat)
        walker.to = to
        match.timers.start('arrive', { in: match.settings.walk, key: seat })
      },
    },
    stir: { offered: true, input: {}, decide: (match, seat) => stir(match, seat, 1) },
    sour: {
      when: secret.only('spoiler'),
      offered: true,
      input: {},
      decide: (match, seat) => stir(match, seat, -1),
    },
  },
  timers: {
    arrive: { seenBy: owner, fire: (match, seat) => arrive(match, seat) },
    rest: { seenBy: owner },
    sour(match) {
      for (const barrel of shut(match)) season(barrel, -souring(match))
    },
    strike: { seenBy: everyone, fire: (match) => strike(match) },
  },
  on: {
    'phases.live-began'(match) {
      match.timers.start('sour', { every: seconds(5) })
      match.timers.start('strike', { every: match.settings.strike })
    },
    'roster.left': (match, { seat }) => depart(match, seat),
    /** The barrel that was chosen counts as it is. A tie opens none. */
    'opening.closed'(match, { winners: [name] }) {
      match.use(phases).thaw()
      const barrel = match.own.barrels.all().find((each) => each.name === name)
      if (barrel === undefined) return
      const fifth = fifthOf(barrel.taste)
      barrel.opened = fifth > 2 ? 'sweet' : fifth < 2 ? 'sour' : 'neither'
      match.emit('opened', { barrel: barrel.name, as: barrel.opened })
    },
  },
  calls: {
    /** Returns which camp has won, once the clock has struck five times. What is still shut is sour. */
    winner(match): 'brewer' | 'spoiler' | undefined {
      if (match.own.clock.strikes < STRIKES || match.use(opening).isOpen()) return undefined
      const sweet = match.own.barrels.all().filter(({ opened }) => opened === 'sweet').length
      const sour = match.own.barrels.all().filter(({ opened = 'sour' }) => opened === 'sour').length
      return sweet > sour ? 'brewer' : 'spoiler'
    },
  },
})

/** After five strikes a camp wins: the brewers if more barrels are sweet than sour. */
const fiveStrikes = condition({
  name: 'five-strikes',
  needs: [brewery, secret],
  judge(match) {
    const role = match.use(brewery).winner()
    if (role === undefined) return undefined
    return { winners: match.use(secret).camp(secret.camp(role)), kind: 'win', reason: 'five-strikes' }
  },
})

/** Five to eight seats, five minutes and five strikes. Nobody is sent home, and no role is shown before the end. */
export const spoiledBrew = defineRulebook({
  name: 'spoiled-brew',
  seats: { min: 5, max: 8 },
  rules: [
    rounds,
    secret,
    opening({ time: seconds(20), hideTotals: true }),
    verdict({ when: [fiveStrikes] }),
    brewery,
  ],
})
