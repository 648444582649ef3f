import type { Seat } from '../../cells/index.ts'
import { withEntry, withItem, withoutItem } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import { areas } from '../areas/areas.ts'
import { apart } from '../areas/nearness.ts'
import { coordinate, type Point } from '../areas/shape.ts'
import { phases } from '../phases/phases.ts'
import { whenOutOfPlay, whenPlayBegins, whenPlayEnds } from '../play.ts'
import { roster } from '../roster/roster.ts'
import { SWITCHED } from '../teams/shape.ts'
import { vitals } from '../vitals/vitals.ts'
import { delayOf } from './delay.ts'
import { bow, giveBack, giveLives, giveMore, renewLives, takeLife, takeReturn, welcome } from './lives.ts'
import { placeFor } from './places.ts'
import { type Match, shape } from './shape.ts'

/** A new life begins somewhere: the seat's client is ordered there, and the rule that knows positions puts it there. */
function settleIn(match: Match, seat: Seat, life: number, begins: boolean) {
  const order = match.own.orders.of(seat)
  if (order.life === life) return
  const place = placeFor(match, seat, begins)
  order.life = life
  order.place = place?.name ?? ''
  order.arrived = false
  if (place === undefined) return
  const { name, x, y } = place
  match.own.places.usedAt = withEntry(match.own.places.usedAt, name, match.time.play)
  match.use(areas)?.put(seat, { x, y })
  match.emit('move', { seat, life, place: name, x, y })
}

/** Its time has come: it is back, unless it is absent or has to ask. */
function fallDue(match: Match, seat: Seat) {
  const { waiting, back } = match.own
  if (!match.use(roster).isHere(seat)) waiting.held = [...waiting.held, seat]
  else if (match.settings.ask) back.of(seat).waits = true
  else comeBack(match, seat)
}

function comeBack(match: Match, seat: Seat) {
  match.use(vitals).revive(seat)
  const life = match.use(vitals).life(seat)
  settleIn(match, seat, life, false)
  match.use(vitals).protect(seat, match.settings.protectFor)
  match.emit('back', { seat, life })
}

/** Brings back all seats of this wave, by seat number, in one step. */
function bringWave(match: Match, due: number) {
  for (const seat of match.use(roster).inPlay()) if (match.own.back.of(seat).due === due) fallDue(match, seat)
}

function cancel(match: Match, seat: Seat, why: string) {
  const back = match.own.back.of(seat)
  if (back.due === undefined) return
  match.timers.cancel('back', seat)
  back.due = undefined
  back.waits = false
  match.own.waiting.held = match.own.waiting.held.filter((each) => each !== seat)
  giveBack(match, seat, why)
  match.emit('cancelled', { seat, why })
}

function cancelAll(match: Match, why: string) {
  for (const seat of match.use(roster).all()) cancel(match, seat, why)
}

/** The down uses up a life, unless the seat has changed teams. A seat with none left is out. */
function afterDown(match: Match, seat: Seat, isSpared: boolean) {
  if (isSpared || takeLife(match, seat)) schedule(match, seat)
  else bow(match, seat)
}

function schedule(match: Match, seat: Seat) {
  const played = match.time.play - match.own.round.began
  const downs = Math.max(1, match.own.lives.of(seat).downs)
  match.resolve('schedule', { seat, after: delayOf(match.settings, downs, played) })
}

/** A seat that left while it was down waits again. Its life is already used; its team's return is not. Who is out stays out. */
function resume(match: Match, seat: Seat) {
  if (match.use(phases).phase() !== 'live' || !match.use(roster).isInPlay(seat)) return
  const { place } = match.own.orders.of(seat)
  const spot = match.settings.places.find(({ name }) => name === place)
  if (match.use(vitals).isUp(seat)) {
    if (spot !== undefined) match.use(areas)?.put(seat, spot)
  } else if (takeReturn(match, seat)) schedule(match, seat)
  else bow(match, seat)
}

function beginRound(match: Match) {
  match.own.round.began = match.time.play
  if (match.settings.growsPer === 'round')
    for (const seat of match.use(roster).all()) match.own.lives.of(seat).downs = 0
  renewLives(match)
}

function arrive(match: Match, seat: Seat, at: Point) {
  const order = match.own.orders.of(seat)
  const { arriveWithin, places } = match.settings
  const place = places.find(({ name }) => name === order.place)
  if (place === undefined) return refuse('no-order', { seat })
  if (arriveWithin !== null && apart(at, place) > arriveWithin * arriveWithin)
    return refuse('not-at-place', { place: place.name, x: place.x, y: place.y, most: arriveWithin })
  if (order.arrived) return undefined
  order.arrived = true
  match.emit('arrived', { seat })
  return undefined
}

/** Brings back a seat that went down, as long as it has lives left: after a while, at a place, protected at first. */
export const respawn = shape.does({
  refusals: {
    'not-due': 'The time to come back has not come. Wait for it.',
    'no-order':
      'This seat has no pending order to move, so there is nothing to acknowledge. Wait until it is brought back.',
    'not-at-place': 'That is too far from where your seat was ordered to. Go there first.',
  },
  discloses: [
    {
      secret: 'respawn.orders.place',
      by: ['respawn.arrived', 'roster.join'],
      to: 'everyone',
      why: 'who is ordered up, or joins again, stands there',
    },
  ],
  // An order has its seat's life. Whether it was carried out decides where the body is.
  varies: { orders: ['place'] },
  setUp: giveLives,
  apply: {
    schedule(match, { seat, after }) {
      const due = match.time.play + after
      if (match.settings.mode === 'wave') match.timers.start('wave', { at: due, key: String(due) })
      else match.timers.start('back', { at: due, key: seat })
      match.own.back.of(seat).due = due
      match.emit('scheduled', { seat, due })
    },
  },
  actions: {
    /** Brings a seat back whose time has come, if seats have to ask. */
    ask: {
      input: {},
      decide(match, seat) {
        if (match.use(vitals).isUp(seat)) return refuse('not-down', { seat })
        const { due, waits } = match.own.back.of(seat)
        if (!waits) return refuse('not-due', { seat, due })
        return comeBack(match, seat)
      },
    },
    /** A client says that it has gone where it was ordered. Send it with the life: one of an earlier life is stale. */
    arrive: {
      input: { x: coordinate, y: coordinate },
      decide: (match, seat, at) => arrive(match, seat, at),
    },
  },
  timers: { back: fallDue, wave: { keyedBy: 'text', fire: (match, due) => bringWave(match, Number(due)) } },
  on: {
    'vitals.life-began': (match, { seat, life }) => settleIn(match, seat, life, true),
    'vitals.down'(match, { seat, cause }) {
      const { waiting } = match.own
      waiting.fallen = [...waiting.fallen, seat]
      if (cause === SWITCHED) waiting.spared = [...waiting.spared, seat]
    },
    // A down that ended in a raise costs no life.
    'vitals.raised': (match, { seat }) => cancel(match, seat, 'raised'),
    'roster.joined': (match, { seat }) => welcome(match, seat),
    'roster.came-back': (match, { seat }) => resume(match, seat),
    ...whenOutOfPlay(cancel),
    'roster.returned'(match, { seat }) {
      if (!match.own.waiting.held.includes(seat)) return
      match.own.waiting.held = match.own.waiting.held.filter((each) => each !== seat)
      fallDue(match, seat)
    },
    ...whenPlayBegins(beginRound),
    ...whenPlayEnds(cancelAll),
  },
  settle: {
    tier: 'return',
    wokenBy: ['waiting'],
    run(match) {
      const { fallen, spared } = match.own.waiting
      if (fallen.length === 0) return
      match.own.waiting.fallen = []
      if (spared.length > 0) match.own.waiting.spared = []
      for (const seat of fallen)
        if (!match.use(vitals).isUp(seat) && match.use(phases).phase() === 'live')
          afterDown(match, seat, spared.includes(seat))
    },
  },
  calls: {
    /** Returns the lives that are left, including the present one, or nothing if there is no limit. */
    lives: (match, seat: Seat): number | undefined => match.own.lives.of(seat).left,
    /** Returns where a seat's present life began, or nothing if it has no place. */
    place: (match, seat: Seat): string | undefined => match.own.orders.of(seat).place || undefined,
    /** Gives a seat more lives or, if they are shared, its team more returns. See `reclaim`. */
    give: (match, seat: Seat, lives: number) => giveMore(match, seat, lives),
    /** With 'growing': the seat's next down counts as its first. */
    forgetDowns(match, seat: Seat) {
      match.own.lives.of(seat).downs = 0
    },
    /** Nobody comes back at this place until it is free again. */
    block(match, place: string) {
      match.own.places.blocked = withItem(match.own.places.blocked, place)
    },
    /** Makes a place usable again. */
    free(match, place: string) {
      match.own.places.blocked = withoutItem(match.own.places.blocked, place)
    },
  },
})
