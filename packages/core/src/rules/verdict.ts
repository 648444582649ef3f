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
  type Seat,
  seatRef,
  side,
  single,
  text,
} from '../cells/index.ts'
import { withEntry } from '../kit/index.ts'
import { declareRule, type MatchOf, type RuleLike, refuse } from '../rule/index.ts'
import { type Claim, type Condition, type Field, type Side, surrender } from './conditions.ts'
import { holds } from './holds.ts'
import { phases } from './phases/phases.ts'
import { whenOutOfPlay } from './play.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'
import { scores } from './scores.ts'
import { teams } from './teams/teams.ts'

const shape = declareRule({
  name: 'verdict',
  needs: [phases, roster],
  knows: [scores, rounds, holds, teams],
  config: (given: { readonly when?: readonly Condition[] }) => given,
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
})
type Match = MatchOf<typeof shape>

const sideOf = (match: Match, seat: Seat): string => String(match.use(teams)?.of(seat) ?? seat)

/** Returns the teams with a seat in play by number, or the seats in play, with what they have scored, held and won. */
function sidesOf(match: Match, scope: Condition['scope']): Side[] {
  const [team, score, held] = [match.use(teams), match.use(scores), match.use(holds)]
  const inRound = scope === 'round'
  const side = (name: string, seats: readonly Seat[], points: number): Side => ({
    seats,
    score: points,
    held: held === undefined ? 0 : seats.reduce((sum, seat) => sum + held.total(seat), 0),
    wins: match.own.rounds.wins.get(name) ?? 0,
  })
  const inPlay = match.use(roster).inPlay()
  if (team === undefined)
    return inPlay.map((seat) => side(seat, [seat], (inRound ? score?.inRound(seat) : score?.of(seat)) ?? 0))
  const crews = Array.from({ length: team.count() }, (): Seat[] => [])
  for (const seat of inPlay) crews[team.of(seat)]?.push(seat)
  return crews.flatMap((seats, number) =>
    seats.length === 0
      ? []
      : side(String(number), seats, inRound ? team.inRound(number) : team.score(number)),
  )
}

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

/** A side gives up when all of its seats that are present want to. Of two sides the other wins; of more, it is out. */
function givenUp(match: Match, sides: readonly Side[]): Claim | undefined {
  const gaveUp = sides.find(({ seats }) => {
    const here = seats.filter((seat) => match.use(roster).isHere(seat))
    return here.length > 0 && here.every((seat) => match.own.wishes.of(seat).surrender)
  })
  if (gaveUp === undefined) return undefined
  if (sides.length === 2)
    return { winners: sides.flatMap((each) => (each === gaveUp ? [] : each.seats)), reason: 'surrender' }
  for (const seat of gaveUp.seats) match.use(roster).sideline(seat, 'surrender')
  return undefined
}

/** With at most one side left in play the bout is decided, if there were others before. */
function forfeit(match: Match, [last, other]: readonly Side[]): Claim | undefined {
  if (last === undefined) return { winners: [], reason: 'nobody-left' }
  return other === undefined && sidesAmong(match, match.use(roster).all()) > 1
    ? { winners: last.seats, reason: 'forfeit' }
    : undefined
}

/** Returns how many sides these seats are on. */
const sidesAmong = (match: Match, seats: readonly Seat[]): number =>
  new Set(seats.map((seat) => sideOf(match, seat))).size

/** True if a tied claim is put off because the round goes on: into overtime, or until one side leads. */
function isPutOff(match: Match, { winners, kind, listed, reason, goesOn = false }: Decided): boolean {
  const round = match.use(rounds)
  if (round === undefined || !listed || kind === 'win' || sidesAmong(match, winners) < 2) return false
  if (round.isTimeUp()) return round.prolong(reason !== UNDECIDED)
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
  if (claim === undefined) round.goOn()
  else reach(match, claim)
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
  match.own.end.at = match.time.play
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
    /** Asks to give up. A side gives up when all of its seats ask to. */
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
  on: {
    'phases.live-began'(match) {
      match.own.field.began = sidesOf(match, 'bout').length
    },
    'phases.changed'(match, { to, why }) {
      if (to === 'over' && match.own.end.kind === undefined) end(match, 'none', [], why)
    },
    ...whenOutOfPlay(fall),
  },
  settle: {
    tier: 'verdict',
    wokenBy: ['wishes', 'pending', 'roster.seats', 'scores.sums', 'rounds.pending'],
    alsoBy: ({ when = [] }) => when.flatMap(({ needs }) => needs),
    run(match) {
      const phase = match.use(phases).phase()
      if (phase !== 'live' && phase !== 'break') return
      const claim = claimOf(match)
      if (claim !== undefined && !isPutOff(match, claim))
        (claim.scope === 'round' ? closeRound : reach)(match, claim)
      if (match.own.pending.fell.length > 0) match.own.pending.fell = []
    },
  },
})

/** The conditions that a rulebook gave its verdict. */
export const conditionsOf = (rule: RuleLike): readonly Condition[] =>
  (Object(rule.given) as { readonly when?: readonly Condition[] }).when ?? []
