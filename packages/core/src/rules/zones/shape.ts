import {
  amount,
  everyone,
  flag,
  int,
  map,
  maybe,
  perSeat,
  seatRef,
  set,
  single,
  table,
  text,
} from '../../cells/index.ts'
import { RefereeError } from '../../kit/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, oneOf, orNull, setting, whole, yesNo } from '../../settings/index.ts'
import { seconds } from '../../time/index.ts'
import { areas } from '../areas/areas.ts'
import type { Point } from '../areas/shape.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { scores } from '../scores.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'

/** Progress is counted in thousandths of a head's ms, so that an amended rate is exact. */
export const HEAD = 1000

/** Where a zone is, and how far it reaches, in the units of `areas`. */
export interface ZonePlace extends Point {
  readonly reach: number
}
/** Options of `zones` that are not settings. */
export interface ZoneConfig {
  /** The names of the zones. */
  readonly names: readonly [string, ...string[]]
  /** Zones that a seat is in while its position is within their reach. The rulebook needs `areas` for that. */
  readonly places?: { readonly [zone: string]: ZonePlace }
  /**
   * 'capture': sides take zones and own them. 'time': the time counts that a side has a zone to itself. Default:
   * 'capture'.
   */
  readonly counts?: 'capture' | 'time'
}

export const shape = declareRule({
  name: 'zones',
  needs: [roster, phases],
  knows: [vitals, rounds, teams, scores, areas],
  config: ({ names, places = {}, counts = 'capture' }: ZoneConfig) => {
    const issues = [
      ...(counts === 'capture' || counts === 'time'
        ? []
        : [`'counts' must be capture or time, not '${counts}'`]),
      ...(new Set(names).size < names.length ? ["'names' has one twice"] : []),
      ...Object.entries(places).flatMap(([zone, { reach }]) => [
        ...(names.includes(zone) ? [] : [`'places' has '${zone}', which is not in 'names'`]),
        ...(reach >= 0 ? [] : [`'reach' of '${zone}' must be at least 0, not ${reach}`]),
      ]),
    ]
    if (issues.length > 0) throw new RefereeError('ZR_SETTING_INVALID', { rule: 'zones', issues })
    return { names, places, counts }
  },
  settings: fields({
    /** With `counts: 'time'`: the time at which `firstToHold` decides, in ms, over all zones; null means never. */
    goal: setting(orNull(whole({ min: 1 })), null),
    /** How long one head needs to take a free zone, in ms of play time. */
    needed: setting(whole({ min: 1 }), seconds(10)),
    /** Whether every head adds to the speed, or one head is as good as many. */
    perHead: setting(oneOf('one', 'each'), 'one'),
    /** How many heads of one side count at most. */
    maxHeads: setting(whole({ min: 1 }), 3),
    /** With several sides in it, a zone stands still, or goes to the side with more heads, by their difference. */
    contested: setting(oneOf('stops', 'more-heads'), 'stops'),
    /** What happens to progress if nobody is there: it stays, goes back by 1 ms each ms, or is gone at once. */
    whenEmpty: setting(oneOf('keeps', 'drains', 'resets'), 'keeps'),
    /** How long a side must own a zone to get `points`, in ms; null means never. */
    scoreEvery: setting(orNull(whole({ min: 1 })), null),
    /** If false, an owner gets no points while several sides are in its zone. */
    contestedScores: setting(yesNo, true),
    /** Points that an owner gets every `scoreEvery` ms. */
    points: setting(whole({ min: 1 }), 1),
  }),
  state: {
    zones: table({
      name: text().seenBy(everyone),
      /** A team by its number, or a seat; '' means nobody. */
      owner: text('').seenBy(everyone),
      /** Whose progress it is. */
      side: text('').seenBy(everyone),
      /** The value at `since` on the play clock. Each ms adds `rate`; below 0 it falls. */
      progress: int(0).seenBy(everyone),
      rate: int(0).seenBy(everyone),
      since: int(0).seenBy(everyone),
      /** The progress at which it is complete. */
      full: int().seenBy(everyone),
      contested: flag(false).seenBy(everyone),
      /** With `counts: 'time'`: for each side, its time until `since`, in thousandths of a ms. */
      held: map(int()).seenBy(everyone),
      captor: maybe(seatRef()),
    })
      .indexedBy('name')
      .each('round'),
    present: perSeat({ in: set(text()) }).each('round'),
    step: single({ stirred: flag(false) }).each('round'),
    /** Sides that have reached the goal. */
    goals: single({
      reached: set(text()).seenBy(everyone),
      /** In place of the setting, for the rest of the round. */
      goal: maybe(int()).seenBy(everyone),
    }).each('round'),
  },
  events: {
    /** A seat has entered a zone. */
    entered: { seat: seatRef(), zone: text() },
    /** A seat has left a zone. */
    left: { seat: seatRef(), zone: text() },
    /** Several sides are in a zone. */
    contested: { zone: text().seenBy(everyone) },
    /** A zone belongs to a side. */
    captured: { zone: text().seenBy(everyone), side: text().seenBy(everyone), by: maybe(seatRef()) },
    /** A zone no longer belongs to anybody. */
    lost: { zone: text().seenBy(everyone), side: text().seenBy(everyone) },
    /** A side has had zones to itself for the time of `goal`. */
    reached: { side: text().seenBy(everyone) },
    /** An owner got points. */
    paid: { zone: text(), side: text(), seat: seatRef() },
  },
  drafts: {
    /** How much progress a side makes each ms, in thousandths of a head. */
    rate: { zone: text(), side: text(), amount: amount().between(0, 1_000_000) },
  },
  timers: ['reach', 'pay', 'goal'],
})
export type Match = MatchOf<typeof shape>
export type Zone = ReturnType<Match['own']['zones']['all']>[number]
