import { z } from 'zod'
import { declareRule, type MatchOf } from '../match/index.ts'
import { amount, everyone, int, num, perSeat, type Seat, seatRef, table, text } from '../state/index.ts'
import { type RankStyle, rankGroups } from './ranks.ts'
import { roster } from './roster.ts'

/** What seats are ranked by: one measure after another, until one tells them apart. */
export interface Measure {
  readonly better: 'more' | 'less'
  of(seat: Seat): number
}
/** A seat's place among the others. */
export interface Standing {
  readonly seat: Seat
  readonly rank: number
}

const shape = declareRule({
  name: 'scores',
  needs: [roster],
  settings: z.object({
    ranks: z.enum(['competition', 'dense', 'modified', 'ordinal', 'fractional']).default('competition'),
  }),
  state: {
    sums: perSeat({ score: int(0).seenBy(everyone) }),
    places: perSeat({ rank: num(1).seenBy(everyone) }),
    inRound: perSeat({ points: int(0) }).each('round'),
    /** Every change of a score, never changed nor removed: the sums are theirs. */
    ledger: table({
      to: seatRef().seenBy(everyone),
      amount: int().seenBy(everyone),
      reason: text().seenBy(everyone),
      at: int().seenBy(everyone),
    }),
  },
  events: { given: { seat: seatRef(), amount: int(), reason: text() } },
  drafts: { give: { seat: seatRef(), amount: amount(), reason: text() } },
})
type Match = MatchOf<typeof shape>

function standings(match: Match, measures: readonly Measure[]): Standing[] {
  const { ranks } = match.settings
  const inPlay = match.use(roster).inPlay()
  const gone = match
    .use(roster)
    .all()
    .filter((seat) => !match.use(roster).isInPlay(seat))
  return [
    ...ranked(inPlay, measures, ranks),
    ...ranked(gone, measures, ranks).map(({ seat, rank }) => ({ seat, rank: rank + inPlay.length })),
  ]
}

/** Best first; seats that are level stand in the order of their numbers. */
function ranked(seats: readonly Seat[], measures: readonly Measure[], style: RankStyle): Standing[] {
  const compare = (a: Seat, b: Seat): number => {
    const telling = measures.find((measure) => measure.of(a) !== measure.of(b))
    return telling === undefined ? 0 : (telling.of(b) - telling.of(a)) * (telling.better === 'more' ? 1 : -1)
  }
  const ordered = [...seats].sort(compare)
  const ranks = rankGroups(
    ordered.map((seat, at) => at > 0 && compare(ordered[at - 1] ?? seat, seat) === 0),
    style,
  )
  return ordered.map((seat, at) => ({ seat, rank: ranks[at] ?? 1 }))
}

const byScore = (match: Match): Measure => ({ better: 'more', of: (seat) => match.own.sums.of(seat).score })

/** The ledger, its sums and the standings. */
export const scores = shape.does({
  apply: {
    give(match, { seat, amount, reason }) {
      if (amount === 0) return
      match.own.ledger.add({ to: seat, amount, reason, at: match.time.play })
      match.own.sums.of(seat).score += amount
      match.own.inRound.of(seat).points += amount
      match.emit('given', { seat, amount, reason })
    },
  },
  settle: {
    tier: 'score',
    wokenBy: ['sums', 'roster.seats'],
    run(match) {
      for (const { seat, rank } of standings(match, [byScore(match)])) match.own.places.of(seat).rank = rank
    },
  },
  calls: {
    of: (match, seat: Seat): number => match.own.sums.of(seat).score,
    /** What a seat has scored in this round. */
    inRound: (match, seat: Seat): number => match.own.inRound.of(seat).points,
    /** Ranks by score, or by these measures one after another. Seats that have left come after all others. */
    standings: (match, measures?: readonly Measure[]): readonly Standing[] =>
      standings(match, measures ?? [byScore(match)]),
  },
})
