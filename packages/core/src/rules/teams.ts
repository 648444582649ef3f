import { z } from 'zod'
import { declareRule, type MatchOf, refuse } from '../match/index.ts'
import { everyone, int, list, maybe, perSeat, type Seat, seatRef, single } from '../state/index.ts'
import { inPhase } from './gates.ts'
import { phases } from './phases.ts'
import { roster } from './roster.ts'
import { rounds } from './rounds.ts'
import { scores } from './scores.ts'
import { vitals } from './vitals/vitals.ts'

const shape = declareRule({
  name: 'teams',
  needs: [roster, phases],
  knows: [rounds, scores, vitals],
  settings: z.object({
    count: z.int().min(2).max(64).default(2),
    /** By how many seats teams may differ. */
    maxDifference: z.int().min(1).default(1),
    /** What becomes of a blow at a team-mate: refused, landed, landed in part, or turned on who struck. */
    friendlyFire: z.enum(['off', 'on', 'reduced', 'back']).default('off'),
    /** The part that lands with 'reduced'. */
    friendlyPart: z.number().min(0).max(1).multipleOf(0.001).default(0.5),
    /** When the latest joiners of the largest team move to the smallest. */
    balance: z.enum(['none', 'at-start', 'at-round']).default('none'),
  }),
  state: {
    /** From 0. */
    side: perSeat({ team: int(0).seenBy(everyone), tradesWith: maybe(seatRef()).seenBy(everyone) }).each(
      'match',
    ),
    /** What each team has scored in this bout, by its number: points stay with the team in which they were earned. */
    sums: single({ score: list(int(), []).seenBy(everyone) }),
    inRound: single({ points: list(int(), []) }).each('round'),
  },
  events: {
    joined: { seat: seatRef().seenBy(everyone), team: int().seenBy(everyone) },
    switched: { seat: seatRef().seenBy(everyone), team: int().seenBy(everyone) },
  },
  drafts: { assign: { seat: seatRef(), team: int() } },
})
type Match = MatchOf<typeof shape>

const teamOf = (match: Match, seat: Seat): number => match.own.side.of(seat).team

/** Those of a team that have not left, by seat number. */
const crew = (match: Match, team: number): Seat[] =>
  match.seats.filter((seat) => match.own.side.of(seat).team === team)

const everyTeam = (match: Match): number[] => Array.from({ length: match.settings.count }, (_, team) => team)

const scoreOf = (match: Match, team: number): number => match.own.sums.score[team] ?? 0

const added = (match: Match, sums: readonly number[], team: number, amount: number): number[] =>
  everyTeam(match).map((each) => (sums[each] ?? 0) + (each === team ? amount : 0))

/** Fewest seats, then the lower score, then the lowest index. */
function neediest(match: Match, joiner: Seat): number {
  const need = everyTeam(match).map((team) => ({
    team,
    seats: crew(match, team).filter((seat) => seat !== joiner).length,
    score: scoreOf(match, team),
  }))
  need.sort((a, b) => a.seats - b.seats || a.score - b.score || a.team - b.team)
  return need[0]?.team ?? 0
}

function switchTo(match: Match, seat: Seat, team: number) {
  match.own.side.of(seat).team = team
  match.emit('switched', { seat, team })
}

/** The largest and the smallest team, the lowest index first. */
function extremes(match: Match): readonly [largest: readonly Seat[], smallest: number, difference: number] {
  const sizes = everyTeam(match).map((team) => crew(match, team))
  const most = Math.max(...sizes.map(({ length }) => length))
  const least = Math.min(...sizes.map(({ length }) => length))
  const largest = sizes.find(({ length }) => length === most) ?? []
  return [largest, sizes.findIndex(({ length }) => length === least), most - least]
}

function balance(match: Match) {
  for (;;) {
    const [largest, smallest, difference] = extremes(match)
    const latest = largest.at(-1)
    if (difference <= match.settings.maxDifference || latest === undefined) return
    switchTo(match, latest, smallest)
  }
}

/** Whether this move would leave teams that differ by too much. */
function isUneven(match: Match, seat: Seat, to: number): boolean {
  const sizes = everyTeam(match).map(
    (team) => crew(match, team).filter((each) => each !== seat).length + (team === to ? 1 : 0),
  )
  return Math.max(...sizes) - Math.min(...sizes) > match.settings.maxDifference
}

const areFoes = (match: Match, a: Seat, b: Seat): boolean => teamOf(match, a) !== teamOf(match, b)

/** Who is on whose side: assignment, balance, trading places, and what becomes of blows at team-mates. */
export const teams = shape.does({
  apply: {
    assign(match, { seat, team }) {
      if (team < 0 || team >= match.settings.count)
        return refuse('bad-input', {
          issues: [`'team' must be 0 to ${match.settings.count - 1}, not ${team}`],
        })
      match.own.side.of(seat).team = team
      match.emit('joined', { seat, team })
      return undefined
    },
  },
  actions: {
    choose: {
      when: inPhase('lobby', 'countdown'),
      input: { team: int() },
      options: (match) => everyTeam(match).map((team) => ({ team })),
      decide(match, seat, { team }) {
        const { count, maxDifference } = match.settings
        if (team < 0 || team >= count)
          return refuse('bad-input', { issues: [`'team' must be 0 to ${count - 1}, not ${team}`] })
        if (team === teamOf(match, seat)) return
        if (isUneven(match, seat, team)) return refuse('uneven', { most: maxDifference })
        switchTo(match, seat, team)
      },
    },
    /** Two who both ask for it trade places, however uneven the teams are. */
    trade: {
      when: inPhase('lobby', 'countdown'),
      input: { other: seatRef() },
      options: (match, seat) =>
        match.seats.filter((other) => areFoes(match, seat, other)).map((other) => ({ other })),
      decide(match, seat, { other }) {
        if (!areFoes(match, seat, other)) return refuse('same-team', { other })
        match.own.side.of(seat).tradesWith = other
        if (match.own.side.of(other).tradesWith !== seat) return
        const [mine, theirs] = [teamOf(match, seat), teamOf(match, other)]
        for (const each of [seat, other]) match.own.side.of(each).tradesWith = undefined
        switchTo(match, seat, theirs)
        switchTo(match, other, mine)
      },
    },
  },
  amend: {
    'vitals.hurt'(match, blow) {
      const { target, by } = blow
      if (by === undefined || by === target || areFoes(match, by, target)) return undefined
      const { friendlyFire, friendlyPart } = match.settings
      if (friendlyFire === 'off') return refuse('friendly-fire', { target })
      if (friendlyFire === 'reduced') blow.amount.times(friendlyPart)
      if (friendlyFire === 'back') blow.redirect(by)
      return undefined
    },
  },
  on: {
    'roster.joined': (match, { seat }) => void match.resolve('assign', { seat, team: neediest(match, seat) }),
    'scores.given'(match, { seat, amount }) {
      const team = teamOf(match, seat)
      match.own.sums.score = added(match, match.own.sums.score, team, amount)
      match.own.inRound.points = added(match, match.own.inRound.points, team, amount)
    },
    'phases.live-began'(match) {
      if (match.settings.balance === 'at-start') balance(match)
    },
    'rounds.began'(match) {
      if (match.settings.balance === 'at-round') balance(match)
    },
  },
  sides: (match, seat) => {
    const { team } = match.own.side.of(seat)
    return match.seats.filter((each) => match.own.side.of(each).team === team)
  },
  calls: {
    of: teamOf,
    foes: areFoes,
    /** A seat's team-mates that have not left, itself too. */
    mates: (match, seat: Seat): readonly Seat[] => crew(match, teamOf(match, seat)),
    /** Those of a team that have not left, by seat number. */
    crew: (match, team: number): readonly Seat[] => crew(match, team),
    count: (match): number => match.settings.count,
    /** What a team has scored in this bout. */
    score: scoreOf,
    /** What a team has scored in this round. */
    inRound: (match, team: number): number => match.own.inRound.points[team] ?? 0,
  },
})
