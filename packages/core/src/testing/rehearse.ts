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
  readonly times: number
  readonly of: number
  /**
   * The 95 % confidence interval of the share, from 0 to 1. Source: E. B. Wilson, Probable Inference, the Law of Succession,
   * and Statistical Inference, Journal of the American Statistical Association 22 (1927).
   */
  readonly interval: readonly [low: number, high: number]
}
/** How often something happened in all matches together. */
export interface Tally {
  readonly name: string
  readonly times: number
}
/** How the matches of a rehearsal went. */
export interface Rehearsal {
  readonly rulebook: string
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

/**
 * Plays matches of a rulebook by bots, and says how they went: who won how often, how long they took, what was done.
 * The same request gives the same answer.
 * @throws ZR_MATCH_MISUSED if no match begins with these seats; what `beginMatch` throws
 */
export function rehearse(book: AnyRulebook, request: RehearsalRequest): Rehearsal {
  const { matches = 200, seed = 'fair-1', until = HOUR, crowd = randomCrowd } = request
  const [endings, actions] = [new Tallies(), new Tallies()]
  const [seats, sides, starters] = [new Shares(), new Shares(), new Shares()]
  const faults = new FaultKinds()
  const lengths: number[] = []
  let over = 0
  const record = (line: string): void => {
    const { submit, no } = JSON.parse(line) as { readonly submit?: string; readonly no?: unknown }
    if (submit !== undefined && no === undefined) actions.add(submit)
  }
  for (let n = 0; n < matches; n++) {
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
  }
  lengths.sort((a, b) => a - b)
  const longerThan = (part: number): number => lengths[Math.floor(part * (lengths.length - 1))] ?? 0
  return {
    rulebook: book.name,
    matches,
    over,
    endings: endings.all(),
    seats: seats.all(),
    sides: sides.all(),
    starter: starters.all()[0],
    lengths: [longerThan(0.1), longerThan(0.5), longerThan(0.9)],
    actions: actions.all(),
    faults: faults.all(),
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

  add(name: string): void {
    this.#times.set(name, (this.#times.get(name) ?? 0) + 1)
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
