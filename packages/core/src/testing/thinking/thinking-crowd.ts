import type { Seat } from '../../cells/index.ts'
import { type Chance, chanceFrom } from '../../chance/index.ts'
import { type AnyMatch, type AnyRulebook, insideOf, type OpenMatch } from '../../rulebook/index.ts'
import type { Crowd } from '../crowd.ts'
import { AsSeen } from './as-seen.ts'
import { type Move, moveAtRandom, movesOf } from './moves.ts'
import { worthOf } from './worth.ts'

/** How long a thinking crowd thinks. */
export interface Thought {
  /** How many matches are tried out before a move. Default: 200. */
  readonly playouts?: number
  /** Says if it goes on thinking after this many: in live play a host looks at its clock. Default: to the last. */
  goOn?(done: number): boolean
}

const BEAT = 500
/** Of more moves than this, so many are drawn to be thought about. */
const MOVES = 48
/** Match time for which a match is tried out, in ms. What is not over then is judged by its scores. */
const AHEAD = 10 * 60_000
/** How much a move is liked that has hardly been tried. Source: see `best`. */
const CURIOUS = Math.SQRT2

/**
 * Returns a crowd that tries out matches before each move, and does what turned out best. It plays any mode whose actions
 * have options, and
 * goes by what its seat may see: what is hidden is drawn again for each match that it tries out, but for numbers that nobody
 * sees.
 * A seat that sees nothing new since its last move makes no other one.
 */
export function thinkingCrowd(book: AnyRulebook, seed: string, thought: Thought = {}): Crowd {
  const chance = chanceFrom(seed, 'thinking crowd')
  const seen = new Map<Seat, string>()
  let mind: Mind | undefined
  return {
    every: BEAT,
    beat(match, drives) {
      const open = insideOf(match)
      if (open === undefined) return
      mind ??= new Mind(book, match, chance)
      for (const seat of match.allSeats.filter(drives)) {
        const moves = movesOf(open, seat)
        if (moves.length === 0 || seen.get(seat) === lookOf(match, seat)) continue
        const { action, input } = mind.best(match, seat, moves, thought)
        match.submit(seat, action, input)
        seen.set(seat, lookOf(match, seat))
      }
    },
  }
}

const lookOf = (match: AnyMatch, seat: Seat): string => JSON.stringify(match.view(seat))

class Mind {
  private readonly asSeen: AsSeen
  private readonly chance: Chance

  constructor(book: AnyRulebook, match: AnyMatch, chance: Chance) {
    this.asSeen = new AsSeen(book, match)
    this.chance = chance
  }

  /**
   * Returns the move with the best outcome on average. Which one is tried next is chosen by UCB1. Source: P. Auer,
   * N. Cesa-Bianchi and P. Fischer, Finite-time Analysis of the Multiarmed Bandit Problem, Machine Learning 47 (2002).
   */
  best(match: AnyMatch, seat: Seat, all: readonly Move[], { playouts = 200, goOn }: Thought): Move {
    const moves = all.length > MOVES ? this.chance.shuffle(all).slice(0, MOVES) : all
    const tried = moves.map((move) => ({ move, times: 0, worth: 0 }))
    const [first] = tried
    if (first === undefined) throw new RangeError('there is no move to choose from')
    if (tried.length === 1) return first.move
    const make = this.asSeen.maker(match, seat, this.chance)
    for (let done = 0; done < playouts && goOn?.(done) !== false; done++) {
      const promise = ({ times, worth }: (typeof tried)[number]): number =>
        times === 0 ? Number.POSITIVE_INFINITY : worth / times + CURIOUS * Math.sqrt(Math.log(done) / times)
      const next = tried.reduce((best, each) => (promise(each) > promise(best) ? each : best))
      next.times++
      next.worth += this.playedOut(make(), seat, next.move)
    }
    return tried.reduce((best, each) => (each.times > best.times ? each : best)).move
  }

  /** What a match is worth to a seat in the end, after a move of its own and then any moves of all. */
  private playedOut(open: OpenMatch, seat: Seat, { action, input }: Move): number {
    const { match } = open
    const until = match.now + AHEAD
    const isOver = (): boolean => match.state.phases.now.phase === 'over'
    match.submit(seat, action, input)
    while (!isOver() && match.now < until) {
      let moved = false
      for (const each of match.allSeats) {
        if (moveAtRandom(open, each, this.chance)) moved = true
        if (isOver()) break
      }
      // Where nobody can do anything, nothing happens before the next timer.
      const next = moved ? match.now + BEAT : (match.nextDue ?? until)
      match.advanceTo(Math.min(next, until))
    }
    const worth = worthOf(match, seat)
    match.close()
    return worth
  }
}
