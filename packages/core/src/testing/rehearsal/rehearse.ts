import type { Seat } from '../../cells/index.ts'
import type { AnyMatch, AnyRulebook } from '../../rulebook/index.ts'
import { beginPlay, type PlayRequest } from '../begin-play.ts'
import { type Crowd, playToEnd } from '../crowd.ts'
import { type Deed, intercepted } from '../deeds.ts'
import { FaultKinds } from '../fault-kinds.ts'
import { randomCrowd } from '../random-crowd.ts'
import { choicesOf, Shares, Tallies } from './counts.ts'
import {
  differsWhenReplayed,
  Findings,
  faultFound,
  lawsBroken,
  leaksIn,
  refusedThoughOffered,
} from './findings.ts'
import { joinRehearsals } from './join-rehearsals.ts'
import type { Rehearsal, RehearsalPart } from './rehearsal.ts'
import { Leads, scoresOf, sidesOf } from './standing.ts'

/** The matches to rehearse. */
export interface RehearsalRequest extends PlayRequest {
  /** Returns the crowd of a match. Default: everyone plays at random. */
  crowd?(seed: string): Crowd
  /** How many matches. Default: 200. */
  readonly matches?: number
  /** Match time to stop a match at, in ms. Default: an hour. */
  readonly until?: number
}
/** Which matches of a rehearsal are played. */
export interface PartOfRehearsal {
  /** The number of the first, from 0. */
  readonly from: number
  /** The number of the one behind the last. */
  readonly to: number
  /** Called after each match with how many are done. No other one begins if it returns false. */
  goOn?(done: number): boolean
}

const HOUR = 3_600_000
/** The record of one match in so many is played again. */
const REPLAYED = 10
/** For so much match time the laws are checked, in ms: once, since that takes as long as many matches. */
const CHECKED = 20_000

/**
 * Plays matches of a rulebook by bots, and says how they went: who won how often, how long they took, what was done, and
 * what is wrong. The same request gives the same answer. For secrets that get out it has a glance at the first match;
 * `auditSight` looks for them thoroughly.
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
  const counted = new Counted()
  const [faults, findings] = [new FaultKinds(), new Findings()]
  for (let n = from; n < to; n++) {
    const own = `${seed} ${n}`
    const lines: string[] = []
    const [thrown, refused] = [new FaultKinds(), new Findings()]
    const match = beginPlay(
      book,
      { ...request, seed: own },
      {
        record: (line) => lines.push(line),
        onFault(fault) {
          faults.add(fault)
          thrown.add(fault)
        },
      },
    )
    const watched = intercepted(match, (deed: Deed) => {
      const ruling = deed.does(match)
      const found = refusedThoughOffered(match, deed, ruling)
      if (found !== undefined) refused.add(found, n, () => '')
      return ruling
    })
    const game = new Game(match)
    const isOver = playToEnd(watched, crowd(own), until, () => game.look())
    counted.add(game, isOver, lines)
    match.close()
    const record = lines.join('\n')
    for (const kind of thrown.all()) findings.add(faultFound(kind), n, () => record, kind.times)
    for (const found of refused.all()) findings.add(found, n, () => record, found.times)
    if (!isOver)
      findings.add({ kind: 'endless', says: `a match is not over after ${until / 1000} s` }, n, () => record)
    const differs = n % REPLAYED === 0 ? differsWhenReplayed(book, record) : undefined
    if (differs !== undefined) findings.add(differs, n, () => record)
    if (n === 0) {
      const laws = lawsBroken(book, { ...request, seed: own, until: CHECKED, crowd: () => crowd(own) })
      for (const found of laws.found) findings.add(found, n, () => laws.record)
      for (const found of leaksIn(book, record)) findings.add(found, n, () => record)
    }
    if (!goOn(n - from + 1)) break
  }
  return { ...counted.part(), faults: faults.all(), findings: findings.all() }
}

/** A match while it is played. */
class Game {
  readonly match: AnyMatch
  readonly leads: Leads = new Leads()
  starter: Seat | undefined

  constructor(match: AnyMatch) {
    this.match = match
    this.look()
  }

  look(): void {
    this.starter ??= this.match.state.turns?.now.seat
    this.leads.look(this.match)
  }
}

/** What is counted of matches. */
class Counted {
  private readonly endings = new Tallies()
  private readonly actions = new Tallies()
  private readonly choices = new Tallies()
  private readonly wins = {
    seats: new Shares(),
    sides: new Shares(),
    starters: new Shares(),
    comebacks: new Shares(),
  }
  private readonly lengths: number[] = []
  private readonly scores: number[] = []
  private over = 0

  add({ match, starter, leads }: Game, isOver: boolean, lines: readonly string[]): void {
    if (isOver) this.over++
    this.lengths.push(match.now)
    this.scores.push(...scoresOf(match))
    this.addInputs(match, lines)
    const end = match.state.verdict?.end
    this.endings.add(isOver ? (end === undefined ? 'over' : `${end.kind}: ${end.reason}`) : 'not over')
    if (end?.kind !== 'win') return
    const hasWon = (seat: Seat): boolean => end.winners.includes(seat)
    for (const seat of match.allSeats) this.wins.seats.add(seat, hasWon(seat))
    for (const [side, members] of sidesOf(match)) this.wins.sides.add(side, members.some(hasWon))
    if (starter) this.wins.starters.add('starter', hasWon(starter))
    const led = leads.atHalf(match.now)
    if (led !== undefined) this.wins.comebacks.add('comeback', !end.winners.some((seat) => led.has(seat)))
  }

  private addInputs(match: AnyMatch, lines: readonly string[]): void {
    const choices = choicesOf(match)
    for (const line of lines) {
      const { submit, no, input } = JSON.parse(line) as Submitted
      if (submit === undefined || no !== undefined) continue
      this.actions.add(submit)
      for (const choice of choices(submit, input)) this.choices.add(choice)
    }
  }

  part(): Omit<RehearsalPart, 'faults' | 'findings'> {
    const { seats, sides, starters, comebacks } = this.wins
    return {
      matches: this.lengths.length,
      over: this.over,
      endings: this.endings.all(),
      actions: this.actions.all(),
      choices: this.choices.all(),
      wins: {
        seats: seats.all(),
        sides: sides.all(),
        starters: starters.all(),
        comebacks: comebacks.all(),
      },
      lengths: this.lengths,
      scores: this.scores,
    }
  }
}
interface Submitted {
  readonly submit?: string
  readonly no?: unknown
  readonly input?: unknown
}
