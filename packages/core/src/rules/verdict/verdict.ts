import type { Seat } from '../../cells/index.ts'
import { withEntry } from '../../kit/index.ts'
import { type RuleLike, refuse } from '../../rule/index.ts'
import { type Claim, type Condition, type Field, type Side, surrender } from '../conditions.ts'
import { phases } from '../phases/phases.ts'
import { whenOutOfPlay } from '../play.ts'
import { rounds } from '../rounds.ts'
import { scores } from '../scores.ts'
import { forfeit, givenUp } from './giving-up.ts'
import { type Match, shape } from './shape.ts'
import { sideOf, sidesAmong, sidesOf } from './sides.ts'

interface Decided extends Claim {
  readonly scope: Condition['scope']
  /** True if a listed condition claims it. Only then a tied round goes on. */
  readonly listed: boolean
}

/** The listed conditions in order, then a rule's own claim, then forfeit. When time is up, whoever is there. */
function claimOf(match: Match, decided?: Field['rounds']): Decided | undefined {
  const { winners, reason, fell } = match.own.pending
  const { began } = match.own.field
  const round = match.use(rounds)
  const timeUp = round !== undefined && (round.isTimeUp() || round.isSudden())
  const conditions = match.config.when ?? []
  const judgesRound = round?.isOpen() === true && conditions.some(({ scope }) => scope === 'round')
  const sides = { bout: sidesOf(match, 'bout'), round: judgesRound ? sidesOf(match, 'round') : [] }
  for (const { judge, scope } of conditions) {
    if (scope === 'round' && !(decided === undefined && round?.isOpen())) continue
    const field: Field = {
      timeUp: decided === undefined && timeUp,
      began,
      seats: match.seats,
      sides: sides[scope],
      fell,
      rounds: decided,
    }
    const claim = match.reading((read) => judge(read, field))
    if (claim !== undefined) return { ...claim, scope, listed: true }
  }
  const claim =
    reason === '' ? (givenUp(match, sides.bout) ?? forfeit(match, sides.bout)) : { winners, reason }
  if (claim !== undefined) return { ...claim, scope: 'bout', listed: false }
  return undecided(match, sides.bout, judgesRound, decided)
}

/** Why a round ends if no condition has an opinion. */
const UNDECIDED = 'time-up'

/** No condition has an opinion, but time is up: everyone is tied, and draws if no overtime follows. */
function undecided(
  match: Match,
  sides: readonly Side[],
  judgesRound: boolean,
  decided: Field['rounds'],
): Decided | undefined {
  const level = { winners: sides.flatMap(({ seats }) => seats), listed: true }
  if (decided !== undefined)
    return decided.left > 0 ? undefined : { ...level, reason: 'rounds-over', scope: 'bout' }
  return match.use(rounds)?.isTimeUp()
    ? { ...level, reason: UNDECIDED, scope: judgesRound ? 'round' : 'bout' }
    : undefined
}

/** True if a tied claim is put off because the round goes on: into overtime, or until one side leads. */
function isPutOff(match: Match, { winners, kind, listed, reason, goesOn = false }: Decided): boolean {
  const round = match.use(rounds)
  if (round === undefined || !listed || kind === 'win' || sidesAmong(match, winners) < 2) return false
  if (round.isTimeUp()) return round.prolong(reason !== UNDECIDED, winners)
  return round.isSudden() || (goesOn && round.endsSuddenly())
}

/** Decides a round, and then perhaps the bout. */
function closeRound(match: Match, { winners, reason }: Claim) {
  const round = match.use(rounds)
  if (round === undefined) return
  const [winner = ''] = winners
  if (sidesAmong(match, winners) === 1) {
    const { wins } = match.own.rounds
    const name = sideOf(match, winner)
    match.own.rounds.wins = withEntry(wins, name, (wins.get(name) ?? 0) + 1)
    round.close(winners, reason)
  } else round.close([], reason)
  const claim = claimOf(match, { left: round.left(), bestOf: round.bestOf() })
  const isTied = claim?.kind !== 'win' && sidesAmong(match, claim?.winners ?? []) > 1
  if (claim === undefined || (isTied && round.hasDecider())) round.goOn()
  else reach(match, claim)
}

/** With `judge: 'millisecond'` a claim waits until its millisecond is over, and is judged again then. */
function waits(match: Match): boolean {
  const { waited } = match.own
  if (match.settings.judge === 'step' || waited.claim || match.use(rounds)?.isTimeUp()) return false
  if (!match.timers.runs('judge')) match.timers.start('judge', { in: 1 })
  waited.since = match.time.play
  return true
}

function fall(match: Match, seat: Seat) {
  match.own.pending.fell = [...match.own.pending.fell, seat]
}

function reach(match: Match, { winners, reason, kind: together }: Claim) {
  match.use(rounds)?.close(winners, reason)
  const sides = sidesAmong(match, winners)
  const kind = sides === 0 ? 'none' : sides === 1 ? 'win' : (together ?? 'draw')
  match.use(phases).finish(reason)
  end(match, kind, winners, reason)
}

function end(match: Match, kind: 'win' | 'draw' | 'none', winners: readonly Seat[], reason: string) {
  match.own.end.kind = kind
  match.own.end.winners = winners
  match.own.end.reason = reason
  match.own.end.at = match.own.waited.claim ? match.own.waited.since : match.time.play
  for (const { seat, rank } of match.use(scores)?.standings() ?? []) match.own.places.of(seat).rank = rank
  match.emit('reached', { kind, winners, reason })
}

/** How the bout ends, exactly once. Conditions are judged when a step has settled, never in the middle of a handler. */
export const verdict = shape.does({
  refusals: {
    'cannot-surrender': 'Nobody can give up in this mode. Leave, or play on.',
  },
  discloses: [
    {
      secret: 'verdict.wishes.surrender',
      by: ['roster.sidelined', 'verdict.reached'],
      to: 'everyone',
      why: 'whoever has given up is out',
    },
  ],
  apply: {
    claim(match, { winners, reason }) {
      if (match.use(phases).phase() !== 'live' || match.own.pending.reason !== '') return
      match.own.pending.winners = winners
      match.own.pending.reason = reason
    },
  },
  actions: {
    /** Asks to give up. A side gives up when enough of its seats ask to. */
    surrender: {
      input: {},
      decide(match, seat) {
        if (match.config.when?.some(({ name }) => name === surrender.name) !== true)
          return refuse('cannot-surrender')
        match.own.wishes.of(seat).surrender = true
        match.emit('wants-to-give-up', { seat })
      },
    },
  },
  timers: {
    forfeit: {
      clock: 'match',
      band: 'outer',
      fire(match) {
        match.own.waited.forfeit = true
      },
    },
    judge: {
      clock: 'match',
      band: 'lapse',
      fire(match) {
        match.own.waited.claim = true
      },
    },
  },
  on: {
    'phases.live-began'(match) {
      match.own.field.began = sidesOf(match, 'bout').length
    },
    'phases.changed'(match, { to, why }) {
      if (to !== 'over') return
      match.timers.cancel('forfeit')
      match.timers.cancel('judge')
      if (match.own.end.kind === undefined) end(match, 'none', [], why)
    },
    ...whenOutOfPlay(fall),
  },
  settle: {
    tier: 'verdict',
    wokenBy: ['wishes', 'pending', 'waited', 'roster.seats', 'scores.sums', 'rounds.pending'],
    alsoBy: ({ when = [] }) => when.flatMap(({ needs }) => needs),
    run(match) {
      const phase = match.use(phases).phase()
      if (phase !== 'live' && phase !== 'break') return
      const claim = claimOf(match)
      if (claim !== undefined && !isPutOff(match, claim)) {
        if (waits(match)) return
        ;(claim.scope === 'round' ? closeRound : reach)(match, claim)
      }
      if (match.own.waited.claim) match.own.waited.claim = false
      if (match.own.pending.fell.length > 0) match.own.pending.fell = []
    },
  },
})

/** The conditions that a rulebook gave its verdict. */
export const conditionsOf = (rule: RuleLike): readonly Condition[] =>
  (Object(rule.given) as { readonly when?: readonly Condition[] }).when ?? []
