import {
  audienceOf,
  choice,
  everyone,
  flag,
  int,
  nobody,
  only,
  type Seat,
  type Sight,
  type SightContext,
  seatRef,
  table,
} from '../cells/index.ts'
import { assertOptions, joinCounts, type Keeps } from '../kit/index.ts'
import { declareRule, type MatchOf } from '../rule/index.ts'
import { phases } from './phases/phases.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'
import { teams } from './teams/teams.ts'

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
  for (const [counter, given] of Object.entries<Counter>(counters))
    assertOptions(`counter '${counter}'`, given, ['keeps', 'seenBy'])
  const seen = (
    { to, counter, final }: { readonly to: Seat; readonly counter: C; readonly final: boolean },
    look: SightContext,
  ) => (final ? everyone : audienceOf([counters[counter].seenBy ?? everyone], to, look))
  /** What only a seat or its side may see is for all of a team. */
  const seenOfTeam = (
    { team, counter, final }: { readonly team: number; readonly counter: C; readonly final: boolean },
    look: SightContext,
  ) => {
    const { seenBy = everyone } = counters[counter]
    if (final || seenBy.reach === 'everyone') return everyone
    return seenBy.reach === 'nobody' ? nobody : only(...look.use(teams).crew(team))
  }
  const line = {
    counter: choice(...(Object.keys(counters) as C[])),
    keeps: choice(...ways),
    round: int(),
    count: int(),
    final: flag(false),
  }
  return declareRule({
    name: 'sheet',
    needs: [roster, phases],
    knows: [rounds, teams],
    state: {
      /** One line for each seat, counter and round that has counted. `final`: the bout is over. */
      lines: table({
        to: seatRef(),
        ...line,
      })
        .indexedBy('to')
        .seenWhen({ to: seen, counter: seen, keeps: seen, round: seen, count: seen }),
      /** The same for teams as a whole. */
      teamLines: table({ team: int(), ...line }).seenWhen({
        team: seenOfTeam,
        counter: seenOfTeam,
        keeps: seenOfTeam,
        round: seenOfTeam,
        count: seenOfTeam,
      }),
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
const teamLinesOf = <C extends string>(match: Match<C>, team: number, counter: C) =>
  match.own.teamLines.where({ team }).filter((line) => line.counter === counter)

/** A line of the sheet, of a seat or a team. */
interface Line {
  count: number
  readonly round: number
}
interface Count {
  readonly keeps: Keeps
  readonly round: number
  readonly count: number
}

/** Joins a count to the line of its round, or adds a line. */
function join(lines: readonly Line[], counted: Count, add: (count: Count) => void) {
  const { keeps, round, count } = counted
  const line = lines.find((each) => each.round === round)
  if (line !== undefined) line.count = joinCounts(keeps, [line.count, count])
  else if (count !== 0 || keeps === 'most' || keeps === 'least') add(counted)
}

const isPlayed = <C extends string>(match: Match<C>): boolean =>
  ['live', 'break'].includes(match.use(phases).phase())

const roundOf = <C extends string>(match: Match<C>): number => match.use(rounds)?.round() ?? 1

/** Counters of a match, by seat and round, which are shown to everyone when the bout is over. */
export const sheetOf = <const C extends string>(counters: Counters<C>) =>
  ruleOf(counters).does({
    discloses: [
      ...['to', 'counter', 'keeps', 'round', 'count'].map((cell) => `sheet.lines.${cell}`),
      ...['team', 'counter', 'keeps', 'round', 'count'].map((cell) => `sheet.teamLines.${cell}`),
      'sheet.lines',
      'sheet.teamLines',
    ].map((secret) => ({
      secret,
      by: 'sheet.shown',
      to: 'everyone',
      why: 'the sheet is shown when the bout is over',
    })),
    on: {
      'phases.changed'(match, { to }) {
        if (to !== 'over') return
        for (const line of [...match.own.lines.all(), ...match.own.teamLines.all()]) line.final = true
        match.emit('shown', {})
      },
    },
    calls: {
      /** Counts something for a seat. Default: 1. Does nothing unless a bout is being played. */
      count(match, seat: Seat, counter: C, by = 1) {
        if (!isPlayed(match)) return
        const { keeps = 'sum' } = counters[counter]
        join(linesOf(match, seat, counter), { keeps, round: roundOf(match), count: by }, (line) =>
          match.own.lines.add({ to: seat, counter, ...line }),
        )
      },
      /** Counts something for a team as a whole, and for none of its seats. Default: 1. Only while a bout is played. */
      countTeam(match, team: number, counter: C, by = 1) {
        if (!isPlayed(match)) return
        const { keeps = 'sum' } = counters[counter]
        join(teamLinesOf(match, team, counter), { keeps, round: roundOf(match), count: by }, (line) =>
          match.own.teamLines.add({ team, counter, ...line }),
        )
      },
      /** Returns what was counted for a team as a whole in the bout. Returns 0 if nothing was counted. */
      ofTeam(match, team: number, counter: C): number {
        const counts = teamLinesOf(match, team, counter).map(({ count }) => count)
        return counts.length === 0 ? 0 : joinCounts(counters[counter].keeps ?? 'sum', counts)
      },
      /** Returns a seat's number for the bout. Returns 0 if nothing was counted. */
      of(match, seat: Seat, counter: C): number {
        const counts = linesOf(match, seat, counter).map(({ count }) => count)
        return counts.length === 0 ? 0 : joinCounts(counters[counter].keeps ?? 'sum', counts)
      },
      /** Returns a seat's number for the present round. Returns 0 if nothing was counted. */
      inRound: (match, seat: Seat, counter: C): number =>
        linesOf(match, seat, counter).find(({ round }) => round === roundOf(match))?.count ?? 0,
    },
  })
