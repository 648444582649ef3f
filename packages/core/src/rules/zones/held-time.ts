import { withEntry, withItem } from '../../kit/index.ts'
import type { Push } from './push.ts'
import { HEAD, type Match, type Zone } from './shape.ts'

/** Adds the time that has run since the last change to the side that had the zone to itself. */
export function addStretch(match: Match, zone: Zone) {
  const { side, rate, since } = zone
  const ms = match.time.play - since
  if (rate > 0 && ms > 0) zone.held = withEntry(zone.held, side, (zone.held.get(side) ?? 0) + rate * ms)
  zone.since = match.time.play
}

/** Stops the time of the side that had the zone to itself. */
export function stopTime(match: Match, zone: Zone) {
  addStretch(match, zone)
  match.timers.cancel('goal', zone.side)
  zone.side = ''
  zone.rate = 0
}

/**
 * Lets the time of the side run that has the zone to itself, if there is one. What runs already goes on as it is: a new
 * `since` would tell everyone that something hidden was weighed.
 */
export function runFor(match: Match, zone: Zone, push: Push) {
  const side = push.heads === 0 ? '' : push.side
  const rate =
    side === '' ? 0 : match.weigh('rate', { zone: zone.name, side, amount: push.heads * HEAD }).amount
  if (side === zone.side && rate === zone.rate) return
  stopTime(match, zone)
  zone.side = side
  zone.rate = rate
}

/** Returns a side's time over all zones, in thousandths of a ms. */
export function heldBy(match: Match, side: string): number {
  const now = match.time.play
  return match.own.zones
    .all()
    .reduce(
      (sum, zone) =>
        sum + (zone.held.get(side) ?? 0) + (zone.side === side ? zone.rate * (now - zone.since) : 0),
      0,
    )
}

/** Returns the time at which `firstToHold` decides, in ms, or nothing if there is none. */
export const goalOf = (match: Match): number | undefined =>
  match.own.goals.goal ?? match.settings.goal ?? undefined

/** A side reaches the goal exactly when its time is up to it, however many zones it has. */
export function aimAtGoal(match: Match) {
  const goal = goalOf(match)
  const rates = new Map<string, number>()
  for (const { side, rate } of match.own.zones.all())
    if (rate > 0) rates.set(side, (rates.get(side) ?? 0) + rate)
  for (const [side, rate] of rates)
    if (goal === undefined) match.timers.cancel('goal', side)
    else if (!match.own.goals.reached.has(side)) {
      const left = Math.max(0, goal * HEAD - heldBy(match, side))
      match.timers.start('goal', { in: Math.ceil(left / rate), key: side })
    }
}

/** The goal's timer has fired for a side. */
export function reachGoal(match: Match, side: string) {
  for (const zone of match.own.zones.all()) addStretch(match, zone)
  match.own.goals.reached = withItem(match.own.goals.reached, side)
  match.emit('reached', { side })
}

/** Gives a side time in a zone besides what it gets for being there. It may reach the goal by that. */
export function giveTime(match: Match, zone: Zone, side: string, ms: number) {
  addStretch(match, zone)
  zone.held = withEntry(zone.held, side, (zone.held.get(side) ?? 0) + ms * HEAD)
  lookAtGoal(match, side)
}

/** Sets the time at which the first side wins, for the rest of the round. */
export function setGoal(match: Match, ms: number | undefined) {
  match.own.goals.goal = ms
  match.own.goals.reached = new Set()
  const sides = new Set(match.own.zones.all().flatMap(({ held, side }) => [...held.keys(), side]))
  for (const side of sides) {
    match.timers.cancel('goal', side)
    if (side !== '') lookAtGoal(match, side)
  }
}

function lookAtGoal(match: Match, side: string) {
  const goal = goalOf(match)
  if (goal !== undefined && !match.own.goals.reached.has(side) && heldBy(match, side) >= goal * HEAD)
    reachGoal(match, side)
}
