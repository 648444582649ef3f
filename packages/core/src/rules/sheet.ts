import {
  audienceOf,
  choice,
  everyone,
  flag,
  int,
  type Seat,
  type Sight,
  type SightContext,
  seatRef,
  table,
} from '../cells/index.ts'
import { joinCounts, type Keeps } from '../kit/index.ts'
import { declareRule, type MatchOf } from '../rule/index.ts'
import { phases } from './phases/phases.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'

const ways = ['sum', 'time', 'most', 'least'] as const satisfies readonly Keeps[]

/** A counter of a score sheet. */
export interface Counter {
  /** 'sum' adds counts up, 'time' does so in ms, 'most' and 'least' keep the highest and the lowest. Default: 'sum'. */
  readonly keeps?: Keeps
  /** Who sees it before the bout is over: everyone, `side`, `owner` or nobody. Default: everyone. */
  readonly seenBy?: Sight
}
type Counters<C extends string> = { readonly [N in C]: Counter }

const ruleOf = <C extends string>(counters: Counters<C>) => {
  const seen = (
    { to, counter, final }: { readonly to: Seat; readonly counter: C; readonly final: boolean },
    look: SightContext,
  ) => (final ? everyone : audienceOf([counters[counter].seenBy ?? everyone], to, look))
  return declareRule({
    name: 'sheet',
    needs: [roster, phases],
    knows: [rounds],
    state: {
      /** One line for each seat, counter and round that has counted. `final`: the bout is over. */
      lines: table({
        to: seatRef(),
        counter: choice(...(Object.keys(counters) as C[])),
        keeps: choice(...ways),
        round: int(),
        count: int(),
        final: flag(false),
      })
        .indexedBy('to')
        .seenWhen({ to: seen, counter: seen, keeps: seen, round: seen, count: seen }),
    },
    events: {
      /** The bout is over, and everyone sees the whole sheet. */
      shown: {},
    },
  })
}
type Match<C extends string> = MatchOf<ReturnType<typeof ruleOf<C>>>

const linesOf = <C extends string>(match: Match<C>, to: Seat, counter: C) =>
  match.own.lines.where({ to }).filter((line) => line.counter === counter)

/** Counters of a match, by seat and round, which are shown to everyone when the bout is over. */
export const sheetOf = <const C extends string>(counters: Counters<C>) =>
  ruleOf(counters).does({
    discloses: ['to', 'counter', 'keeps', 'round', 'count']
      .map((cell) => `sheet.lines.${cell}`)
      .concat('sheet.lines')
      .map((secret) => ({
        secret,
        by: 'sheet.shown',
        to: 'everyone',
        why: 'the sheet is shown when the bout is over',
      })),
    on: {
      'phases.changed'(match, { to }) {
        if (to !== 'over') return
        for (const line of match.own.lines.all()) line.final = true
        match.emit('shown', {})
      },
    },
    calls: {
      /** Counts something for a seat. Default: 1. Does nothing unless a bout is being played. */
      count(match, seat: Seat, counter: C, by = 1) {
        const phase = match.use(phases).phase()
        if (phase !== 'live' && phase !== 'break') return
        const { keeps = 'sum' } = counters[counter]
        const round = match.use(rounds)?.round() ?? 1
        const line = linesOf(match, seat, counter).find((each) => each.round === round)
        if (line !== undefined) line.count = joinCounts(keeps, [line.count, by])
        else if (by !== 0 || keeps === 'most' || keeps === 'least')
          match.own.lines.add({ to: seat, counter, keeps, round, count: by })
      },
      /** Returns a seat's number for the bout. Returns 0 if nothing was counted. */
      of(match, seat: Seat, counter: C): number {
        const counts = linesOf(match, seat, counter).map(({ count }) => count)
        return counts.length === 0 ? 0 : joinCounts(counters[counter].keeps ?? 'sum', counts)
      },
      /** Returns a seat's number for the present round. Returns 0 if nothing was counted. */
      inRound: (match, seat: Seat, counter: C): number =>
        linesOf(match, seat, counter).find(({ round }) => round === (match.use(rounds)?.round() ?? 1))
          ?.count ?? 0,
    },
  })
