import {
  amount,
  bySetting,
  everyone,
  flag,
  int,
  list,
  map,
  maybe,
  owner,
  perSeat,
  type Seat,
  seatRef,
  single,
  text,
  time,
} from '../../cells/index.ts'
import { declareRule, type MatchOf } from '../../rule/index.ts'
import { either, fields, must, oneOf, orNull, setting, whole, yesNo } from '../../settings/index.ts'
import { phases } from '../phases/phases.ts'
import { roster } from '../roster/roster.ts'

/** Who may vote for whom. */
export interface BallotOpening {
  /** Who may vote. */
  readonly voters: readonly Seat[]
  /** Seats, or whatever else can be chosen. */
  readonly candidates: readonly string[]
  /** Whose vote decides a tie. Default: the setting `ties` does. */
  readonly chair?: Seat
}

const votesSeen = bySetting('votesSeen')
const whoSeen = bySetting('whoSeen')

export const ruleOf = <const N extends string>(name: N) =>
  declareRule({
    name,
    needs: [roster, phases],
    settings: fields({
      /** Ms on the phase clock: a freeze or a break does not hold it; null is without end. */
      time: setting(orNull(whole({ min: 1 })), null),
      /** Who sees what a seat has voted, while the ballot is open. */
      votesSeen: setting(oneOf('owner', 'everyone'), 'owner'),
      /** Who sees that a seat has voted. */
      whoSeen: setting(oneOf('everyone', 'nobody'), 'everyone'),
      /** Whether a vote can be changed and taken back until the end. */
      changes: setting(yesNo, true),
      /** Whether the ballot closes as soon as everyone who is here has voted. */
      closeWhenAll: setting(yesNo, true),
      /** Thousandths of the voters that must have voted. */
      quorum: setting(whole({ min: 0, max: 1000 }), 0),
      /** What a candidate needs beside being ahead; `{ num: 2, den: 3 }` is two thirds of the votes cast. */
      threshold: setting(
        either(
          oneOf('most', 'over-half-cast', 'over-half-all'),
          fields({ num: whole({ min: 1 }), den: whole({ min: 1 }) }).check(
            must(({ num, den }) => num <= den, 'is more than all'),
          ),
        ),
        'most',
      ),
      /** Who wins where several are level: nobody, who wins another ballot among them, one at random, all, the first listed. */
      ties: setting(oneOf('none', 'run-off', 'random', 'all', 'first'), 'none'),
      /** How many run-offs there are at most. */
      runOffs: setting(whole({ min: 1 }), 1),
      /** How many are elected, and for how many a voter may vote. */
      pick: setting(whole({ min: 1 }), 1),
      /** Whether a candidate may vote for itself. */
      selfVote: setting(yesNo, true),
      /** What becomes of the vote of who leaves or goes out. */
      removedVoter: setting(oneOf('drop', 'keep'), 'drop'),
      /** Whether only the winners are shown, without totals. */
      hideTotals: setting(yesNo, false),
    }),
    state: {
      ballot: single({
        open: flag(false).seenBy(everyone),
        /** On the phase clock. */
        until: time().seenBy(everyone),
        candidates: list(text(), []).seenBy(everyone),
        number: int(0).seenBy(everyone),
        runOff: int(0).seenBy(everyone),
        chair: maybe(seatRef()).seenBy(everyone),
        /** Who is elected already, where a run-off is about the places that are left. */
        elected: list(text(), []),
        places: int(0),
        /** How many could vote when it was opened: none where an audience alone decides. */
        asked: int(0),
      }),
      votes: perSeat({
        voter: flag(false).seenBy(everyone),
        voted: flag(false).seenBy(whoSeen),
        /** Nobody: not voted, or abstained. */
        for: list(text(), []).seenBy(votesSeen),
        /** A secret vote whose candidate has left: an abstention, until its owner votes again. */
        lost: flag(false).seenBy(owner),
      }),
      /** Votes that the host has counted outside. */
      audience: single({ votes: map(int()) }),
      result: single({
        winners: list(text(), []).seenBy(everyone),
        why: text('').seenBy(everyone),
        totals: map(int()).seenBy(everyone),
      }),
    },
    events: {
      /** Voting has begun; `runOff` counts from 0. */
      opened: { candidates: list(text()).seenBy(everyone), runOff: int().seenBy(everyone) },
      /** A seat has voted, for whomever. */
      voted: { seat: seatRef().seenBy(whoSeen) },
      /** `why`: elected, or why nobody is: tie, no-votes, no-quorum, no-candidates, below-threshold. */
      closed: { winners: list(text()).seenBy(everyone), why: text().seenBy(everyone) },
    },
    drafts: {
      /** How much a seat's vote counts for. */
      count: { seat: seatRef(), weight: amount().between(0, 1_000_000) },
    },
    timers: ['end'],
  })
export type Match<N extends string> = MatchOf<ReturnType<typeof ruleOf<N>>>
