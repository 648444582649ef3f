import type { Seat } from '../cells/index.ts'
import type { Spec } from '../rule/index.ts'
import { type AnyMatch, insideOf, type Match } from '../rulebook/index.ts'
import type { Notice } from '../sight/index.ts'

/** Plays for seats without a player: bots, and the game's own simulation that reports facts. */
export interface Crowd {
  /** Time between two beats, in ms. */
  readonly every: number
  /** Plays one beat: for the seats it drives, and for the simulation. */
  beat(match: AnyMatch, drives: (seat: Seat) => boolean): void
}

/** Optional exports of a rulebook's file, besides the rulebook, by which it can be shown. */
export interface Demo {
  /** The seed. Default: 'fair-1'. */
  readonly seed?: string
  /** The seats of the demo, with their names. */
  readonly seats?: readonly { readonly id: Seat; readonly name: string }[]
  /** Up to how many seats bots fill when people play. Default: those named, eight at most. */
  readonly filledTo?: number
  /** The crowd. Default: everyone plays at random. */
  crowd?(seed: string): Crowd
  /** Returns a line of the feed for a notice, or nothing if it is not worth one. */
  tell?(notice: Notice, name: (seat: unknown) => string): Line | undefined
  /** Returns a drawing of what everyone sees, if the mode has something to draw. */
  picture?(match: AnyMatch): string
  /** Columns of the scoreboard: header and cell, such as `{ sunk: 'credit.tally.kills' }`. */
  readonly board?: { readonly [header: string]: string }
}
/** A line of the feed, and a remark next to it. */
export interface Line {
  /** The line. */
  readonly text: string
  /** A remark next to the line. */
  readonly aside?: string
}

/** Lets a crowd play one beat. If it throws, that is a fault of the match, which goes on. */
export function beatOnce(match: AnyMatch, crowd: Crowd, drives: (seat: Seat) => boolean = () => true): void {
  const engine = insideOf(match)?.engine
  const beat = (): void => crowd.beat(match, drives)
  if (engine === undefined) beat()
  else engine.play('crowd', 'crowd beat', beat)
}

/** Plays in virtual time until the bout is over or this much match time (ms) has passed. Returns true if it is over. */
export function playToEnd<S extends Spec, O extends Spec>(
  typed: AnyMatch | Match<S, O>,
  crowd: Crowd,
  until: number,
  each: () => void = () => {},
): boolean {
  const match = typed as AnyMatch // a crowd goes by what the rulebook describes, not by its types
  const isOver = (): boolean => phaseOf(match) === 'over'
  while (!isOver() && match.now < until) {
    beatOnce(match, crowd)
    each()
    const beat = Math.min(match.now + crowd.every, until)
    // Stops at each timer on the way, so that its effects are sent at their own time.
    while (match.nextDue !== undefined && match.nextDue <= beat && !isOver()) {
      match.advanceTo(match.nextDue)
      each()
    }
    if (!isOver()) match.advanceTo(beat)
  }
  return isOver()
}

function phaseOf(match: AnyMatch): unknown {
  return match.state.phases.now.phase
}
