import { int, list, text } from '../../cells/index.ts'
import { evenFrozen } from '../gates.ts'
import { whenOutOfPlay } from '../play.ts'
import { ruleOf } from './shape.ts'
import {
  abstain,
  addVotes,
  close,
  closeWhenAll,
  drop,
  open,
  remove,
  unvote,
  vote,
  voteOfWatcher,
  withdraw,
} from './voting.ts'

/** What it refuses with. */
const refusals = {
  'already-open': 'This is open already. Wait until it is closed.',
  'ballot-closed': 'The ballot is closed. Wait for the next one.',
  'not-a-voter': 'The seat has no vote here. Wait for a ballot in which it has.',
  'already-voted': 'Votes cannot be changed here. Wait for the result.',
  'no-such-candidate': 'Nobody of that name stands for election. Choose one of the candidates.',
  'no-self-vote': 'Nobody may vote for itself here. Choose another, or abstain.',
}

/**
 * A vote among candidates, secret or open. That a seat has voted may be shown; totals only when it is closed.
 *
 * @example
 * ```ts
 * const tasting = ballotOf('tasting')
 * match.use(tasting).open({ voters: seats, candidates: seats })
 * ```
 */
export const ballotOf = <const N extends string>(name: N) =>
  ruleOf(name).does({
    refusals,
    discloses: ['for', 'voted'].map((cell) => ({
      secret: `${name}.votes.${cell}`,
      by: [`${name}.closed`, `${name}.opened`],
      to: 'everyone',
      why: 'the result, or who is in a run-off, tells what was voted',
    })),
    apply: { count() {} },
    actions: {
      /** Votes for one candidate, or for as many as `pick` allows. */
      vote: {
        when: evenFrozen,
        input: { for: list(text()) },
        options: (match) => match.own.ballot.candidates.map((candidate) => ({ for: [candidate] })),
        decide: (match, seat, { for: chosen }) => vote(match, seat, chosen),
      },
      /** Votes for nobody. It counts for the quorum. */
      abstain: { when: evenFrozen, input: {}, decide: abstain },
      /** Withdraws the seat's own vote. */
      unvote: { when: evenFrozen, input: {}, decide: unvote },
    },
    facts: {
      /** Votes that the host has counted outside, such as an audience's. They are added to the totals. */
      audience: {
        when: evenFrozen,
        input: { for: text(), votes: int().between(0, 1_000_000_000) },
        handle: (match, { for: candidate, votes }) => addVotes(match, candidate, votes),
      },
      /** The vote of a player who watches (`roster.watch`). Each has one, and a later one replaces it. */
      'vote-of-watcher': {
        when: evenFrozen,
        input: { player: text(), for: text() },
        handle: (match, { player, for: candidate }) => voteOfWatcher(match, player, candidate),
      },
    },
    timers: { end: { clock: 'phase', band: 'inner', fire: (match) => close(match) } },
    on: {
      ...whenOutOfPlay(remove),
      'phases.changed'(match, { to }) {
        if (to === 'over') drop(match)
      },
    },
    settle: {
      wokenBy: ['ballot', 'votes', 'roster.seats'],
      run: closeWhenAll,
    },
    calls: {
      /** Opens the ballot. Refuses with `already-open`. */
      open,
      /** Closes the ballot now, and counts. */
      close,
      /** Removes a candidate. */
      withdraw,
      /** True while votes can be cast. */
      isOpen: (match): boolean => match.own.ballot.open,
      /** Returns the latest winners, in the order of the candidates. Empty if there are none. */
      winners: (match): readonly string[] => match.own.result.winners,
    },
  })
