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
  /** Seats, or anything else that can be chosen. */
  readonly candidates: readonly string[]
  /** The seat whose vote decides a tie. Default: the setting `ties` decides. */
  readonly chair?: Seat
}

const votesSeen = bySetting('votesSeen')
const whoSeen = bySetting('whoSeen')

export const ruleOf = <const N extends string>(name: N) =>
  declareRule({
    name,
    needs: [roster, phases],
    settings: fields({
      /** Time to vote, in ms on the phase clock, which runs on in a freeze and a break; null means no time limit. */
      time: setting(orNull(whole({ min: 1 })), null),
      /** Who sees what a seat has voted while the ballot is open. */
      votesSeen: setting(oneOf('owner', 'everyone'), 'owner'),
      /** Who sees that a seat has voted. */
      whoSeen: setting(oneOf('everyone', 'nobody'), 'everyone'),
      /** If true, a vote can be changed or withdrawn until the end. */
      changes: setting(yesNo, true),
      /** If true, the ballot closes as soon as everyone present has voted. */
      closeWhenAll: setting(yesNo, true),
      /** How many thousandths of the voters must have voted. */
      quorum: setting(whole({ min: 0, max: 1000 }), 0),
      /** What a candidate needs besides being ahead. `{ num: 2, den: 3 }` is two thirds of the votes cast. */
      threshold: setting(
        either(
          oneOf('most', 'over-half-cast', 'over-half-all'),
          fields({ num: whole({ min: 1 }), den: whole({ min: 1 }) }).check(
            must(({ num, den }) => num <= den, 'is more than all'),
          ),
        ),
        'most',
      ),
      /** What a tie does: nobody wins, another ballot decides, one wins at random, all win, or the first listed wins. */
      ties: setting(oneOf('none', 'run-off', 'random', 'all', 'first'), 'none'),
      /** How many run-offs there can be. */
      runOffs: setting(whole({ min: 1 }), 1),
      /** How many are elected, and for how many a voter may vote. */
      pick: setting(whole({ min: 1 }), 1),
      /** If true, a candidate may vote for itself. */
      selfVote: setting(yesNo, true),
      /** What happens to the vote of a seat that leaves or is sidelined. */
      removedVoter: setting(oneOf('drop', 'keep'), 'drop'),
      /** If true, only the winners are shown, without totals. */
      hideTotals: setting(yesNo, false),
    }),
    state: {
      ballot: single({
        open: flag(false).seenBy(everyone),
        /** On the phase clock. */
        until: time('phase').seenBy(everyone),
        candidates: list(text(), []).seenBy(everyone),
        number: int(0).seenBy(everyone),
        runOff: int(0).seenBy(everyone),
        chair: maybe(seatRef()).seenBy(everyone),
        /** Who is already elected, if a run-off is about the remaining places. */
        elected: list(text(), []),
        places: int(0),
        /** How many could vote when it was opened: none if only an audience decides. */
        asked: int(0),
      }),
      votes: perSeat({
        voter: flag(false).seenBy(everyone),
        voted: flag(false).seenBy(whoSeen),
        /** Nobody: has not voted, or abstained. */
        for: list(text(), []).seenBy(votesSeen),
        /** A secret vote whose candidate has left: an abstention, until its owner votes again. */
        lost: flag(false).seenBy(owner),
      }),
      /** Votes that the host has counted outside, and the candidate of each player who watches and has voted. */
      audience: single({ votes: map(int()), watchers: map(text()) }),
      result: single({
        winners: list(text(), []).seenBy(everyone),
        why: text('').seenBy(everyone),
        totals: map(int()).seenBy(everyone),
      }),
    },
    events: {
      /** Voting has begun. `runOff` counts from 0. */
      opened: { candidates: list(text()).seenBy(everyone), runOff: int().seenBy(everyone) },
      /** A seat has voted; for whom is not said. */
      voted: { seat: seatRef().seenBy(whoSeen) },
      /** `why`: elected, or why nobody is: tie, no-votes, no-quorum, no-candidates, below-threshold. */
      closed: { winners: list(text()).seenBy(everyone), why: text().seenBy(everyone) },
    },
    drafts: {
      /** How much a seat's vote counts. */
      count: { seat: seatRef(), weight: amount().between(0, 1_000_000) },
    },
    timers: ['end'],
  })
export type Match<N extends string> = MatchOf<ReturnType<typeof ruleOf<N>>>
