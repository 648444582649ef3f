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
import type { Claim, Condition } from './conditions.ts'
import { holds } from './holds.ts'
import { phases } from './phases.ts'
import { roster } from './roster.ts'
import { rounds } from './rounds.ts'
import { scores } from './scores.ts'

const shape = declareRule({
  name: 'verdict',
  needs: [phases, roster],
  knows: [scores, rounds, holds],
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

/** The listed conditions in their order, then a rule's own claim, then forfeit. */
function claimOf(match: Match): Claim | undefined {
  const { timeUp, winners, reason, fell } = match.own.pending
  const { began } = match.own.field
  const [score, held] = [match.use(scores), match.use(holds)]
  const seats = match
    .use(roster)
    .inPlay()
    .map((seat) => ({ seat, score: score?.of(seat) ?? 0, held: held?.total(seat) ?? 0 }))
  for (const condition of match.taken.when ?? []) {
    const claim = condition.judge({ timeUp, began, seats, fell })
    if (claim !== undefined) return claim
  }
  return reason === '' ? forfeit(match) : { winners, reason }
}

/** With no more than one seat left in play the bout is decided, if there were others. */
function forfeit(match: Match): Claim | undefined {
  const left = match.use(roster).inPlay()
  if (left.length === 0) return { winners: [], reason: 'nobody-left' }
  return left.length === 1 && match.use(roster).all().length > 1
    ? { winners: left, reason: 'forfeit' }
    : undefined
}

function fall(match: Match, seat: Seat) {
  match.own.pending.fell = [...match.own.pending.fell, seat]
}

function reach(match: Match, { winners, reason, kind: together }: Claim) {
  const { end } = match.own
  const kind = winners.length === 0 ? 'none' : winners.length === 1 ? 'win' : (together ?? 'draw')
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
      match.own.field.began = match.use(roster).inPlay().length
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
