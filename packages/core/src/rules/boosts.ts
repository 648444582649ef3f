import {
  amount,
  audienceOf,
  choice,
  everyone,
  int,
  maybe,
  type Seat,
  type Sight,
  type SightContext,
  seatRef,
  table,
  text,
} from '../cells/index.ts'
import { assertOptions, RefereeError } from '../kit/index.ts'
import { declareRule, type MatchOf, refuse } from '../rule/index.ts'
import { phases } from './phases/phases.ts'
import { whenOutOfPlay, whenPlayEnds } from './play.ts'
import { roster } from './roster/roster.ts'
import { rounds } from './rounds.ts'
import { vitals } from './vitals/vitals.ts'

/** What it refuses with. */
const refusals = {
  'has-boost': 'The seat has this boost already. Wait until it ends.',
}

/** A kind of boost: how long it lasts, and what happens when it is given again. */
export interface BoostKind {
  /** How long it lasts, in ms of play time. */
  readonly lasts: number
  /**
   * What happens when it is given again. 'refresh': it starts over; 'stack': another one runs besides it; 'extend':
   * the time is added; 'ignore': it is refused.
   */
  readonly again?: 'refresh' | 'stack' | 'extend' | 'ignore'
  /** How many can stack, or how many times its length 'extend' can reach. */
  readonly most?: number
  /** By how much it multiplies the blows that its seat strikes, in thousandths at most. Two that stack multiply twice. */
  readonly strikes?: number
  /** By how much it multiplies the blows that its seat gets. */
  readonly suffers?: number
  /** By how much it multiplies what heals its seat. */
  readonly heals?: number
  /** Whether it ends or stays when its seat goes down. */
  readonly onDown?: 'clear' | 'keep'
  /** Who sees it: everyone, `side`, `owner` (the seat that has it) or nobody. */
  readonly seenBy?: Sight
}
type Kinds<K extends string> = { readonly [P in K]: BoostKind }

const ruleOf = <K extends string>(kinds: Kinds<K>) => {
  const names = Object.keys(kinds) as K[]
  /** A viewer who may see a kind sees its whole row. */
  const seen = ({ kind, on }: { readonly kind: K; readonly on: Seat }, look: SightContext) =>
    audienceOf([kinds[kind].seenBy ?? everyone], on, look)
  return declareRule({
    name: 'boosts',
    needs: [roster, phases],
    knows: [vitals, rounds],
    state: {
      rows: table({ kind: choice(...names), on: seatRef(), until: int(), by: maybe(seatRef()) })
        .indexedBy('on')
        .seenWhen({ kind: seen, on: seen, until: seen }),
    },
    events: {
      /** A boost runs from now until `until`, on the play clock. */
      begun: { seat: seatRef(), kind: choice(...names), until: int() },
      /** A boost has ended. `why` is over, taken, down, left, out, gave-way or round-over. */
      ended: { seat: seatRef(), kind: choice(...names), why: text() },
    },
    drafts: {
      /** Gives a boost. `lasts` is in ms; default: that of its kind. An amendment may make it `longer`. */
      give: {
        seat: seatRef(),
        kind: choice(...names),
        by: maybe(seatRef()),
        lasts: maybe(int()),
        longer: amount(0),
      },
    },
    timers: ['end'],
  })
}
type Match<K extends string> = MatchOf<ReturnType<typeof ruleOf<K>>>
type Row<K extends string> = ReturnType<Match<K>['own']['rows']['all']>[number]

/** What ends at t is over at t, even if its timer has not fired yet. */
const active = <K extends string>(match: Match<K>, seat: Seat, kind: K): Row<K>[] =>
  match.own.rows
    .where({ on: seat })
    .filter((row) => row.kind === kind && row.until > match.time.play)
    .sort((a, b) => a.until - b.until)

function end<K extends string>(match: Match<K>, { id, on, kind }: Row<K>, why: string) {
  match.timers.cancel('end', id)
  match.own.rows.remove(id)
  match.emit('ended', { seat: on, kind, why })
}

function endAll<K extends string>(match: Match<K>, why: string) {
  for (const row of match.own.rows.all()) end(match, row, why)
}

function endOn<K extends string>(match: Match<K>, seat: Seat, why: string, ends: (kind: K) => boolean) {
  for (const row of match.own.rows.where({ on: seat })) if (ends(row.kind)) end(match, row, why)
}

function runUntil<K extends string>(match: Match<K>, row: Row<K>, until: number) {
  row.until = until
  match.timers.start('end', { at: until, key: row.id })
  match.emit('begun', { seat: row.on, kind: row.kind, until })
}

const amendable = ['strikes', 'suffers', 'heals'] as const
const isFactor = (value = 1): boolean => Number.isFinite(value) && value >= 0 && value * 1000 < 2 ** 40

/** Multiplies an amount by what the boosts of a seat say. */
function multiply<K extends string>(
  match: Match<K>,
  kinds: Kinds<K>,
  what: (typeof amendable)[number],
  seat: Seat | undefined,
  amount: { times(factor: number): void },
) {
  if (seat === undefined || !Object.values<BoostKind>(kinds).some((each) => each[what] !== undefined)) return
  for (const { kind, until } of match.own.rows.where({ on: seat })) {
    const factor = kinds[kind][what]
    if (factor !== undefined && until > match.time.play) amount.times(factor)
  }
}

function assertKinds(kinds: Kinds<string>): void {
  for (const [kind, given] of Object.entries(kinds))
    assertOptions(`boost '${kind}'`, given, ['lasts', 'again', 'most', ...amendable, 'onDown', 'seenBy'])
  const issues = Object.entries(kinds).flatMap(([kind, { lasts, most = 1, ...changes }]) => [
    ...(Number.isSafeInteger(lasts) && lasts > 0
      ? []
      : [`'${kind}' lasts ${lasts} ms, and must last a whole number of ms, at least 1`]),
    ...(Number.isSafeInteger(most) && most > 0
      ? []
      : [`'most' of '${kind}' is ${most}, and must be a whole number, at least 1`]),
    ...amendable.flatMap((what) =>
      isFactor(changes[what])
        ? []
        : [`'${what}' of '${kind}' is ${changes[what]}, and must be a factor from 0 on`],
    ),
  ])
  if (issues.length > 0) throw new RefereeError('ZR_SETTING_INVALID', { rule: 'boosts', issues })
}

/**
 * Timed boosts of these kinds. Each may change blows and healing (`strikes`, `suffers`, `heals`); for anything else a
 * rule amends what it changes, and asks `has`.
 *
 * @throws ZR_SETTING_INVALID if a kind's `lasts` or `most` is not a whole number above 0
 */
export const boostsOf = <const K extends string>(kinds: Kinds<K>) => {
  assertKinds(kinds)
  const clears = (kind: K): boolean => kinds[kind].onDown !== 'keep'
  return ruleOf(kinds).does({
    refusals,
    apply: {
      give(match, { seat, kind, by, lasts, longer }) {
        const { again = 'refresh', most = 1, ...how } = kinds[kind]
        if (!match.use(roster).isInPlay(seat)) return refuse('not-in-play', { target: seat })
        if (clears(kind) && match.use(vitals)?.isUp(seat) === false)
          return refuse('target-down', { target: seat })
        const ms = (lasts ?? how.lasts) + longer
        if (ms <= 0) return refuse('bad-input', { issues: [`'lasts' must be more than 0, not ${ms}`] })
        const now = match.time.play
        const [first, ...others] = active(match, seat, kind)
        if (first !== undefined && again === 'ignore') return refuse('has-boost', { seat, kind })
        if (first !== undefined && again === 'refresh')
          return runUntil(match, first, Math.max(first.until, now + ms))
        if (first !== undefined && again === 'extend')
          return runUntil(
            match,
            first,
            Math.min(first.until + ms, Math.max(first.until, now + most * how.lasts)),
          )
        if (first !== undefined && others.length + 1 >= most) end(match, first, 'gave-way')
        return runUntil(match, match.own.rows.add({ kind, on: seat, until: now + ms, by }), now + ms)
      },
    },
    timers: {
      end: {
        band: 'lapse',
        keyedBy: 'row',
        fire(match, id) {
          const row = match.own.rows.get(id)
          if (row !== undefined) end(match, row, 'over')
        },
      },
    },
    amend: {
      'vitals.hurt'(match, { by, target, amount }) {
        multiply(match, kinds, 'strikes', by, amount)
        multiply(match, kinds, 'suffers', target, amount)
      },
      'vitals.heal': (match, { target, amount }) => multiply(match, kinds, 'heals', target, amount),
    },
    on: {
      'vitals.down': (match, { seat }) => endOn(match, seat, 'down', clears),
      ...whenOutOfPlay((match: Match<K>, seat, why) => endOn(match, seat, why, () => true)),
      ...whenPlayEnds(endAll<K>),
    },
    calls: {
      /** True if the seat has this boost now. Always false for nobody. */
      has: (match, seat: Seat | undefined, kind: K): boolean =>
        seat !== undefined && active(match, seat, kind).length > 0,
      /** The same for sights, which can't ask for the time: it holds until the end of the boost is carried out. */
      isWorn: (match, seat: Seat, kind: K): boolean =>
        match.own.rows.where({ on: seat }).some((row) => row.kind === kind),
      /** Returns how many of this boost a seat has now. */
      count: (match, seat: Seat, kind: K): number => active(match, seat, kind).length,
      /** Returns the ms until the last of them ends; 0 if there is none. */
      left: (match, seat: Seat, kind: K): number =>
        Math.max(0, (active(match, seat, kind).at(-1)?.until ?? 0) - match.time.play),
      /** Ends a boost early. */
      take: (match, seat: Seat, kind: K) => endOn(match, seat, 'taken', (each) => each === kind),
    },
  })
}
