import { type Seat, seatRef, text } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { areas } from '../areas/areas.ts'
import { phases } from '../phases/phases.ts'
import { whenOutOfPlay, whenPlayBegins, whenPlayEnds } from '../play.ts'
import { roster } from '../roster/roster.ts'
import { scores } from '../scores.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'
import { aimAtGoal, giveTime, goalOf, heldBy, reachGoal, runFor, setGoal, stopTime } from './held-time.ts'
import { type Push, pushOf } from './push.ts'
import { HEAD, type Match, shape, type Zone } from './shape.ts'

const countsTime = (match: Match): boolean => match.config.counts === 'time'

const zoneOf = (match: Match, name: string): Zone | undefined => match.own.zones.where({ name })[0]

const sideOf = (match: Match, seat: Seat): string => String(match.use(teams)?.of(seat) ?? seat)

const isIn = (match: Match, seat: Seat, zone: string): boolean => match.own.present.of(seat).in.has(zone)

function mark(match: Match, seat: Seat, zone: string, inside: boolean) {
  const present = match.own.present.of(seat)
  if (present.in.has(zone) === inside) return
  present.in = new Set(inside ? [...present.in, zone] : [...present.in].filter((each) => each !== zone))
  match.own.step.stirred = true
  match.emit(inside ? 'entered' : 'left', { seat, zone })
}

/** A seat that is down, sidelined or gone is in no zone. */
function leaveAll(match: Match, seat: Seat) {
  for (const zone of match.own.present.of(seat).in) mark(match, seat, zone, false)
}

function headsIn(match: Match, zone: string): ReadonlyMap<string, number> {
  const heads = new Map<string, number>()
  for (const seat of match.seats) {
    if (!isIn(match, seat, zone)) continue
    const side = sideOf(match, seat)
    heads.set(side, (heads.get(side) ?? 0) + 1)
  }
  return heads
}

/** Its progress right now, exactly. */
const progressOf = (match: Match, { progress, rate, since, full }: Zone): number =>
  Math.min(full, Math.max(0, progress + rate * (match.time.play - since)))

/** With nobody in it, an owned zone goes back to whole, and a free one to nothing. */
function rateWhenEmpty(match: Match, zone: Zone): number {
  if (match.settings.whenEmpty !== 'drains') return 0
  return zone.owner === '' ? -HEAD : HEAD
}

/** Says who pushes a zone, and that several sides are in it. */
function look(match: Match, zone: Zone, heads: ReadonlyMap<string, number>) {
  const push = pushOf(heads, match.settings)
  if (push.contested && !zone.contested) match.emit('contested', { zone: zone.name })
  zone.contested = push.contested
  return push
}

/**
 * Where the zone goes from now on, and when it gets there. What goes there already goes on as it is: a new `since` would
 * tell everyone that something hidden was weighed.
 */
function aim(match: Match, zone: Zone) {
  const { name, side, owner, full } = zone
  const heads = headsIn(match, name)
  const push = look(match, zone, heads)
  const isReset = heads.size === 0 && match.settings.whenEmpty === 'resets'
  const before = progressOf(match, zone)
  const progress = isReset ? (owner === '' ? 0 : full) : before
  if (push.heads > 0 && progress === 0 && owner === '') zone.side = push.side
  const wanted = push.heads > 0 ? rateFor(match, zone, push) : heads.size > 0 ? 0 : rateWhenEmpty(match, zone)
  const left = wanted > 0 ? full - progress : progress
  const rate = left === 0 ? 0 : wanted
  if (zone.side === side && progress === before && rate === zone.rate) return
  zone.progress = progress
  zone.since = match.time.play
  zone.rate = rate
  if (rate === 0) match.timers.cancel('reach', name)
  else match.timers.start('reach', { in: Math.ceil(left / Math.abs(rate)), key: name })
}

/** How fast the side that pushes moves it: forth if the progress is its own. */
function rateFor(match: Match, { name, side }: Zone, push: Push): number {
  const { amount } = match.weigh('rate', { zone: name, side: push.side, amount: push.heads * HEAD })
  return push.side === side ? amount : -amount
}

function capture(match: Match, zone: Zone) {
  zone.owner = zone.side
  zone.captor = match.seats.find((seat) => isIn(match, seat, zone.name) && sideOf(match, seat) === zone.side)
  match.emit('captured', { zone: zone.name, side: zone.side, by: zone.captor })
  const { scoreEvery } = match.settings
  if (scoreEvery !== null) match.timers.start('pay', { every: scoreEvery, key: zone.name })
}

function lose(match: Match, zone: Zone) {
  const side = zone.owner
  zone.owner = ''
  zone.captor = undefined
  match.timers.cancel('pay', zone.name)
  match.emit('lost', { zone: zone.name, side })
}

function reach(match: Match, name: string) {
  const zone = zoneOf(match, name)
  if (zone === undefined) return
  const progress = progressOf(match, zone)
  if (zone.owner === '' && progress === zone.full) capture(match, zone)
  else if (zone.owner !== '' && progress === 0) lose(match, zone)
  aim(match, zone)
}

/**
 * The seat that captured it gets the points while it is in play on that side; otherwise that side's lowest seat in
 * play.
 */
function pay(match: Match, name: string) {
  const zone = zoneOf(match, name)
  if (zone === undefined) return
  const { owner: side, captor, contested } = zone
  if (contested && !match.settings.contestedScores) return
  const able = match
    .use(roster)
    .inPlay()
    .filter((seat) => sideOf(match, seat) === side)
  const seat = able.find((each) => each === captor) ?? able[0]
  if (seat === undefined) return
  match.emit('paid', { zone: name, side, seat })
  match.use(scores)?.give({ seat, amount: match.settings.points, reason: 'zone-held' })
}

function beginRound(match: Match) {
  match.own.step.stirred = true
  for (const name of match.config.names)
    match.own.zones.add({ name, full: match.settings.needed * HEAD, since: match.time.play })
}

/** Zones stand still until they begin again with the next round. */
function rest(match: Match) {
  for (const zone of match.own.zones.all()) {
    if (countsTime(match)) {
      stopTime(match, zone)
      continue
    }
    zone.progress = progressOf(match, zone)
    zone.since = match.time.play
    zone.rate = 0
    for (const timer of ['reach', 'pay'] as const) match.timers.cancel(timer, zone.name)
  }
}

const unknown = (match: Match, zone: string) =>
  refuse('bad-input', { issues: [`'zone' must be one of ${match.config.names.join(', ')}, not '${zone}'`] })

function enter(match: Match, seat: Seat, zone: string) {
  if (zoneOf(match, zone) === undefined) return unknown(match, zone)
  if (match.config.places?.[zone] !== undefined) return refuse('zone-has-place', { zone })
  if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
  if (match.use(vitals)?.isUp(seat) === false) return refuse('target-down', { target: seat })
  return mark(match, seat, zone, true)
}

function leave(match: Match, seat: Seat, zone: string) {
  if (zoneOf(match, zone) === undefined) return unknown(match, zone)
  if (match.config.places?.[zone] !== undefined) return refuse('zone-has-place', { zone })
  return mark(match, seat, zone, false)
}

/** A seat that is up and in play is in each zone whose place is within reach of its position. */
function lookAround(match: Match) {
  for (const [zone, { reach, ...point }] of Object.entries(match.config.places ?? {}))
    for (const seat of match.use(roster).inPlay()) {
      const isNear = match.use(areas)?.isWithin(seat, point, reach) ?? false
      mark(match, seat, zone, isNear && match.use(vitals)?.isUp(seat) !== false)
    }
}

const stir = (match: Match) => {
  match.own.step.stirred = true
}

/** Zones that sides take by being in them, and hold until another side has pushed them out. No timer ticks. */
export const zones = shape.does({
  refusals: {
    'zone-has-place': 'Positions decide who is in this zone. Report where the seat is instead.',
  },
  discloses: ['areas.spots.x', 'areas.spots.y'].map((secret) => ({
    secret,
    by: ['zones.entered', 'zones.left', 'time'],
    to: 'everyone',
    why: 'whose zone it is and who pushes it tells who stands there',
  })),
  apply: { rate() {} },
  facts: {
    /** Reports that a seat has entered a zone. */
    enter: {
      input: { seat: seatRef(), zone: text() },
      handle: (match, { seat, zone }) => enter(match, seat, zone),
    },
    /** Reports that a seat has left a zone. */
    leave: {
      input: { seat: seatRef(), zone: text() },
      handle: (match, { seat, zone }) => leave(match, seat, zone),
    },
  },
  timers: {
    reach: { band: 'inner', keyedBy: 'text', fire: reach },
    pay: { band: 'inner', keyedBy: 'text', fire: pay },
    goal: { band: 'inner', keyedBy: 'text', fire: reachGoal },
  },
  on: {
    ...whenPlayBegins(beginRound),
    ...whenPlayEnds(rest),
    'vitals.down': (match, { seat }) => leaveAll(match, seat),
    ...whenOutOfPlay(leaveAll),
    'vitals.raised': stir,
    'vitals.life-began': stir,
    'teams.switched': stir,
  },
  /** A new `goal`, `perHead`, `maxHeads` or `contested` counts at once, also for what runs. */
  changed(match) {
    stir(match)
  },
  settle: {
    wokenBy: ['step', 'areas.spots'],
    run(match) {
      const isLive = match.use(phases).phase() === 'live'
      if (isLive) lookAround(match)
      if (!match.own.step.stirred) return
      match.own.step.stirred = false
      if (!isLive) return
      for (const zone of match.own.zones.all())
        if (countsTime(match)) runFor(match, zone, look(match, zone, headsIn(match, zone.name)))
        else aim(match, zone)
      if (countsTime(match)) aimAtGoal(match)
    },
  },
  calls: {
    /** Counts again how much each side makes, after something has changed that an amendment of `rate` reads. */
    weighAgain: stir,
    /** Returns how long a seat's side has had zones to itself in this round, in ms, over all zones. */
    heldBy: (match, seat: Seat): number => Math.floor(heldBy(match, sideOf(match, seat)) / HEAD),
    /** Returns the time at which `firstToHold` decides, in ms, or nothing if there is none. */
    goal: (match): number | undefined => goalOf(match),
    /** With `counts: 'time'`: gives a seat's side this many ms in a zone, besides what it gets for being there. */
    giveTime(match, seat: Seat, name: string, ms: number) {
      const zone = zoneOf(match, name)
      if (zone === undefined) return unknown(match, name)
      giveTime(match, zone, sideOf(match, seat), ms)
      return stir(match)
    },
    /** Sets the time at which `firstToHold` decides for the rest of the round, in ms. Nothing: by the setting. */
    setGoal(match, ms: number | undefined) {
      setGoal(match, ms)
      stir(match)
    },
    /** Puts a seat into a zone. */
    enter,
    /** Takes a seat out of a zone. */
    leave,
    /** True if the seat is in the zone. */
    isIn,
    /** Returns the side that has it: a team by its number, or a seat; '' means nobody. */
    owner: (match, zone: string): string => zoneOf(match, zone)?.owner ?? '',
    /** Returns whose progress it is, and how far it has come, of 1000. */
    progress(match, name: string): { readonly side: string; readonly of1000: number } {
      const zone = zoneOf(match, name)
      return zone === undefined
        ? { side: '', of1000: 0 }
        : { side: zone.side, of1000: Math.floor((progressOf(match, zone) * 1000) / zone.full) }
    },
  },
})
