import {
  choice,
  everyone,
  flag,
  int,
  list,
  map,
  maybe,
  num,
  owner,
  perSeat,
  seatRef,
  side,
  single,
  text,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { fields, oneOf, part, setting, whole } from '../../settings/index.ts'
import type { Condition } from '../conditions.ts'
import { holds } from '../holds.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'
import { rounds } from '../rounds.ts'
import { scores } from '../scores.ts'
import { teams } from '../teams/teams.ts'

export const shape = declareRule({
  name: 'verdict',
  needs: [phases, roster],
  knows: [scores, rounds, holds, teams],
  config: ({ when }: { readonly when?: readonly Condition[] | undefined }) => ({ when }),
  settings: fields({
    /** How long the last side with players waits for another before it wins by forfeit, in ms of match time. */
    forfeitAfter: setting(whole({ min: 0 }), 0),
    /** A bout that ends by forfeit before so much play time does not count: nobody wins. In ms. */
    tooShort: setting(whole({ min: 0 }), 0),
    /**
     * When conditions are judged: after each step, or when a millisecond is over, so that what happens in one counts
     * together.
     */
    judge: setting(oneOf('step', 'millisecond'), 'step'),
    /** Which share of a side's seats that are present must ask to give up. */
    giveUpShare: setting(part('positive'), 1),
  }),
  state: {
    end: single({
      /** Nothing until the bout is decided. */
      kind: maybe(choice('win', 'draw', 'none')).seenBy(everyone),
      winners: list(seatRef(), []).seenBy(everyone),
      reason: text('').seenBy(everyone),
      /** Play time, in ms. */
      at: int(0).seenBy(everyone),
    }),
    places: perSeat({ rank: num(0).seenBy(everyone) }),
    /** What must be judged when the step settles. */
    pending: single({
      winners: list(seatRef(), []),
      reason: text(''),
      fell: list(seatRef(), []),
    }),
    /**
     * `forfeit`: one side has been alone for the time of `forfeitAfter`. `claim`: the millisecond of a claim, which began
     * at `since` on the play clock, is over.
     */
    waited: single({ forfeit: flag(false), claim: flag(false), since: int(0) }),
    /** True if the seat wants to give up. */
    wishes: perSeat({ surrender: flag(false).seenBy(owner) }),
    field: single({ began: int(0) }),
    /** Rounds won, by team or seat. */
    rounds: single({ wins: map(int()).seenBy(everyone) }),
  },
  events: {
    /** Sent to its side. */
    'wants-to-give-up': { seat: seatRef().seenBy(side) },
    /** The bout is decided. */
    reached: {
      kind: text().seenBy(everyone),
      winners: list(seatRef()).seenBy(everyone),
      reason: text().seenBy(everyone),
    },
  },
  drafts: {
    /** A side is to win. */
    claim: { winners: list(seatRef()), reason: text() },
  },
  timers: ['forfeit', 'judge'],
})
export type Match = MatchOf<typeof shape>
