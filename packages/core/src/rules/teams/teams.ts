import { int, list, type Seat, seatRef } from '../../cells/index.ts'
import { refuse } from '../../rule/index.ts'
import { inPhase, type Phase } from '../gates.ts'
import { phases } from '../phases/phases.ts'
import { scores } from '../scores.ts'
import { vitals } from '../vitals/vitals.ts'
import { arrangeCaptains, pick, pickTheRest, unpicked } from './captains.ts'
import {
  areFoes,
  balance,
  crew,
  everyTeam,
  groupSeats,
  isUneven,
  neediest,
  scoreOf,
  switchTo,
  teamOf,
  unitOf,
} from './crews.ts'
import { type Match, SWITCHED, shape } from './shape.ts'

const added = (match: Match, sums: readonly number[], team: number, amount: number): number[] =>
  everyTeam(match).map((each) => (sums[each] ?? 0) + (each === team ? amount : 0))

const unknownTeam = (match: Match, team: number) =>
  refuse('bad-input', { issues: [`'team' must be 0 to ${match.settings.count - 1}, not ${team}`] })

const byCaptains = (match: Match): boolean => match.settings.pick === 'captains'
const isBefore = (phase: Phase): boolean => phase === 'lobby' || phase === 'countdown'

/** Before play, and between rounds or at any time if the mode says so. If captains pick, nobody else changes anything. */
function maySwitch(match: Match) {
  const phase = match.use(phases).phase()
  const { switching } = match.settings
  if (!isBefore(phase) && switching !== 'any' && !(phase === 'break' && switching === 'break'))
    return refuse('not-now')
  return byCaptains(match) ? refuse('captains-pick') : undefined
}

function welcome(match: Match, seat: Seat) {
  if (!byCaptains(match) || !isBefore(match.use(phases).phase()))
    return void match.resolve('assign', { seat, team: neediest(match, seat) })
  match.own.side.of(seat).picked = false
  arrangeCaptains(match)
}

/** During a round, a seat that changes teams begins a new life there. */
function move(match: Match, seat: Seat, team: number) {
  switchTo(match, seat, team)
  const bodies = match.use(phases).phase() === 'live' ? match.use(vitals) : undefined
  if (bodies?.isUp(seat)) bodies.bringDown(seat, SWITCHED)
}

const asked = inPhase('lobby', 'countdown', 'live', 'break')

/** Who is on whose side: assignment, balance, trading places, and what blows at team-mates do. */
export const teams = shape.does({
  refusals: {
    'friendly-fire': 'A team-mate cannot be hurt. Choose a foe.',
    uneven: 'The teams would become too unequal. Choose another team, or trade places with somebody.',
    'no-captains': 'No captain picks in this mode. Choose a team.',
    'captains-pick': 'Captains pick who joins their teams. Wait to be picked.',
    picked: 'This seat is in a team already. Pick another.',
    'same-team': 'The two are in one team already. Choose somebody of another team.',
    'in-a-group': 'A seat of a group changes teams with its whole group. Choose a team instead.',
    'not-your-turn': "It is another seat's turn. Wait for yours.",
  },
  sides: (match, seat) => {
    const { team, picked } = match.own.side.of(seat)
    if (!picked) return [seat]
    return match.seats.filter(
      (each) => match.own.side.of(each).picked && match.own.side.of(each).team === team,
    )
  },
  apply: {
    assign(match, { seat, team }) {
      if (team < 0 || team >= match.settings.count) return unknownTeam(match, team)
      match.own.side.of(seat).team = team
      match.emit('joined', { seat, team })
      return undefined
    },
  },
  actions: {
    /** Chooses a team. */
    choose: {
      when: asked,
      input: { team: int() },
      options: (match) => everyTeam(match).map((team) => ({ team })),
      decide(match, seat, { team }) {
        const { count, maxDifference, sizes } = match.settings
        if (team < 0 || team >= count) return unknownTeam(match, team)
        const refusal = maySwitch(match)
        if (refusal !== undefined || team === teamOf(match, seat)) return refusal
        const unit = unitOf(match, seat)
        if (isUneven(match, unit, team)) return refuse('uneven', { most: sizes[team] ?? maxDifference })
        for (const each of unit) move(match, each, team)
        return undefined
      },
    },
    /** Trades places with another seat once both have asked for it, however uneven the teams are. */
    trade: {
      when: asked,
      input: { other: seatRef() },
      options: (match, seat) =>
        match.seats.filter((other) => areFoes(match, seat, other)).map((other) => ({ other })),
      decide(match, seat, { other }) {
        const refusal = maySwitch(match)
        if (refusal !== undefined) return refusal
        if (!areFoes(match, seat, other)) return refuse('same-team', { other })
        for (const each of [seat, other])
          if (unitOf(match, each).length > 1) return refuse('in-a-group', { seat: each })
        match.own.side.of(seat).tradesWith = other
        if (match.own.side.of(other).tradesWith !== seat) return undefined
        const [mine, theirs] = [teamOf(match, seat), teamOf(match, other)]
        for (const each of [seat, other]) match.own.side.of(each).tradesWith = undefined
        move(match, seat, theirs)
        move(match, other, mine)
        return undefined
      },
    },
    /** The captain in turn picks who joins its team. */
    pick: {
      when: inPhase('lobby', 'countdown'),
      input: { seat: seatRef() },
      options: (match) => unpicked(match).map((seat) => ({ seat })),
      decide: (match, by, { seat }) => pick(match, by, seat),
    },
  },
  directives: {
    /** Keeps these seats in one team: they change teams and are moved together, or not at all. Before play. */
    group: {
      input: { seats: list(seatRef()) },
      handle(match, { seats }) {
        if (!isBefore(match.use(phases).phase())) return refuse('not-now')
        if (byCaptains(match)) return refuse('captains-pick')
        return groupSeats(match, seats)
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
    'roster.joined': (match, { seat }) => welcome(match, seat),
    'roster.left'(match) {
      if (byCaptains(match) && isBefore(match.use(phases).phase())) arrangeCaptains(match)
    },
    'scores.given'(match, { row, seat, amount }) {
      const team = teamOf(match, seat)
      match.use(scores)?.noteTeam(row, team)
      match.own.sums.score = added(match, match.own.sums.score, team, amount)
      match.own.inRound.points = added(match, match.own.inRound.points, team, amount)
    },
    'phases.live-began'(match) {
      pickTheRest(match)
      if (match.settings.balance === 'at-start') balance(match)
    },
    'rounds.began'(match) {
      if (match.settings.balance === 'at-round') balance(match)
    },
  },
  calls: {
    /** Returns the team of a seat. */
    of: teamOf,
    /** Returns the seats of other teams. */
    foes: areFoes,
    /** Returns a seat's team-mates that have not left, including itself. */
    mates: (match, seat: Seat): readonly Seat[] => crew(match, teamOf(match, seat)),
    /** Returns the seats of a team that have not left, by seat number. */
    crew: (match, team: number): readonly Seat[] => crew(match, team),
    /** Returns how many teams there are. */
    count: (match): number => match.settings.count,
    /** True if play goes on with one team alone. */
    mayBeEmpty: (match): boolean => match.settings.emptyTeam === 'go-on',
    /** Returns what a team has scored in this bout. */
    score: scoreOf,
    /** Returns what a team has scored in this round. */
    inRound: (match, team: number): number => match.own.inRound.points[team] ?? 0,
  },
})
