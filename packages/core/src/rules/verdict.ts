import { declareRule, type MatchOf, type RuleLike } from '../match/index.ts'
import {
  choice,
  everyone,
  flag,
  int,
  list,
  maybe,
  num,
  perSeat,
  type Seat,
  seatRef,
  single,
  text,
} from '../state/index.ts'
import type { Claim, Condition, Side } from './conditions.ts'
import { holds } from './holds.ts'
import { phases } from './phases.ts'
import { roster } from './roster.ts'
import { rounds } from './rounds.ts'
import { scores } from './scores.ts'
import { teams } from './teams.ts'

const shape = declareRule({
  name: 'verdict',
  needs: [phases, roster],
  knows: [scores, rounds, holds, teams],
  takes: (given: { readonly when?: readonly Condition[] }) => given,
  state: {
    end: single({
      /** Nothing as long as the bout is not decided. */
      kind: maybe(choice('win', 'draw', 'none')).seenBy(everyone),
      winners: list(seatRef(), []).seenBy(everyone),
      reason: text('').seenBy(everyone),
      /** Play time, ms. */
      at: int(0).seenBy(everyone),
    }),
    places: perSeat({ rank: num(0).seenBy(everyone) }),
    /** What the settling is to judge. */
    pending: single({
      timeUp: flag(false),
      winners: list(seatRef(), []),
      reason: text(''),
      fell: list(seatRef(), []),
    }),
    field: single({ began: int(0) }),
  },
  events: {
    reached: {
      kind: text().seenBy(everyone),
      winners: list(seatRef()).seenBy(everyone),
      reason: text().seenBy(everyone),
    },
  },
  drafts: { claim: { winners: list(seatRef()), reason: text() } },
})
type Match = MatchOf<typeof shape>

/** Teams with a seat in play by their number, or the seats in play; with what they have scored and held. */
function sidesOf(match: Match): Side[] {
  const [team, score, held] = [match.use(teams), match.use(scores), match.use(holds)]
  const inPlay = match.use(roster).inPlay()
  const together = (seats: readonly Seat[], points: number): Side => ({
    seats,
    score: points,
    held: seats.reduce((sum, seat) => sum + (held?.total(seat) ?? 0), 0),
  })
  if (team === undefined) return inPlay.map((seat) => together([seat], score?.of(seat) ?? 0))
  return Array.from({ length: team.count() }, (_, number) =>
    together(
      inPlay.filter((seat) => team.of(seat) === number),
      team.score(number),
    ),
  ).filter(({ seats }) => seats.length > 0)
}

/** The listed conditions in their order, then a rule's own claim, then forfeit. */
function claimOf(match: Match): Claim | undefined {
  const { timeUp, winners, reason, fell } = match.own.pending
  const { began } = match.own.field
  const sides = sidesOf(match)
  for (const condition of match.taken.when ?? []) {
    const claim = condition.judge({ timeUp, began, sides, fell })
    if (claim !== undefined) return claim
  }
  return reason === '' ? forfeit(match, sides) : { winners, reason }
}

/** With no more than one side left in play the bout is decided, if there were others. */
function forfeit(match: Match, sides: readonly Side[]): Claim | undefined {
  const [last, other] = sides
  if (last === undefined) return { winners: [], reason: 'nobody-left' }
  return other === undefined && sidesAmong(match, match.use(roster).all()) > 1
    ? { winners: last.seats, reason: 'forfeit' }
    : undefined
}

/** How many sides there are among these seats. */
function sidesAmong(match: Match, seats: readonly Seat[]): number {
  const team = match.use(teams)
  return new Set(seats.map((seat) => team?.of(seat) ?? seat)).size
}

function fall(match: Match, seat: Seat) {
  match.own.pending.fell = [...match.own.pending.fell, seat]
}

function reach(match: Match, { winners, reason, kind: together }: Claim) {
  const { end } = match.own
  const sides = sidesAmong(match, winners)
  const kind = sides === 0 ? 'none' : sides === 1 ? 'win' : (together ?? 'draw')
  end.kind = kind
  end.winners = winners
  end.reason = reason
  end.at = match.time.play
  match.use(phases).finish(reason)
  for (const { seat, rank } of match.use(scores)?.standings() ?? []) match.own.places.of(seat).rank = rank
  match.emit('reached', { kind, winners, reason })
}

/** How the bout ends, exactly once. Conditions are judged when a step has settled, never in the middle of a handler. */
export const verdict = shape.does({
  apply: {
    claim(match, { winners, reason }) {
      if (match.use(phases).phase() !== 'live' || match.own.pending.reason !== '') return
      match.own.pending.winners = winners
      match.own.pending.reason = reason
    },
  },
  on: {
    'phases.live-began'(match) {
      match.own.field.began = sidesOf(match).length
    },
    'rounds.ended'(match) {
      match.own.pending.timeUp = true
    },
    'roster.left': (match, { seat }) => fall(match, seat),
    'roster.out': (match, { seat }) => fall(match, seat),
  },
  settle: {
    tier: 'verdict',
    wokenBy: ['pending', 'roster.seats', 'scores.sums'],
    run(match) {
      if (match.use(phases).phase() !== 'live') return
      const claim = claimOf(match)
      if (claim !== undefined) reach(match, claim)
      if (match.own.pending.fell.length > 0) match.own.pending.fell = []
    },
  },
})

/** Whether a listed verdict has a condition that decides when time is up. */
export function decidesAtTime(rule: RuleLike): boolean {
  const { when = [] } = Object(rule.given) as { readonly when?: readonly Condition[] }
  return when.some(({ atTime }) => atTime)
}
