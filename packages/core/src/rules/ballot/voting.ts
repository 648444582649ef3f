import type { Seat } from '../../cells/index.ts'
import { withEntry } from '../../kit/index.ts'
import { refuse } from '../../rule/index.ts'
import { roster } from '../roster/roster.ts'
import { type Count, countVotes } from './count.ts'
import type { BallotOpening, Match } from './shape.ts'

/** Returns who may vote, by seat number. */
export const voters = <N extends string>(match: Match<N>): Seat[] =>
  match.seating.all.filter((seat) => match.own.votes.of(seat).voter)

/** Withdraws a seat’s vote. */
export function clear<N extends string>(match: Match<N>, seat: Seat) {
  const row = match.own.votes.of(seat)
  row.voted = false
  row.for = []
  row.lost = false
}

function begin<N extends string>(match: Match<N>, candidates: readonly string[], runOff: number) {
  const { ballot } = match.own
  ballot.open = true
  ballot.candidates = candidates
  ballot.runOff = runOff
  for (const seat of match.seating.all) clear(match, seat)
  match.own.audience.votes = new Map()
  match.own.audience.watchers = new Map()
  if (match.settings.time !== null) {
    match.timers.start('end', { in: match.settings.time })
    ballot.until = match.time.phase + match.settings.time
  }
  match.emit('opened', { candidates, runOff })
}

/** Opens the ballot. */
export function open<N extends string>(match: Match<N>, { voters: asked, candidates, chair }: BallotOpening) {
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

function counted<N extends string>(match: Match<N>): Count {
  const { ballot } = match.own
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
    outside(match),
  )
}

/** Returns the votes of those without a seat, by candidate. Whoever no longer watches has none. */
function outside<N extends string>(match: Match<N>): ReadonlyMap<string, number> {
  const votes = new Map(match.own.audience.votes)
  for (const [player, candidate] of match.own.audience.watchers)
    if (match.use(roster).isWatching(player)) votes.set(candidate, (votes.get(candidate) ?? 0) + 1)
  return votes
}

/** Returns which of the tied get the remaining places, or nothing if another ballot decides. */
function untie<N extends string>(match: Match<N>, { tied, places }: Count): readonly string[] | undefined {
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

/** Counts the votes: somebody is elected, nobody is, or another ballot decides. */
export function close<N extends string>(match: Match<N>) {
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

function finish<N extends string>(match: Match<N>, winners: readonly string[], { totals, why, tied }: Count) {
  const { ballot, result } = match.own
  ballot.open = false
  ballot.until = undefined
  result.winners = winners
  result.why = winners.length > 0 ? 'elected' : (why ?? (tied.length > 0 ? 'tie' : 'no-votes'))
  result.totals = match.settings.hideTotals ? new Map() : totals
  match.emit('closed', { winners, why: result.why })
}

/** The bout is over: nothing is counted. */
export function drop<N extends string>(match: Match<N>) {
  match.own.ballot.open = false
  match.own.ballot.until = undefined
  match.timers.cancel('end')
}

/** If it were awaited again when its candidate is gone, everyone could tell whom the seat had voted for. */
function lose<N extends string>(match: Match<N>, seat: Seat) {
  if (match.settings.votesSeen === 'everyone') return clear(match, seat)
  const row = match.own.votes.of(seat)
  row.for = []
  row.lost = true
}

/**
 * Votes for a candidate that can't be elected any more count as not cast, and their owners are awaited again. In a
 * secret ballot they become abstentions, which nobody else sees and their owners can change until the end.
 */
export function withdraw<N extends string>(match: Match<N>, candidate: string) {
  const { ballot } = match.own
  if (!ballot.open || !ballot.candidates.includes(candidate)) return
  ballot.candidates = ballot.candidates.filter((each) => each !== candidate)
  for (const seat of voters(match)) if (match.own.votes.of(seat).for.includes(candidate)) lose(match, seat)
  if (ballot.candidates.length === 0) close(match)
}

/** A seat has left play: it no longer votes, and is no longer a candidate. */
export function remove<N extends string>(match: Match<N>, seat: Seat) {
  if (match.settings.removedVoter === 'drop' || !match.own.votes.of(seat).voted) {
    match.own.votes.of(seat).voter = false
    clear(match, seat)
  }
  withdraw(match, seat)
}

function refusalFor<N extends string>(match: Match<N>, seat: Seat) {
  const { voter, voted, lost } = match.own.votes.of(seat)
  if (!match.own.ballot.open) return refuse('ballot-closed')
  if (!voter) return refuse('not-a-voter')
  return voted && !lost && !match.settings.changes ? refuse('already-voted') : undefined
}

function cast<N extends string>(match: Match<N>, seat: Seat, chosen: readonly string[]) {
  const row = match.own.votes.of(seat)
  if (!row.voted) match.emit('voted', { seat })
  row.voted = true
  row.for = chosen
  row.lost = false
  return undefined
}

/** Votes for these candidates. */
export function vote<N extends string>(match: Match<N>, seat: Seat, chosen: readonly string[]) {
  const refusal = refusalFor(match, seat)
  if (refusal !== undefined) return refusal
  const { pick, selfVote } = match.settings
  if (chosen.length < 1 || chosen.length > pick || new Set(chosen).size < chosen.length)
    return refuse('bad-input', { issues: [`'for' must be 1 to ${pick} different candidates`] })
  const unknown = chosen.find((each) => !match.own.ballot.candidates.includes(each))
  if (unknown !== undefined) return refuse('no-such-candidate', { candidate: unknown })
  if (!selfVote && chosen.includes(seat)) return refuse('no-self-vote')
  return cast(match, seat, chosen)
}

/** Votes for nobody, which counts as a vote. */
export const abstain = <N extends string>(match: Match<N>, seat: Seat) =>
  refusalFor(match, seat) ?? cast(match, seat, [])

/** Withdraws a seat's own vote. */
export const unvote = <N extends string>(match: Match<N>, seat: Seat) =>
  refusalFor(match, seat) ?? clear(match, seat)

/** Adds votes that were counted outside. */
export function addVotes<N extends string>(match: Match<N>, candidate: string, votes: number) {
  const { ballot, audience } = match.own
  if (!ballot.open) return refuse('ballot-closed')
  if (!ballot.candidates.includes(candidate)) return refuse('no-such-candidate', { candidate })
  audience.votes = withEntry(audience.votes, candidate, (audience.votes.get(candidate) ?? 0) + votes)
  return undefined
}

/** A player who watches votes. */
export function voteOfWatcher<N extends string>(match: Match<N>, player: string, candidate: string) {
  const { ballot, audience } = match.own
  if (!ballot.open) return refuse('ballot-closed')
  if (!match.use(roster).isWatching(player)) return refuse('not-watching')
  if (!ballot.candidates.includes(candidate)) return refuse('no-such-candidate', { candidate })
  if (!match.settings.changes && audience.watchers.has(player)) return refuse('already-voted')
  audience.watchers = withEntry(audience.watchers, player, candidate)
  return undefined
}

/** Closes the ballot if nobody is awaited any more. An audience alone may vote until the time is up. */
export function closeWhenAll<N extends string>(match: Match<N>): void {
  const { ballot } = match.own
  if (!ballot.open || !match.settings.closeWhenAll || ballot.asked === 0) return
  const isAwaited = (seat: Seat): boolean => !match.own.votes.of(seat).voted && match.use(roster).isHere(seat)
  if (!voters(match).some(isAwaited)) close(match)
}
