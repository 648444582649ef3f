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

export const shape = declareRule({
  name: 'errands',
  needs: [roster, phases],
  knows: [vitals, scores, anyRoles],
  config: (given: {
    /** The errands of this camp are not counted: it gets the same rulings, and the total does not move. Needs `each`. */
    readonly uncounted?: Camp
  }) => given,
  settings: fields({
    /** `need`: how much there is to do; `within`: ms of play time from its spawn in which it can be done. */
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
    /** How many of the list each seat is given for itself; null: they are everyone's. */
    each: setting(orNull(whole({ min: 1 })), null),
    /** In which order everyone's errands come, and how many are open at once. */
    spawn: setting(oneOf('all', 'in-order', 'random'), 'all'),
    /** How many errands of everyone are open at once, with the orders that spawn them one by one. */
    atOnce: setting(whole({ min: 1 }), 1),
    /** Whether the list begins again when it is used up. Then all is never done. */
    again: setting(yesNo, false),
    /** Each open errand lies at a free one of these, drawn at random. */
    places: setting(listOf(word).check(once((place) => place, 'has a place twice')), []),
    /** How exactly all see how much is done. */
    shown: setting(oneOf('exact', 'fifths', 'in-breaks'), 'exact'),
    /**
     * What becomes of the undone errands of a seat that leaves or goes out. 'drop': they need not be done. 'share': those
     * who have least to do get them. 'keep': they stay undone. Where some are not counted, nobody can tell from it whose:
     * see `total`.
     */
    leaverErrands: setting(oneOf('drop', 'share', 'keep'), 'drop'),
    /** Points for who finishes an errand. */
    points: setting(whole(), 0),
  }),
  state: {
    rows: table({
      kind: text(),
      need: int(),
      done: int(0),
      /** Whose it is; everyone's where it is nobody's. */
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
     * How much is done of all that is real. Where some are not counted, a seat that leaves changes nothing that is shown:
     * `hidden` is what need not be done any more and is shown as if it had to be, until all is done.
     */
    total: single({ done: int(0), of: int(0), hidden: int(0), told: flag(false) }),
    shown: single({ done: int(0).seenBy(everyone), of: int(0).seenBy(everyone) }),
    /** Places in the list of what is still to spawn, and of what came last. */
    queue: single({ left: list(int(), []), last: maybe(int()) }),
    tally: perSeat({ done: int(0).seenBy(owner) }),
  },
  events: {
    /** An errand can be done from now on. */
    spawned: { errand: text(), kind: text(), place: text() },
    /** A seat has finished an errand; `real` is false where it does not count. */
    done: { seat: seatRef().seenBy(owner), kind: text().seenBy(owner), real: flag() },
    /** The time of an errand is over. */
    expired: { kind: text(), place: text() },
    /** Every errand that counts is done. */
    'all-done': {},
  },
  drafts: {
    /** How much of an errand a seat does. */
    progress: { seat: seatRef(), errand: text(), amount: amount() },
  },
  timers: ['expire'],
})
export type Match = MatchOf<typeof shape>
export type Errand = ReturnType<Match['own']['rows']['all']>[number]
