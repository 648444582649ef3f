import {
  declareRule,
  defineRulebook,
  everyone,
  flag,
  int,
  list,
  type MatchOf,
  maybe,
  minutes,
  owner,
  perSeat,
  refuse,
  type Seat,
  seatRef,
  seconds,
  single,
} from 'zinc-referee'
import { condition, holds, roster, rounds, scores, verdict } from 'zinc-referee/rules'
import { fields, must, setting, whole } from 'zinc-referee/settings'

const CUP = seconds(1) // how long a cup takes to fill
const FIFTHS = 5

const shape = declareRule({
  name: 'kettle',
  needs: [holds, roster, rounds, scores],
  settings: fields({
    /** The kettle boils over after a time between these two, in ms of play time. Nobody knows when. */
    soonest: setting(whole({ min: 1 }), seconds(10)),
    latest: setting(whole({ min: 1 }), seconds(30)),
    /** How many cups must be full before it can be handed on. */
    fill: setting(whole({ min: 0 }), 2),
    /** How long it must have been held before a neighbour can take it, in ms of play time. */
    looseAfter: setting(whole({ min: 1 }), seconds(3)),
    /** Number of places round the fire that a paw reaches. */
    reach: setting(whole({ min: 1 }), 2),
  }).check(must(({ soonest, latest }) => soonest <= latest, "'soonest' must not be after 'latest'")),
  state: {
    /** How hot it is, in fifths, and how long a fifth takes. */
    fire: single({ heat: int(0), fifth: int(0) }),
    /** Since when it has been in these hands, on the play clock; whether it can be handed on or taken; who had it before. */
    hands: single({
      since: int(0).seenBy(everyone),
      full: flag(false).seenBy(everyone),
      loose: flag(false).seenBy(everyone),
      before: list(seatRef(), []).seenBy(everyone),
    }),
    /** How hot the kettle feels in one's paws, and when one last let go of it. */
    paws: perSeat({ heat: maybe(int()).seenBy(owner), letGo: int(-1) }),
  },
  events: {
    counted: { seat: seatRef().seenBy(everyone), cups: int().seenBy(everyone) },
    taken: { seat: seatRef().seenBy(everyone), from: seatRef().seenBy(everyone) },
    boiled: { seat: seatRef().seenBy(everyone), spilt: int().seenBy(everyone) },
  },
  timers: ['warm', 'fill', 'loosen'],
})
type Match = MatchOf<typeof shape>

/** How many places round the ring two seats are apart. A seat that is out leaves no gap. */
function apart(match: Match, one: Seat, other: Seat): number {
  const ring = match.use(roster).inPlay()
  const steps = Math.abs(ring.indexOf(one) - ring.indexOf(other))
  return Math.min(steps, ring.length - steps)
}

/** Whom the holder can hand it to: within reach, and not back to the last two who had it, or the last of three. */
function reached(match: Match, seat: Seat): Seat[] {
  const ring = match.use(roster).inPlay()
  const barred = match.own.hands.before.slice(0, Math.max(0, ring.length - 2))
  return ring.filter(
    (other) => other !== seat && apart(match, seat, other) <= match.settings.reach && !barred.includes(other),
  )
}

const cupsOf = (match: Match): number => Math.floor((match.time.play - match.own.hands.since) / CUP)

function count(match: Match, seat: Seat, cups: number) {
  match.use(scores).give({ seat, amount: cups, reason: 'cups' })
  match.emit('counted', { seat, cups })
}

/** It is cold again, and will boil over after a time that nobody knows. */
function coolDown(match: Match) {
  const { soonest, latest } = match.settings
  match.own.fire.heat = 0
  match.own.fire.fifth = Math.ceil(match.chance('fire').int(soonest, latest) / FIFTHS)
  match.own.hands.before = []
  match.timers.start('warm', { in: match.own.fire.fifth })
}

function begin(match: Match) {
  coolDown(match)
  const first = match.chance('serve').pick(match.use(roster).inPlay())
  if (first !== undefined) match.use(holds).take(first, 'kettle')
}

function rest(match: Match, seat: Seat) {
  match.own.hands.since = match.time.play
  match.own.hands.full = match.settings.fill === 0
  match.own.hands.loose = false
  match.own.paws.of(seat).heat = match.own.fire.heat
  match.timers.start('fill', { in: match.settings.fill * CUP })
  match.timers.start('loosen', { in: match.settings.looseAfter })
}

function warm(match: Match) {
  const { fire } = match.own
  const holder = match.use(holds).holder('kettle')
  fire.heat += 1
  if (fire.heat === FIFTHS) return boilOver(match)
  if (holder !== undefined) match.own.paws.of(holder).heat = fire.heat
  match.timers.start('warm', { in: fire.fifth })
}

/** What has not counted is spilt, and the kettle goes to who has fewest cups, of these to who has waited longest. */
function boilOver(match: Match) {
  const from = match.use(holds).holder('kettle')
  if (from !== undefined) match.emit('boiled', { seat: from, spilt: cupsOf(match) })
  coolDown(match)
  const waiting = [...match.use(roster).inPlay()].sort(
    (a, b) =>
      match.use(scores).of(a) - match.use(scores).of(b) ||
      match.own.paws.of(a).letGo - match.own.paws.of(b).letGo,
  )
  const to = waiting.find((seat) => seat !== from)
  if (from !== undefined && to !== undefined) match.use(holds).pass({ thing: 'kettle', from, to })
}

/** A kettle goes round the fire: it fills a cup a second for its holder, who must hand it on before it boils over. */
export const kettle = shape.does({
  refusals: {
    'too-far': 'That paw is too far round the fire, or has just had it. Hand the kettle to another.',
    'fill-first': 'The cups are not full yet. Hold the kettle for a moment.',
    'too-firm': 'The kettle is still held firmly. Wait a moment longer.',
  },
  discloses: [
    { secret: 'kettle.paws.heat', by: 'kettle.boiled', to: 'everyone', why: 'what boils over was hot' },
  ],
  actions: {
    /** Hands the kettle on: what was filled counts. */
    hand: {
      offered: true,
      input: { to: seatRef() },
      options: (match, seat) => reached(match, seat).map((to) => ({ to })),
      decide(match, from, { to }) {
        const isHolder = match.use(holds).holder('kettle') === from
        if (isHolder && !reached(match, from).includes(to)) return refuse('too-far', { to })
        if (isHolder && !match.own.hands.full) return refuse('fill-first', { cups: match.settings.fill })
        const cups = cupsOf(match)
        const ruling = match.use(holds).pass({ thing: 'kettle', from, to })
        if (ruling.ok) count(match, from, cups)
        return ruling
      },
    },
    /** Takes the kettle from a neighbour: half of what was filled counts for the neighbour. */
    take: {
      offered: true,
      input: {},
      decide(match, to) {
        const from = match.use(holds).holder('kettle')
        if (from === undefined || from === to || apart(match, from, to) > 1) return refuse('too-far')
        if (!match.own.hands.loose) return refuse('too-firm')
        count(match, from, Math.floor(cupsOf(match) / 2))
        match.emit('taken', { seat: to, from })
        return match.use(holds).pass({ thing: 'kettle', from, to })
      },
    },
  },
  timers: {
    warm,
    fill(match) {
      match.own.hands.full = true
    },
    loosen(match) {
      match.own.hands.loose = true
    },
  },
  on: {
    'rounds.began': begin,
    'holds.passed'(match, { from, to }) {
      if (from !== '') {
        match.own.hands.before = [from, ...match.own.hands.before].slice(0, 2)
        match.own.paws.of(from).heat = undefined
        match.own.paws.of(from).letGo = match.time.play
      }
      if (to !== '') rest(match, to)
    },
  },
})

/** Most cups win; of these, who has held the kettle for less time. */
const mostCups = condition({
  name: 'most-cups',
  atTime: true,
  judge(_, { timeUp, sides }) {
    const [best, ...others] = [...sides].sort((a, b) => b.score - a.score || a.held - b.held)
    if (!timeUp || best === undefined) return undefined
    const level = others.filter(({ score, held }) => score === best.score && held === best.held)
    return { winners: [best, ...level].flatMap(({ seats }) => seats), reason: 'most-cups' }
  },
})

/** Three to eight seats round a fire, four minutes. */
export const kettleWatch = defineRulebook({
  name: 'kettle-watch',
  seats: { min: 3, max: 8 },
  rules: [
    rounds({ length: minutes(4) }),
    scores,
    holds({ things: ['kettle'], onLeave: 'random' }),
    verdict({ when: [mostCups] }),
    kettle,
  ],
})
