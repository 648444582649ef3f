import {
  amount,
  everyone,
  flag,
  int,
  list,
  maybe,
  only,
  owner,
  perSeat,
  type Seat,
  seatRef,
  single,
  table,
  text,
  time,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, listOf, once, oneOf, orNull, setting, whole, word, yesNo } from '../../settings/index.ts'
import { phases } from '../phases/phases.ts'
import type { Camp } from '../roles/camp.ts'
import { anyRoles } from '../roles/roles.ts'
import { roster } from '../roster/roster.ts'
import { scores } from '../scores.ts'
import { vitals } from '../vitals/vitals.ts'

/** An errand that a rule opens besides the list. */
export interface ErrandAsked {
  /** What it is about. */
  readonly kind: string
  /** How much there is to do. Default: 1. */
  readonly need?: number
  /** How long it can be done, in ms of play time. Default: until the bout is over. */
  readonly within?: number | null
  /** Whose it is. Default: everyone's. */
  readonly to?: Seat
  /** Where it lies. Default: one of the free places. */
  readonly place?: string
}

export const shape = declareRule({
  name: 'errands',
  needs: [roster, phases],
  knows: [vitals, scores, anyRoles],
  config: ({
    uncounted,
  }: {
    /** The errands of this camp don't count: it gets the same rulings, but the total does not move. Needs `each`. */
    readonly uncounted?: Camp | undefined
  }) => ({ uncounted }),
  settings: fields({
    /**
     * The errands. `need`: how much there is to do; `within`: how long it can be done after it appears, in ms of play
     * time.
     */
    list: setting(
      listOf(
        fields({
          kind: word,
          need: setting(whole({ min: 1 }), 1),
          within: setting(orNull(whole({ min: 1 })), null),
        }),
      ),
      [],
    ),
    /** How many errands of the list each seat gets for itself; null: they are shared by everyone. */
    each: setting(orNull(whole({ min: 1 })), null),
    /** If true, a seat that comes into play later gets errands of its own too, and there is more to do in all. */
    lateErrands: setting(yesNo, false),
    /** In which order shared errands appear, and how many are open at once. */
    spawn: setting(oneOf('all', 'in-order', 'random'), 'all'),
    /** How many shared errands are open at once, if they appear one by one. */
    atOnce: setting(whole({ min: 1 }), 1),
    /** If true, the list starts again when it is used up. Then there is no end to it. */
    again: setting(yesNo, false),
    /** Each open errand lies at one of these places that is free, drawn at random. */
    places: setting(listOf(word).check(once((place) => place, 'has a place twice')), []),
    /** How exactly everyone sees how much is done. */
    shown: setting(oneOf('exact', 'fifths', 'in-breaks'), 'exact'),
    /**
     * What happens to the errands that a seat has left when it leaves or is sidelined. 'drop': they need not be done.
     * 'share': the seats with least to do get them. 'keep': they stay undone. If some errands don't count, nobody can
     * tell from this whose: see `total`.
     */
    leaverErrands: setting(oneOf('drop', 'share', 'keep'), 'drop'),
    /** Points for finishing an errand. */
    points: setting(whole(), 0),
  }),
  state: {
    rows: table({
      kind: text(),
      need: int(),
      done: int(0),
      /** Whose it is; shared by everyone if it is nobody's. */
      to: maybe(seatRef()),
      place: text(''),
      /** On the play clock. */
      until: time(),
      closedAt: time(),
      real: flag(true),
    })
      .indexedBy('to')
      .seenWhen({
        kind: ({ to }) => (to === undefined ? everyone : only(to)),
        need: ({ to }) => (to === undefined ? everyone : only(to)),
        done: ({ to }) => (to === undefined ? everyone : only(to)),
        place: ({ to }) => (to === undefined ? everyone : only(to)),
        until: ({ to }) => (to === undefined ? everyone : only(to)),
        closedAt: ({ to }) => (to === undefined ? everyone : only(to)),
      }),
    /**
     * How much is done of all that is real. If some errands don't count, a seat that leaves changes nothing that is
     * shown: `hidden` is what need not be done any more but is shown as if it had to be, until all is done.
     */
    total: single({ done: int(0), of: int(0), hidden: int(0), told: flag(false) }),
    shown: single({ done: int(0).seenBy(everyone), of: int(0).seenBy(everyone) }),
    /** Positions in the list of what is still to come, and of what came last. */
    queue: single({ left: list(int(), []), last: maybe(int()) }),
    tally: perSeat({ done: int(0).seenBy(owner) }),
  },
  events: {
    /** An errand can be done from now on. */
    spawned: { errand: text(), kind: text(), place: text() },
    /** A seat has finished an errand. `real` is false if it does not count. */
    done: { seat: seatRef().seenBy(owner), kind: text().seenBy(owner), real: flag() },
    /** The time for an errand is over. */
    expired: { kind: text(), place: text() },
    /** Every errand that counts is done. */
    'all-done': {},
  },
  drafts: {
    /** A seat is to do this much of an errand. */
    progress: { seat: seatRef(), errand: text(), amount: amount() },
  },
  timers: ['expire'],
})
export type Match = MatchOf<typeof shape>
export type Errand = ReturnType<Match['own']['rows']['all']>[number]
