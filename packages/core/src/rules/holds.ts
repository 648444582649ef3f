import { everyone, int, map, perSeat, type Seat, seatRef, single, text } from '../cells/index.ts'
import { withEntry } from '../kit/index.ts'
import { declareRule, type MatchOf, refuse } from '../rule/index.ts'
import { fields, oneOf, setting, whole } from '../settings/index.ts'
import { phases } from './phases/phases.ts'
import { whenOutOfPlay, whenPlayBegins, whenPlayEnds } from './play.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'
import { largestRemainder } from './shares.ts'
import { vitals } from './vitals/vitals.ts'

/** Who gets a thing if its holder goes down, is sidelined or leaves. */
const heirs = ['nobody', 'random', 'previous', 'fewest'] as const
const heir = oneOf(...heirs)

const shape = declareRule({
  name: 'holds',
  needs: [roster, phases],
  knows: [vitals, rounds],
  config: ({ things }: { readonly things: readonly [string, ...string[]] }) => ({ things }),
  settings: fields({
    /** How long a thing can't be passed straight back to the seat it came from, in ms of play time. */
    passLock: setting(whole({ min: 0 }), 0),
    /** How long nobody can take a thing that has just come free, in ms of play time. */
    takeLock: setting(whole({ min: 0 }), 0),
    /** Who gets a thing whose holder goes down. */
    onDown: setting(heir, 'nobody'),
    /** Who gets a thing whose holder leaves or is sidelined. */
    onLeave: setting(heir, 'nobody'),
    /** Whether an absent seat keeps or drops what it holds. */
    absentHold: setting(oneOf('keeps', 'drops'), 'keeps'),
  }),
  state: {
    /** For each thing: who holds it, and since when on the play clock. Without `since`, its time stands still. */
    now: single({
      holder: map(seatRef()).seenBy(everyone),
      since: map(int()).seenBy(everyone),
      giver: map(seatRef()),
      lockedUntil: map(int()),
      /** How long nobody has held it, in ms. */
      free: map(int()).seenBy(everyone),
    }).each('round'),
    /** For each thing: how long a seat has held it, in ms, up to its present stretch. */
    totals: perSeat({ held: map(int()).seenBy(everyone) }).each('round'),
  },
  events: {
    /** A thing went from one seat to another, or to nobody. */
    passed: {
      thing: text().seenBy(everyone),
      /** Nobody if it was free. */
      from: text().seenBy(everyone),
      to: text().seenBy(everyone),
      why: text().seenBy(everyone),
    },
  },
  drafts: {
    /** A thing is to go from one seat to another. */
    pass: { thing: text(), from: seatRef(), to: seatRef() },
  },
})
type Match = MatchOf<typeof shape>
type Heir = (typeof heirs)[number]

/** Adds the running stretch to whoever had the thing during it. */
function closeStretch(match: Match, thing: string) {
  const { now } = match.own
  const since = now.since.get(thing)
  if (since === undefined) return
  const ms = match.time.play - since
  const holder = now.holder.get(thing)
  if (ms > 0) {
    if (holder === undefined) now.free = withEntry(now.free, thing, (now.free.get(thing) ?? 0) + ms)
    else {
      const total = match.own.totals.of(holder)
      total.held = withEntry(total.held, thing, (total.held.get(thing) ?? 0) + ms)
    }
  }
  now.since = withEntry(now.since, thing, undefined)
}

/** Closes the current stretch now and opens the next one. */
function move(match: Match, thing: string, to: Seat | undefined, why: string) {
  const { now } = match.own
  const from = now.holder.get(thing)
  closeStretch(match, thing)
  now.holder = withEntry(now.holder, thing, to)
  now.since = withEntry(now.since, thing, match.time.play)
  now.giver = withEntry(now.giver, thing, from)
  const lock = to === undefined ? match.settings.takeLock : match.settings.passLock
  now.lockedUntil = withEntry(now.lockedUntil, thing, match.time.play + lock)
  match.emit('passed', { thing, from: from ?? '', to: to ?? '', why })
}

const isLocked = (match: Match, thing: string): boolean =>
  (match.own.now.lockedUntil.get(thing) ?? 0) > match.time.play

const mayHold = (match: Match, seat: Seat): boolean =>
  match.use(roster).isInPlay(seat) && (match.use(vitals)?.isUp(seat) ?? true)

/** Returns how long a seat has had a thing, or all things, in ms, including the present stretch. */
function total(match: Match, seat: Seat, thing?: string): number {
  const things = thing === undefined ? match.config.things : [thing]
  return things.map((each) => timeOf(match, seat, each)).reduce((sum, each) => sum + each, 0)
}

function timeOf(match: Match, seat: Seat | undefined, thing: string): number {
  const { holder, since, free } = match.own.now
  const closed = seat === undefined ? free.get(thing) : match.own.totals.of(seat).held.get(thing)
  const from = holder.get(thing) === seat ? since.get(thing) : undefined
  return (closed ?? 0) + (from === undefined ? 0 : match.time.play - from)
}

function heirOf(match: Match, thing: string, loser: Seat, how: Heir): Seat | undefined {
  const able = match.seats.filter((seat) => seat !== loser && mayHold(match, seat))
  if (able.length === 0 || how === 'nobody') return undefined
  if (how === 'random') return match.chance('heirs').pick(able)
  const giver = match.own.now.giver.get(thing)
  if (how === 'previous') return able.find((seat) => seat === giver)
  const fewest = Math.min(...able.map((seat) => total(match, seat, thing)))
  return able.find((seat) => total(match, seat, thing) === fewest)
}

/** Passes on whatever a seat holds, as the setting says. */
function release(match: Match, seat: Seat, how: Heir, why: string) {
  for (const thing of match.config.things)
    if (match.own.now.holder.get(thing) === seat) move(match, thing, heirOf(match, thing, seat, how), why)
}

function beginRound(match: Match) {
  for (const thing of match.config.things)
    match.own.now.since = withEntry(match.own.now.since, thing, match.time.play)
}

function closeAll(match: Match) {
  for (const thing of match.config.things) closeStretch(match, thing)
}

/**
 * Who holds which thing, since when, and how long each seat has held it. No timer ticks: totals are computed when a
 * thing moves.
 */
export const holds = shape.does({
  refusals: {
    'not-holding': 'The seat does not hold this thing. Take it first.',
    held: 'Somebody holds this thing. Wait until it is free.',
    'too-soon': 'The thing may not go there yet. Wait a moment, or give it to somebody else.',
  },
  apply: {
    pass(match, { thing, from, to }) {
      const { now } = match.own
      if (now.holder.get(thing) !== from) return refuse('not-holding', { thing, seat: from })
      if (from === to) return refuse('bad-input', { issues: [`'to' is who holds the ${thing} now`] })
      if (!match.use(roster).isInPlay(to)) return refuse('not-in-play', { target: to })
      if (!mayHold(match, to)) return refuse('target-down', { target: to })
      if (now.giver.get(thing) === to && isLocked(match, thing)) return refuse('too-soon', { thing })
      return move(match, thing, to, 'passed')
    },
  },
  on: {
    ...whenPlayBegins(beginRound),
    ...whenPlayEnds(closeAll),
    'vitals.down': (match, { seat }) => release(match, seat, match.settings.onDown, 'down'),
    ...whenOutOfPlay((match: Match, seat, why) => release(match, seat, match.settings.onLeave, why)),
    'roster.absent'(match, { seat }) {
      if (match.settings.absentHold === 'drops') release(match, seat, 'nobody', 'absent')
    },
  },
  calls: {
    /** Returns who holds a thing, or nothing if nobody does. */
    holder: (match, thing: string): Seat | undefined => match.own.now.holder.get(thing),
    /** Returns how long a seat has held things, in ms of play time. */
    total,
    /** Gives a free thing to a seat. */
    take(match, seat: Seat, thing: string) {
      if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
      if (!mayHold(match, seat)) return refuse('target-down', { target: seat })
      if (match.own.now.holder.has(thing)) return refuse('held', { thing })
      if (isLocked(match, thing)) return refuse('too-soon', { thing })
      return move(match, thing, seat, 'taken')
    },
    /** Frees a thing, whoever holds it. */
    drop(match, thing: string) {
      if (match.own.now.holder.has(thing)) move(match, thing, undefined, 'dropped')
    },
    /** Returns whole seconds for each seat, and for nobody under '', that add up to the seconds of the round. */
    shown(match, thing: string): ReadonlyMap<Seat, number> {
      const seats = ['', ...match.seating.all]
      const ms = seats.map((seat) => timeOf(match, seat === '' ? undefined : seat, thing))
      const whole = Math.floor(ms.reduce((sum, each) => sum + each, 0) / 1000)
      const shares = largestRemainder(ms, whole)
      return new Map(seats.map((seat, at) => [seat, shares[at] ?? 0]))
    },
  },
})
