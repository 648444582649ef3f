import {
  amount,
  everyone,
  flag,
  int,
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
import { fields, oneOf, orNull, setting, whole } from '../../settings/index.ts'
import { seconds } from '../../time/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { scores } from '../scores.ts'
import { teams } from '../teams/teams.ts'
import { vitals } from '../vitals/vitals.ts'

/** Progress is counted in thousandths of a head's ms, so that an amended rate is exact. */
export const HEAD = 1000

export const shape = declareRule({
  name: 'zones',
  needs: [roster, phases],
  knows: [vitals, rounds, teams, scores],
  config: (given: { readonly names: readonly [string, ...string[]] }) => {
    if (new Set(given.names).size < given.names.length)
      throw new RefereeError('ZR_SETTING_INVALID', { rule: 'zones', issues: ["'names' has one twice"] })
    return given
  },
  settings: fields({
    /** Ms of play time that one head needs to take a free zone. */
    needed: setting(whole({ min: 1 }), seconds(10)),
    /** Whether one head is as good as many, and how many count at most. */
    perHead: setting(oneOf('one', 'each'), 'one'),
    /** How many heads of one side count at most. */
    maxHeads: setting(whole({ min: 1 }), 3),
    /** With several sides in it a zone stands still, or goes to who has more heads there, by their difference. */
    contested: setting(oneOf('stops', 'more-heads'), 'stops'),
    /** What becomes of progress with nobody there: it stays, goes back a ms each ms, or is gone at once. */
    whenEmpty: setting(oneOf('keeps', 'drains', 'resets'), 'keeps'),
    /** Ms of ownership for which `points` are given; null is never. */
    scoreEvery: setting(orNull(whole({ min: 1 })), null),
    /** Points that an owner gets each `scoreEvery` ms. */
    points: setting(whole({ min: 1 }), 1),
  }),
  state: {
    zones: table({
      name: text().seenBy(everyone),
      /** A team by its number, or a seat; nobody is ''. */
      owner: text('').seenBy(everyone),
      /** Whose progress it is. */
      side: text('').seenBy(everyone),
      /** At `since` on the play clock; each ms adds `rate` to it, which falls where it is below 0. */
      progress: int(0).seenBy(everyone),
      rate: int(0).seenBy(everyone),
      since: int(0).seenBy(everyone),
      /** What progress is complete with. */
      full: int().seenBy(everyone),
      contested: flag(false).seenBy(everyone),
      captor: maybe(seatRef()),
    })
      .indexedBy('name')
      .each('round'),
    present: perSeat({ in: set(text()) }).each('round'),
    step: single({ stirred: flag(false) }).each('round'),
  },
  events: {
    /** A seat has come into a zone. */
    entered: { seat: seatRef(), zone: text() },
    /** A seat has gone out of a zone. */
    left: { seat: seatRef(), zone: text() },
    /** Several sides are in a zone. */
    contested: { zone: text().seenBy(everyone) },
    /** A zone belongs to a side. */
    captured: { zone: text().seenBy(everyone), side: text().seenBy(everyone), by: maybe(seatRef()) },
    /** A zone belongs to nobody any more. */
    lost: { zone: text().seenBy(everyone), side: text().seenBy(everyone) },
    /** An owner has got points. */
    paid: { zone: text(), side: text(), seat: seatRef() },
  },
  drafts: {
    /** How much progress a side makes each ms, in thousandths of a head. */
    rate: { zone: text(), side: text(), amount: amount().between(0, 1_000_000) },
  },
  timers: ['reach', 'pay'],
})
export type Match = MatchOf<typeof shape>
export type Zone = ReturnType<Match['own']['zones']['all']>[number]
