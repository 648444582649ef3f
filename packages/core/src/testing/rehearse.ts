import type { Seat } from '../cells/index.ts'
import type { AnyMatch, AnyRulebook } from '../rulebook/index.ts'
import { beginPlay, type PlayRequest } from './begin-play.ts'
import { type Crowd, playToEnd } from './crowd.ts'
import { type FaultKind, FaultKinds } from './fault-kinds.ts'
import { randomCrowd } from './random-crowd.ts'
import { wilson } from './shares.ts'

/** The matches to rehearse. */
export interface RehearsalRequest extends PlayRequest {
  /** Returns the crowd of a match. Default: everyone plays at random. */
  crowd?(seed: string): Crowd
  /** How many matches. Default: 200. */
  readonly matches?: number
  /** Match time to stop a match at, in ms. Default: an hour. */
  readonly until?: number
}
/** How often something came true, of how many times that it could. */
export interface Share {
  /** A seat, a team, a role. */
  readonly name: string
  /** In how many matches it won. */
  readonly times: number
  /** Of how many in which it could. */
  readonly of: number
  /**
   * The 95 % confidence interval of the share, from 0 to 1. Source: E. B. Wilson, Probable Inference, the Law of Succession,
   * and Statistical Inference, Journal of the American Statistical Association 22 (1927).
   */
  readonly interval: readonly [low: number, high: number]
}
/** How often something happened in all matches together. */
export interface Tally {
  /** An action, or a kind of verdict with its reason. */
  readonly name: string
  /** How often it happened. */
  readonly times: number
}
/** How the matches of a rehearsal went. */
export interface Rehearsal {
  /** The name of the rulebook. */
  readonly rulebook: string
  /** How many were played. */
  readonly matches: number
  /** How many came to their end. */
  readonly over: number
  /** How matches ended: the kind of verdict and its reason, the most frequent first. */
  readonly endings: readonly Tally[]
  /** Wins by seat, of the matches that somebody won, as in the next two. */
  readonly seats: readonly Share[]
  /** Wins by team, or by role in a mode without teams. Empty: it has neither. */
  readonly sides: readonly Share[]
  /** Wins of the seat that had the first turn, in a mode with turns. */
  readonly starter: Share | undefined
  /** Match times in ms: a tenth, half and nine tenths of the matches were shorter. */
  readonly lengths: readonly [tenth: number, half: number, nineTenths: number]
  /** Accepted actions, the most frequent first. */
  readonly actions: readonly Tally[]
  /** What has thrown. */
  readonly faults: readonly FaultKind[]
}

const HOUR = 3_600_000

/** Some of the matches of a rehearsal, counted. It can be sent to another thread. */
export interface RehearsalPart {
  /** How many were played. */
  readonly matches: number
  /** How many came to their end. */
  readonly over: number
  /** How matches ended, as in `Rehearsal`. */
  readonly endings: readonly Tally[]
  /** Accepted actions. */
  readonly actions: readonly Tally[]
  /** Wins, without their intervals. */
  readonly wins: { readonly [of in 'seats' | 'sides' | 'starters']: readonly Won[] }
  /** Match times, in ms, in the order of the matches. */
  readonly lengths: readonly number[]
  /** What has thrown. */
  readonly faults: readonly FaultKind[]
}
type Won = Pick<Share, 'name' | 'times' | 'of'>

/** Which matches of a rehearsal are played. */
export interface PartOfRehearsal {
  /** The number of the first, from 0. */
  readonly from: number
  /** The number of the one behind the last. */
  readonly to: number
  /** Called after each match with how many are done. No other one begins if it returns false. */
  goOn?(done: number): boolean
}

/**
 * Plays matches of a rulebook by bots, and says how they went: who won how often, how long they took, what was done.
 * The same request gives the same answer.
 * @throws ZR_MATCH_MISUSED if no match begins with these seats; what `beginMatch` throws
 */
export const rehearse = (book: AnyRulebook, request: RehearsalRequest): Rehearsal =>
  joinRehearsals(book.name, [rehearsePart(book, request, { from: 0, to: request.matches ?? 200 })])

/** Plays some of the matches of a rehearsal: each has a seed of its own, by its number. @throws what `rehearse` throws */
export function rehearsePart(
  book: AnyRulebook,
  request: Omit<RehearsalRequest, 'matches'>,
  { from, to, goOn = () => true }: PartOfRehearsal,
): RehearsalPart {
  const { seed = 'fair-1', until = HOUR, crowd = randomCrowd } = request
  const [endings, actions] = [new Tallies(), new Tallies()]
  const [seats, sides, starters] = [new Shares(), new Shares(), new Shares()]
  const faults = new FaultKinds()
  const lengths: number[] = []
  let over = 0
  const record = (line: string): void => {
    const { submit, no } = JSON.parse(line) as { readonly submit?: string; readonly no?: unknown }
    if (submit !== undefined && no === undefined) actions.add(submit)
  }
  for (let n = from; n < to; n++) {
    const own = `${seed} ${n}`
    const match = beginPlay(book, { ...request, seed: own }, { record, onFault: faults.add })
    const { turns, verdict } = match.state
    let starter = turns?.now.seat
    const isOver = playToEnd(match, crowd(own), until, () => {
      starter ??= turns?.now.seat
    })
    if (isOver) over++
    lengths.push(match.now)
    const end = verdict?.end
    endings.add(isOver ? (end === undefined ? 'over' : `${end.kind}: ${end.reason}`) : 'not over')
    if (end?.kind === 'win') {
      const hasWon = (seat: Seat): boolean => end.winners.includes(seat)
      for (const seat of match.allSeats) seats.add(seat, hasWon(seat))
      for (const [side, members] of sidesOf(match)) sides.add(side, members.some(hasWon))
      if (starter) starters.add('starter', hasWon(starter))
    }
    match.close()
    if (!goOn(n - from + 1)) break
  }
  return {
    matches: lengths.length,
    over,
    endings: endings.all(),
    actions: actions.all(),
    wins: { seats: seats.all(), sides: sides.all(), starters: starters.all() },
    lengths,
    faults: faults.all(),
  }
}

/** Puts parts of a rehearsal together: the same as if all had been played in one, in their order. */
export function joinRehearsals(rulebook: string, parts: readonly RehearsalPart[]): Rehearsal {
  const [endings, actions] = [new Tallies(), new Tallies()]
  const faults = new Map<string, FaultKind>()
  for (const part of parts) {
    for (const { name, times } of part.endings) endings.add(name, times)
    for (const { name, times } of part.actions) actions.add(name, times)
    for (const fault of part.faults) {
      const key = `${fault.handler} ${fault.error}`
      faults.set(key, { ...fault, ...faults.get(key), times: (faults.get(key)?.times ?? 0) + fault.times })
    }
  }
  const sum = (of: 'matches' | 'over'): number => parts.reduce((so, part) => so + part[of], 0)
  const wins = (of: keyof RehearsalPart['wins']): readonly Share[] => {
    const shares = new Map<string, Won>()
    for (const { name, times, of: all } of parts.flatMap((part) => part.wins[of])) {
      const known = shares.get(name) ?? { name, times: 0, of: 0 }
      shares.set(name, { name, times: known.times + times, of: known.of + all })
    }
    return [...shares.values()].map((each) => ({ ...each, interval: wilson(each) }))
  }
  const lengths = parts.flatMap((part) => part.lengths).sort((a, b) => a - b)
  const longerThan = (part: number): number => lengths[Math.floor(part * (lengths.length - 1))] ?? 0
  return {
    rulebook,
    matches: sum('matches'),
    over: sum('over'),
    endings: endings.all(),
    seats: wins('seats'),
    sides: wins('sides'),
    starter: wins('starters')[0],
    lengths: [longerThan(0.1), longerThan(0.5), longerThan(0.9)],
    actions: actions.all(),
    faults: [...faults.values()],
  }
}

/** What the rules of the library keep of a seat's side. */
interface Sided {
  readonly teams?: { readonly side: { of(seat: Seat): { readonly team: number | null } } }
  readonly roles?: { readonly seats: { of(seat: Seat): { readonly role: string | null } } }
}

/** The seats by team, or by role in a mode without teams. */
function sidesOf(match: AnyMatch): ReadonlyMap<string, readonly Seat[]> {
  const { teams, roles } = match.state as Sided
  const sideOf = (seat: Seat): string | null => {
    if (teams === undefined) return roles?.seats.of(seat).role ?? null
    const { team } = teams.side.of(seat)
    return team === null ? null : `team ${team}`
  }
  const sides = new Map<string, Seat[]>()
  for (const seat of match.allSeats) {
    const side = sideOf(seat)
    if (side !== null) sides.set(side, [...(sides.get(side) ?? []), seat])
  }
  return sides
}

class Tallies {
  readonly #times: Map<string, number> = new Map()

  add(name: string, times = 1): void {
    this.#times.set(name, (this.#times.get(name) ?? 0) + times)
  }

  all(): readonly Tally[] {
    return [...this.#times].map(([name, times]) => ({ name, times })).sort((a, b) => b.times - a.times)
  }
}

class Shares {
  readonly #known: Map<string, { times: number; of: number }> = new Map()

  add(name: string, came: boolean): void {
    const known = this.#known.get(name) ?? { times: 0, of: 0 }
    this.#known.set(name, { times: known.times + (came ? 1 : 0), of: known.of + 1 })
  }

  all(): readonly Share[] {
    return [...this.#known].map(([name, { times, of }]) => ({
      name,
      times,
      of,
      interval: wilson({ times, of }),
    }))
  }
}
