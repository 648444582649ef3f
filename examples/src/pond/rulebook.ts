import {
  declareRule,
  defineRulebook,
  everyone,
  flag,
  int,
  type MatchOf,
  maybe,
  minutes,
  only,
  perSeat,
  refuse,
  rowOf,
  type Seat,
  seatRef,
  seconds,
  single,
  text,
  time,
} from 'zinc-referee'
import {
  areasOf,
  credit,
  mostAtTime,
  moving,
  phases,
  respawn,
  roster,
  rounds,
  scores,
  teams,
  verdict,
  vitals,
  whileUp,
} from 'zinc-referee/rules'
import { fields, setting, whole } from 'zinc-referee/settings'
import { pond, sight } from './water.ts'

export const MINNOWS = 0

export const waters = areasOf({ ...sight, every: 100, jump: 200 })

const shape = declareRule({
  name: 'pond',
  needs: [waters, teams, vitals, scores, roster, phases],
  settings: fields({
    /** Distance from which a fish can eat. */
    reach: setting(whole({ min: 1 }), 24),
    /** Time that minnows hunt pikes after somebody has eaten the moonfly, in ms. */
    turned: setting(whole({ min: 1 }), seconds(8)),
    midges: setting(whole({ min: 0 }), 60),
  }),
  state: {
    // The size of a fish is seen from near.
    fish: perSeat({ size: int(10) })
      .seenWhen({ size: ({ id }, look) => only(id, ...look.use(waters).nearTo(id)) })
      .each('life'),
    // The point that a fish is heading for; nobody sees it.
    heading: perSeat({ x: maybe(int()), y: maybe(int()) }).each('life'),
    tide: single({ turned: flag(false).seenBy(everyone), until: time().seenBy(everyone) }),
  },
  events: {
    turned: { seat: seatRef().seenBy(everyone) },
    'turned-back': {},
    eaten: { seat: seatRef().seenBy(everyone), by: seatRef().seenBy(everyone), size: int().seenBy(everyone) },
    fed: { seat: seatRef(), kind: text() },
  },
  timers: ['hatch', 'moon', 'shrink', 'turn-back'],
})
type Match = MatchOf<typeof shape>

const isMinnow = (match: Match, seat: Seat): boolean => match.use(teams).of(seat) === MINNOWS

/** Pikes hunt minnows. While the pond is turned, minnows hunt pikes. */
const hunts = (match: Match, seat: Seat, other: Seat): boolean =>
  isMinnow(match, seat) !== isMinnow(match, other) && isMinnow(match, seat) === match.own.tide.turned

function somewhere(match: Match) {
  const chance = match.chance('places')
  return { x: chance.int(0, pond.width), y: chance.int(0, pond.height) }
}

function hatch(match: Match) {
  for (let left = match.settings.midges - match.use(waters).count('midge'); left > 0; left--)
    match.use(waters).add('midge', somewhere(match))
}

/** The bigger a minnow is, the more it loses. None gets smaller than it began. */
function shrink(match: Match) {
  for (const seat of match.use(roster).inPlay()) {
    const fish = match.own.fish.of(seat)
    if (isMinnow(match, seat)) fish.size = Math.max(10, fish.size - Math.floor((fish.size * 30) / 1000))
  }
}

/** Shows everybody the direction of the biggest fish. */
function lookUp(match: Match) {
  const fish = match.use(roster).inPlay()
  const most = Math.max(...fish.map((seat) => match.own.fish.of(seat).size))
  const biggest = fish.find((seat) => match.own.fish.of(seat).size === most)
  for (const seat of fish) match.use(waters).point(seat, seat === biggest ? undefined : biggest)
}

function begin(match: Match) {
  for (const seat of match.use(roster).inPlay()) match.use(waters).put(seat, somewhere(match))
  hatch(match)
  match.timers.start('hatch', { every: seconds(1) })
  match.timers.start('moon', { every: seconds(45) })
  match.timers.start('shrink', { every: seconds(5) })
}

/** Minnows grow on midges, pikes eat minnows, and the moonfly turns the pond. */
export const pondRule = shape.does({
  refusals: {
    'too-far': 'That is out of reach. Swim nearer first.',
    'no-food': 'Only minnows eat midges. Look for a minnow.',
    'no-prey': 'You cannot catch that fish. Hunt one that is smaller.',
  },
  discloses: [
    ...['areas.spots.x', 'areas.spots.y'].map((secret) => ({
      secret,
      by: 'time',
      to: 'everyone',
      why: 'a hint points to where the biggest is',
    })),
    {
      secret: 'pond.fish.size',
      by: ['pond.ate', 'pond.fed', 'pond.eaten', 'time'],
      to: 'everyone',
      why: 'a hint points to where the biggest is',
    },
  ],
  actions: {
    // Allowed when it is over, too: then everybody may only swim.
    swim: {
      when: [moving, whileUp],
      input: { x: int().between(0, pond.width), y: int().between(0, pond.height) },
      decide(match, seat, { x, y }) {
        const heading = match.own.heading.of(seat)
        heading.x = x
        heading.y = y
      },
    },
  },
  facts: {
    ate: {
      input: { seat: seatRef(), thing: rowOf('areas.things') },
      handle(match, { seat, thing }) {
        const found = match.use(waters).thing(thing)
        if (found === undefined || !match.use(waters).isWithin(seat, found, match.settings.reach))
          return refuse('too-far')
        if (!match.use(vitals).isUp(seat)) return refuse('down', { seat })
        if (found.kind === 'midge' && !isMinnow(match, seat)) return refuse('no-food')
        match.use(waters).remove(thing)
        match.emit('fed', { seat, kind: found.kind })
        if (found.kind === 'midge') {
          match.own.fish.of(seat).size += 1
          return match.use(scores).give({ seat, amount: 1, reason: 'midge' })
        }
        match.own.tide.turned = true
        match.own.tide.until = match.time.play + match.settings.turned
        match.timers.start('turn-back', { in: match.settings.turned })
        match.emit('turned', { seat })
        return
      },
    },
    bit: {
      input: { by: seatRef(), target: seatRef() },
      handle(match, { by, target }) {
        if (!hunts(match, by, target)) return refuse('no-prey')
        const spot = match.use(waters).spot(target)
        if (spot === undefined || !match.use(waters).isWithin(by, spot, match.settings.reach))
          return refuse('too-far')
        const { size } = match.own.fish.of(target)
        const ruling = match.use(vitals).hurt({ target, by, amount: match.use(vitals).health(target) })
        if (!ruling.ok || ruling.idle) return ruling
        match.emit('eaten', { seat: target, by, size })
        return match.use(scores).give({ seat: by, amount: Math.ceil(size / 2), reason: 'eaten' })
      },
    },
  },
  timers: {
    hatch(match) {
      hatch(match)
      lookUp(match)
    },
    moon(match) {
      if (match.use(waters).count('moonfly') === 0) match.use(waters).add('moonfly', somewhere(match))
    },
    shrink: (match) => shrink(match),
    'turn-back': {
      band: 'lapse',
      fire(match) {
        match.own.tide.turned = false
        match.own.tide.until = undefined
        match.emit('turned-back', {})
      },
    },
  },
  on: {
    'phases.live-began': (match) => begin(match),
    'roster.joined'(match, { seat }) {
      if (match.use(phases).phase() === 'live') match.use(waters).put(seat, somewhere(match))
    },
    'vitals.life-began'(match, { seat, life }) {
      if (life > 1) match.use(waters).put(seat, somewhere(match))
    },
  },
})

/** Up to a hundred fish, for five minutes. Each sees what is near it, and the direction of the biggest. */
export const pikePond = defineRulebook({
  name: 'pike-pond',
  seats: { min: 2, max: 100 },
  rules: [
    teams({ count: 2 }),
    rounds({ length: minutes(5) }),
    vitals({ max: 1, healthSeen: 'everyone' }),
    // With a hundred fish, a notice of every bite would hide all others.
    scores({ ledgerSeen: 'nobody' }),
    credit({ points: { kill: 0 } }),
    respawn({ after: seconds(3), protectFor: seconds(2) }),
    waters,
    verdict({ when: [mostAtTime] }),
    pondRule,
  ],
})
