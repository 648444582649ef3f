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
  time,
} from 'zinc-referee'
import {
  areasOf,
  condition,
  credit,
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
import { mostEach, pond, reeds, reedsAt, sight } from './water.ts'

export const MINNOWS = 0
export const REACH = 24 // from which a fish can eat
const MIDGE = 3 // points; a bite is worth four midges
const SHOAL = 3 // fish that make one

export const waters = areasOf({ ...sight, every: 100, jump: 200 })

const shape = declareRule({
  name: 'pond',
  needs: [waters, teams, vitals, scores, roster, phases, verdict],
  settings: fields({
    /** The more minnows, the more midges for each of n: this many times √n, up to some 7.5 (`mostEach`); and so many at most in all. */
    midges: setting(whole({ min: 0 }), 2),
    mostMidges: setting(whole({ min: 0 }), 290),
    /** How near each other the fish of a shoal are. */
    close: setting(whole({ min: 1 }), 55),
    /** How old a shoal is that a pike can scatter, and how long it stays scattered, in ms. */
    firm: setting(whole({ min: 1 }), seconds(6)),
    scatteredFor: setting(whole({ min: 1 }), seconds(4)),
    /** How long a pike catches its breath when it has bitten or scattered, in ms. */
    breath: setting(whole({ min: 0 }), 3100),
    /** How much longer for each minnow for which there are no more midges, in ms. */
    breathMore: setting(whole({ min: 0 }), 40),
    /** How long a fish shines that has eaten the moonfly, in ms, and how near it midges count double. */
    shines: setting(whole({ min: 1 }), seconds(8)),
    lure: setting(whole({ min: 1 }), 140),
  }),
  state: {
    // That a fish is in a shoal is seen from near. Since when, and when a pike can bite again, nobody sees.
    fish: perSeat({ shoal: flag(false), since: int(0), scatteredUntil: int(0), bites: int(0) })
      .seenWhen({ shoal: ({ id }, look) => only(id, ...look.use(waters).nearTo(id)) })
      .each('life'),
    // The point that a fish is heading for; nobody sees it.
    heading: perSeat({ x: maybe(int()), y: maybe(int()) }).each('life'),
    moon: single({ shining: maybe(seatRef()).seenBy(everyone), until: time().seenBy(everyone) }),
  },
  events: {
    shines: { seat: seatRef().seenBy(everyone) },
    bitten: { seat: seatRef().seenBy(everyone), by: seatRef().seenBy(everyone) },
    scattered: { seat: seatRef().seenBy(everyone) },
    best: { seat: seatRef().seenBy(everyone), points: int().seenBy(everyone) },
  },
  timers: ['hatch', 'moon', 'gather', 'fade'],
})
type Match = MatchOf<typeof shape>

const isMinnow = (match: Match, seat: Seat): boolean => match.use(teams).of(seat) === MINNOWS

/** Somewhere in the open water. */
function somewhere(match: Match) {
  const chance = match.chance('places')
  for (;;) {
    const spot = { x: chance.int(0, pond.width), y: chance.int(0, pond.height) }
    if (reedsAt(spot) === undefined) return spot
  }
}

/** Minnows begin in the reeds, pikes in the open water. */
function enter(match: Match, seat: Seat) {
  const patch = match.chance('places').pick(reeds)
  match.use(waters).put(seat, isMinnow(match, seat) && patch !== undefined ? patch : somewhere(match))
}

function hatch(match: Match) {
  const { midges, mostMidges } = match.settings
  const minnows = match.use(teams).crew(MINNOWS).length
  const each = Math.min(mostEach(minnows), midges * Math.sqrt(minnows))
  const wanted = Math.min(mostMidges, Math.floor(minnows * each))
  for (let left = wanted - match.use(waters).count('midge'); left > 0; left--)
    match.use(waters).add('midge', somewhere(match))
}

/** Those of the same side who are this near a fish. */
function mates(match: Match, seat: Seat): Seat[] {
  const spot = match.use(waters).spot(seat)
  if (spot === undefined) return []
  const near = match.use(waters).nearTo(seat)
  return near.filter(
    (other) =>
      isMinnow(match, other) &&
      match.use(vitals).isUp(other) &&
      match.use(waters).isWithin(other, spot, match.settings.close),
  )
}

/** Three minnows close together are a shoal, unless a pike has scattered them. */
function gather(match: Match) {
  for (const seat of match.use(roster).inPlay()) {
    if (!isMinnow(match, seat)) continue
    const fish = match.own.fish.of(seat)
    const isShoal = match.time.play >= fish.scatteredUntil && mates(match, seat).length + 1 >= SHOAL
    if (isShoal && !fish.shoal) fish.since = match.time.play
    if (isShoal !== fish.shoal) fish.shoal = isShoal
  }
}

function scatter(match: Match, by: Seat, target: Seat) {
  for (const seat of [target, ...mates(match, target)]) {
    const fish = match.own.fish.of(seat)
    fish.shoal = false
    fish.scatteredUntil = match.time.play + match.settings.scatteredFor
  }
  match.emit('scattered', { seat: by })
}

/** Where there are no more midges for each minnow, pikes catch their breath for longer, too. */
function breathe(match: Match, pike: Seat) {
  const { breath, breathMore, mostMidges } = match.settings
  const minnows = match.use(teams).crew(MINNOWS).length
  const unfed = Math.max(0, minnows - Math.floor(mostMidges / mostEach(minnows)))
  match.own.fish.of(pike).bites = match.time.play + breath + unfed * breathMore
}

/** A midge counts a third in a shoal, and double near the fish that shines. */
function worth(match: Match, seat: Seat): number {
  const { shining } = match.own.moon
  const light = shining === undefined ? undefined : match.use(waters).spot(shining)
  const isLit = light !== undefined && match.use(waters).isWithin(seat, light, match.settings.lure)
  return (match.own.fish.of(seat).shoal ? MIDGE / SHOAL : MIDGE) * (isLit ? 2 : 1)
}

/** All are shown the direction of the fish that shines. */
function shine(match: Match, seat: Seat | undefined) {
  match.own.moon.shining = seat
  match.own.moon.until = seat === undefined ? undefined : match.time.play + match.settings.shines
  for (const fish of match.use(roster).inPlay())
    match.use(waters).point(fish, fish === seat ? undefined : seat)
}

/** Minnows graze, pikes bite, and who eats the moonfly shines. */
export const pondRule = shape.does({
  refusals: {
    'too-far': 'That is out of reach. Swim nearer first.',
    'no-food': 'Only minnows eat midges. Look for a minnow.',
    'no-prey': 'Only pikes bite, and only minnows. Look for a minnow.',
    'in-reeds': 'No pike fits into the reeds. Wait until it comes out.',
    'out-of-breath': 'A pike that has bitten catches its breath first. Wait a moment.',
    'in-shoal': 'A young shoal stands firm. Wait until it is older, then scatter it.',
  },
  discloses: [
    ...['areas.spots.x', 'areas.spots.y'].map((secret) => ({
      secret,
      by: ['time', 'pond.scattered', 'pond.ate'],
      to: 'everyone',
      why: 'a hint and double points tell of the fish that shines, and who scatters a shoal is beside it',
    })),
    {
      secret: 'pond.fish.shoal',
      by: ['pond.scattered', 'pond.bitten', 'pond.ate'],
      to: 'everyone',
      why: 'what is scattered was a shoal, what is bitten was none, and points tell the worth of a midge',
    },
    { secret: 'areas.things.kind', by: 'pond.ate', to: 'everyone', why: 'it shows by points, or by light' },
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
        if (found === undefined || !match.use(waters).isWithin(seat, found, REACH)) return refuse('too-far')
        if (!match.use(vitals).isUp(seat)) return refuse('down', { seat })
        const isMidge = found.kind === 'midge'
        if (isMidge && !isMinnow(match, seat)) return refuse('no-food')
        match.use(waters).remove(thing)
        if (isMidge) return match.use(scores).give({ seat, amount: worth(match, seat), reason: 'midge' })
        shine(match, seat)
        match.timers.start('fade', { in: match.settings.shines })
        return match.emit('shines', { seat })
      },
    },
    bit: {
      input: { by: seatRef(), target: seatRef() },
      handle(match, { by, target }) {
        if (isMinnow(match, by) || !isMinnow(match, target)) return refuse('no-prey')
        const spot = match.use(waters).spot(target)
        if (spot === undefined || !match.use(waters).isWithin(by, spot, REACH)) return refuse('too-far')
        if (reedsAt(spot) !== undefined) return refuse('in-reeds')
        if (match.time.play < match.own.fish.of(by).bites) return refuse('out-of-breath')
        const { shoal, since } = match.own.fish.of(target)
        if (shoal && match.time.play - since < match.settings.firm) return refuse('in-shoal')
        if (shoal) scatter(match, by, target)
        if (shoal) return breathe(match, by)
        const ruling = match.use(vitals).hurt({ target, by, amount: match.use(vitals).health(target) })
        if (!ruling.ok || ruling.idle) return ruling
        breathe(match, by)
        match.emit('bitten', { seat: target, by })
        return match.use(scores).give({ seat: by, amount: 4 * MIDGE, reason: 'bite' })
      },
    },
  },
  timers: {
    hatch: (match) => hatch(match),
    moon(match) {
      if (match.use(waters).count('moonfly') === 0) match.use(waters).add('moonfly', somewhere(match))
    },
    gather: (match) => gather(match),
    fade: { band: 'lapse', fire: (match) => shine(match, undefined) },
  },
  on: {
    'phases.live-began'(match) {
      for (const seat of match.use(roster).inPlay()) enter(match, seat)
      hatch(match)
      match.timers.start('hatch', { every: seconds(1) })
      match.timers.start('moon', { every: seconds(30) })
      match.timers.start('gather', { every: 500 })
    },
    'roster.joined'(match, { seat }) {
      if (match.use(phases).phase() === 'live') enter(match, seat)
    },
    'vitals.life-began'(match, { seat, life }) {
      if (life > 1) enter(match, seat)
    },
    /** The best fish of the side that has won. */
    'verdict.reached'(match, { winners }) {
      const [best] = [...winners].sort((a, b) => match.use(scores).of(b) - match.use(scores).of(a))
      if (best !== undefined) match.emit('best', { seat: best, points: match.use(scores).of(best) })
    },
  },
})

/** When time is up, the side wins that has more points for each fish. */
const mostPerHead = condition({
  name: 'most-per-head',
  atTime: true,
  judge(_, { timeUp, sides }) {
    if (!timeUp || sides.length === 0) return undefined
    const share = ({ score, seats }: (typeof sides)[number]): number => score / seats.length
    const most = Math.max(...sides.map(share))
    const best = sides.filter((side) => share(side) === most)
    return { winners: best.flatMap(({ seats }) => seats), reason: 'most-per-head' }
  },
})

/** Up to a hundred fish, three minnows to a pike, for five minutes. Each sees what is near it. */
export const pikePond = defineRulebook({
  name: 'pike-pond',
  seats: { min: 4, max: 100 },
  rules: [
    teams({ count: 2, sizes: [75, 25] }),
    rounds({ length: minutes(5) }),
    vitals({ max: 1, healthSeen: 'everyone' }),
    // With a hundred fish, a notice of every bite would hide all others.
    scores({ ledgerSeen: 'nobody' }),
    credit({ points: { kill: 0 } }),
    respawn({ after: seconds(3), protectFor: seconds(2) }),
    waters,
    verdict({ when: [mostPerHead] }),
    pondRule,
  ],
})
