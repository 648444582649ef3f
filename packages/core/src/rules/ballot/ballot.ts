import { int, list, type Seat, text } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { evenFrozen } from '../gates.ts'
import { roster } from '../roster/roster.ts'
import { type Count, countVotes } from './count.ts'
import { type BallotOpening, type Match, ruleOf } from './shape.ts'

/**
 * A vote among candidates, secret or open. Who has voted may be seen; totals only when it is closed.
 *
 * @example
 * ```ts
 * const tasting = ballotOf('tasting')
 * match.use(tasting).open({ voters: seats, candidates: seats })
 * ```
 */
export const ballotOf = <const N extends string>(name: N) => {
  const voters = (match: Match<N>): Seat[] =>
    match.seating.all.filter((seat) => match.own.votes.of(seat).voter)

  function clear(match: Match<N>, seat: Seat) {
    const row = match.own.votes.of(seat)
    row.voted = false
    row.for = []
    row.lost = false
  }

  function begin(match: Match<N>, candidates: readonly string[], runOff: number) {
    const { ballot } = match.own
    ballot.open = true
    ballot.candidates = candidates
    ballot.runOff = runOff
    for (const seat of match.seating.all) clear(match, seat)
    match.own.audience.votes = new Map()
    if (match.settings.time !== null) {
      match.timers.start('end', { in: match.settings.time })
      ballot.until = match.time.phase + match.settings.time
    }
    match.emit('opened', { candidates, runOff })
  }

  function open(match: Match<N>, { voters: asked, candidates, chair }: BallotOpening) {
    const { ballot, result } = match.own
    if (ballot.open) return refuse('already-open')
    if (new Set(candidates).size < candidates.length)
      return refuse('bad-input', { issues: ["'candidates' has one twice"] })
    for (const seat of match.seating.all)
      match.own.votes.of(seat).voter = asked.includes(seat) && match.use(roster).isInPlay(seat)
    ballot.number += 1
    ballot.asked = voters(match).length
    ballot.chair = chair
    ballot.elected = []
    ballot.places = match.settings.pick
    result.winners = []
    result.why = ''
    result.totals = new Map()
    begin(match, candidates, 0)
    return undefined
  }

  function counted(match: Match<N>): Count {
    const { ballot, audience } = match.own
    const weight = (seat: Seat): number => match.weigh('count', { seat, weight: 1 }).weight
    const all = voters(match)
    const votes = all
      .filter((seat) => match.own.votes.of(seat).voted)
      .map((seat) => ({ for: match.own.votes.of(seat).for, weight: weight(seat) }))
    const base = { voters: all.length, weight: all.reduce((sum, seat) => sum + weight(seat), 0) }
    const { quorum, threshold } = match.settings
    return countVotes(
      votes,
      ballot.candidates,
      base,
      { quorum, threshold, pick: ballot.places },
      audience.votes,
    )
  }

  /** Those of the tied who get the places that are left; nothing where another ballot is to decide. */
  function untie(match: Match<N>, { tied, places }: Count): readonly string[] | undefined {
    const { ballot } = match.own
    const { ties, runOffs } = match.settings
    const { chair } = ballot
    if (chair !== undefined) {
      const casting = match.own.votes.of(chair).for.filter((each) => tied.includes(each))
      return casting.slice(0, places)
    }
    if (ties === 'all') return tied
    if (ties === 'first') return tied.slice(0, places)
    if (ties === 'random') return match.chance('ties').shuffle(tied).slice(0, places)
    return ties === 'run-off' && ballot.runOff < runOffs ? undefined : []
  }

  function close(match: Match<N>) {
    const { ballot } = match.own
    if (!ballot.open) return
    match.timers.cancel('end')
    const count = counted(match)
    const untied = count.tied.length === 0 ? [] : untie(match, count)
    const elected = [...ballot.elected, ...count.elected]
    if (untied === undefined) {
      ballot.elected = elected
      ballot.places = count.places
      begin(match, count.tied, ballot.runOff + 1)
      return
    }
    finish(match, [...elected, ...untied], count)
  }

  function finish(match: Match<N>, winners: readonly string[], { totals, why, tied }: Count) {
    const { ballot, result } = match.own
    ballot.open = false
    ballot.until = undefined
    result.winners = winners
    result.why = winners.length > 0 ? 'elected' : (why ?? (tied.length > 0 ? 'tie' : 'no-votes'))
    result.totals = match.settings.hideTotals ? new Map() : totals
    match.emit('closed', { winners, why: result.why })
  }

  function drop(match: Match<N>) {
    match.own.ballot.open = false
    match.own.ballot.until = undefined
    match.timers.cancel('end')
  }

  /** All could tell whom a seat had voted for, if it were awaited again when its candidate has gone. */
  function lose(match: Match<N>, seat: Seat) {
    if (match.settings.votesSeen === 'everyone') return clear(match, seat)
    const row = match.own.votes.of(seat)
    row.for = []
    row.lost = true
  }

  /**
   * Votes for who cannot be elected any more are votes not cast, and their owners are awaited again. In a secret ballot
   * they are abstentions, which nobody else sees and their owners can change until the end.
   */
  function withdraw(match: Match<N>, candidate: string) {
    const { ballot } = match.own
    if (!ballot.open || !ballot.candidates.includes(candidate)) return
    ballot.candidates = ballot.candidates.filter((each) => each !== candidate)
    for (const seat of voters(match)) if (match.own.votes.of(seat).for.includes(candidate)) lose(match, seat)
    if (ballot.candidates.length === 0) close(match)
  }

  function remove(match: Match<N>, seat: Seat) {
    if (match.settings.removedVoter === 'drop' || !match.own.votes.of(seat).voted) {
      match.own.votes.of(seat).voter = false
      clear(match, seat)
    }
    withdraw(match, seat)
  }

  function problem(match: Match<N>, seat: Seat) {
    const { voter, voted, lost } = match.own.votes.of(seat)
    if (!match.own.ballot.open) return refuse('ballot-closed')
    if (!voter) return refuse('not-a-voter')
    return voted && !lost && !match.settings.changes ? refuse('already-voted') : undefined
  }

  function vote(match: Match<N>, seat: Seat, chosen: readonly string[]) {
    const row = match.own.votes.of(seat)
    if (!row.voted) match.emit('voted', { seat })
    row.voted = true
    row.for = chosen
    row.lost = false
    return undefined
  }

  return ruleOf(name).does({
    discloses: ['for', 'voted'].map((cell) => ({
      secret: `${name}.votes.${cell}`,
      by: [`${name}.closed`, `${name}.opened`],
      to: 'everyone',
      why: 'the result, or who is in a run-off, tells what was voted',
    })),
    apply: { count() {} },
    actions: {
      vote: {
        when: evenFrozen,
        input: { for: list(text()) },
        options: (match) => match.own.ballot.candidates.map((candidate) => ({ for: [candidate] })),
        decide(match, seat, { for: chosen }) {
          const refusal = problem(match, seat)
          if (refusal !== undefined) return refusal
          const { pick, selfVote } = match.settings
          if (chosen.length < 1 || chosen.length > pick || new Set(chosen).size < chosen.length)
            return refuse('bad-input', { issues: [`'for' must be 1 to ${pick} different candidates`] })
          const unknown = chosen.find((each) => !match.own.ballot.candidates.includes(each))
          if (unknown !== undefined) return refuse('no-such-candidate', { candidate: unknown })
          if (!selfVote && chosen.includes(seat)) return refuse('no-self-vote')
          return vote(match, seat, chosen)
        },
      },
      abstain: {
        when: evenFrozen,
        input: {},
        decide: (match, seat) => problem(match, seat) ?? vote(match, seat, []),
      },
      unvote: {
        when: evenFrozen,
        input: {},
        decide(match, seat) {
          const refusal = problem(match, seat)
          if (refusal !== undefined) return refusal
          return clear(match, seat)
        },
      },
    },
    facts: {
      /** Votes that the host has counted outside, such as an audience's; they are added to the totals. */
      audience: {
        when: evenFrozen,
        input: { for: text(), votes: int().between(0, 1_000_000_000) },
        handle(match, { for: candidate, votes }) {
          const { ballot, audience } = match.own
          if (!ballot.open) return refuse('ballot-closed')
          if (!ballot.candidates.includes(candidate)) return refuse('no-such-candidate', { candidate })
          audience.votes = new Map(audience.votes).set(
            candidate,
            (audience.votes.get(candidate) ?? 0) + votes,
          )
          return undefined
        },
      },
    },
    timers: { end: { clock: 'phase', band: 'inner', fire: (match) => close(match) } },
    on: {
      'roster.left': (match, { seat }) => remove(match, seat),
      'roster.sidelined': (match, { seat }) => remove(match, seat),
      'phases.changed'(match, { to }) {
        if (to === 'over') drop(match)
      },
    },
    settle: {
      wokenBy: ['ballot', 'votes', 'roster.seats'],
      run(match) {
        const { ballot } = match.own
        if (!ballot.open) return
        const waiting = voters(match).filter(
          (seat) => !match.own.votes.of(seat).voted && match.use(roster).isHere(seat),
        )
        // An audience alone has as long as the ballot lasts.
        if (match.settings.closeWhenAll && waiting.length === 0 && ballot.asked > 0) close(match)
      },
    },
    calls: {
      open,
      close,
      withdraw,
      isOpen: (match): boolean => match.own.ballot.open,
      /** Who won last, in the order of the candidates; nobody, or several. */
      winners: (match): readonly string[] => match.own.result.winners,
    },
  })
}
