import {
  amount,
  bySetting,
  everyone,
  int,
  list,
  maybe,
  num,
  perSeat,
  rowOf,
  type Seat,
  seatRef,
  single,
  table,
  text,
} from '../cells/index.ts'
import { declareRule, type MatchOf, refuse } from '../rule/index.ts'
import { fields, oneOf, orNull, setting, whole } from '../settings/index.ts'
import { type MajorityRules, majority } from './majority.ts'
import { type RankStyle, rankGroups } from './ranks.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'

/** What seats are ranked by: one measure after another, until one tells them apart. */
export interface Measure {
  /** Whether more or less of it is better. */
  readonly better: 'more' | 'less'
  /** Returns how much a seat has. */
  of(seat: Seat): number
}
/** A seat's place among the others. */
export interface Standing {
  /** The seat. */
  readonly seat: Seat
  /** Its rank, from 1. The setting `ranks` decides how ties count. */
  readonly rank: number
}

const entrySeen = bySetting('ledgerSeen')

const shape = declareRule({
  name: 'scores',
  needs: [roster],
  knows: [rounds],
  settings: fields({
    /** How ranks count if seats are tied. */
    ranks: setting(oneOf('competition', 'dense', 'modified', 'ordinal', 'fractional'), 'competition'),
    /** The lowest score there can be; null means no limit. */
    minScore: setting(orNull(whole()), null),
    /** How many of the best are on the board. */
    board: setting(whole({ min: 0 }), 10),
    /** Who sees every entry, not only scores and ranks. */
    ledgerSeen: setting(oneOf('everyone', 'nobody'), 'everyone'),
  }),
  state: {
    sums: perSeat({ score: int(0).seenBy(everyone) }),
    places: perSeat({ rank: num(1).seenBy(everyone) }),
    inRound: perSeat({ points: int(0) }).each('round'),
    /** The best seats, the first one first. */
    board: single({ top: list(seatRef(), []).seenBy(everyone) }),
    /** Every change of a score. Entries are never changed or removed; scores are their sums. */
    ledger: table({
      to: seatRef().seenBy(entrySeen),
      amount: int().seenBy(entrySeen),
      reason: text().seenBy(entrySeen),
      /** The team of the seat when it got them, by number. */
      team: maybe(int()).seenBy(entrySeen),
      at: int().seenBy(entrySeen),
    }),
    /** Entries of the ledger that a referee has reversed. */
    voided: table({ row: rowOf('ledger') }).indexedBy('row'),
  },
  events: {
    /** The ledger has a new entry. */
    given: { row: rowOf('ledger'), seat: seatRef(), amount: int(), reason: text() },
  },
  drafts: {
    /** Points for a seat, with the reason. */
    give: { seat: seatRef(), amount: amount(), reason: text() },
  },
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

/** Best first. Tied seats are in the order of their numbers. */
function ranked(seats: readonly Seat[], measures: readonly Measure[], style: RankStyle): Standing[] {
  const compare = (a: Seat, b: Seat): number => {
    const deciding = measures.find((measure) => measure.of(a) !== measure.of(b))
    return deciding === undefined
      ? 0
      : (deciding.of(b) - deciding.of(a)) * (deciding.better === 'more' ? 1 : -1)
  }
  const ordered = [...seats].sort(compare)
  const ranks = rankGroups(
    ordered.map((seat, at) => at > 0 && compare(ordered[at - 1] ?? seat, seat) === 0),
    style,
  )
  return ordered.map((seat, at) => ({ seat, rank: ranks[at] ?? 1 }))
}

/** The ledger holds what really changed: at its lowest, a score loses nothing. */
function enter(match: Match, seat: Seat, asked: number, reason: string) {
  const { minScore } = match.settings
  const room =
    minScore === null ? Number.NEGATIVE_INFINITY : Math.min(0, minScore - match.own.sums.of(seat).score)
  const amount = Math.max(asked, room)
  if (amount === 0) return
  const { id: row } = match.own.ledger.add({ to: seat, amount, reason, at: match.time.play })
  match.own.sums.of(seat).score += amount
  match.own.inRound.of(seat).points += amount
  match.emit('given', { row, seat, amount, reason })
}

const byScore = (match: Match): Measure => ({ better: 'more', of: (seat) => match.own.sums.of(seat).score })

/** The ledger, its sums and the standings. */
export const scores = shape.does({
  refusals: {
    'already-void': 'This entry was taken back before. Leave it so, or give it again.',
  },
  apply: {
    give: (match, { seat, amount, reason }) => enter(match, seat, amount, reason),
  },
  directives: {
    /** Lets a referee reverse an entry by a counter-entry. Entries are never changed or removed. */
    void: {
      input: { row: rowOf('ledger') },
      handle(match, { row }) {
        const entry = match.own.ledger.get(row)
        if (entry === undefined) return refuse('no-such-target', { row })
        if (match.own.voided.where({ row }).length > 0) return refuse('already-void', { row })
        match.own.voided.add({ row })
        return enter(match, entry.to, -entry.amount, 'void')
      },
    },
    /** Lets a referee add to a seat's score, or take from it. The reason is in the ledger; default: `corrected`. */
    correct: {
      input: { seat: seatRef(), amount: int(), reason: text('corrected') },
      handle: (match, { seat, amount, reason }) => enter(match, seat, amount, reason),
    },
  },
  on: {
    'rounds.called-off'(match, { why }) {
      for (const seat of match.use(roster).all()) enter(match, seat, -match.own.inRound.of(seat).points, why)
    },
  },
  settle: {
    tier: 'score',
    wokenBy: ['sums', 'roster.seats'],
    run(match) {
      const all = standings(match, [byScore(match)])
      for (const { seat, rank } of all) match.own.places.of(seat).rank = rank
      const top = all.slice(0, match.settings.board).map(({ seat }) => seat)
      const { board } = match.own
      if (top.length !== board.top.length || top.some((seat, at) => seat !== board.top[at])) board.top = top
    },
  },
  calls: {
    /** Gives prizes for the most of something among the seats in play. Returns the points of each seat that gets any. */
    majority: (match, counted: (seat: Seat) => number, prizes: readonly number[], how?: MajorityRules) =>
      majority(
        new Map(
          match
            .use(roster)
            .inPlay()
            .map((seat) => [seat, counted(seat)]),
        ),
        prizes,
        how,
      ),
    /** Notes which team has earned an entry. */
    noteTeam(match, row: string, team: number) {
      const entry = match.own.ledger.get(row)
      if (entry !== undefined) entry.team = team
    },
    /** Returns a seat's score. */
    of: (match, seat: Seat): number => match.own.sums.of(seat).score,
    /** Returns what a seat has scored in this round. */
    inRound: (match, seat: Seat): number => match.own.inRound.of(seat).points,
    /** Ranks by score, or by these measures one after another. Seats that have left come last. */
    standings: (match, measures?: readonly Measure[]): readonly Standing[] =>
      standings(match, measures ?? [byScore(match)]),
    /** Returns the seats that stand first, by score or by these measures: more than one if they are level. */
    leaders: (match, measures?: readonly Measure[]): readonly Seat[] =>
      standings(match, measures ?? [byScore(match)])
        .filter(({ rank }) => rank === 1)
        .map(({ seat }) => seat),
  },
})
