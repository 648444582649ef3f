import type { FaultKind } from '../fault-kinds.ts'

/** How often something came true, of how many times that it could. */
export interface Share {
  /** A seat, a team, a role. */
  readonly name: string
  /** How often it came true: in how many matches it won. */
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
  /** An action, a choice in it, or a kind of verdict with its reason. */
  readonly name: string
  /** How often it happened. */
  readonly times: number
}
/** Of many values: a tenth, half and nine tenths of them were less. */
export type Spread = readonly [tenth: number, half: number, nineTenths: number]

/** Something that is wrong, found in the matches of a rehearsal. */
export interface Finding {
  /**
   * `fault`: something threw. `refused`: an option that was offered was refused. `endless`: a match did not come to its
   * end. `replayed`: a record, played again, gives another match. `law`: `checkLaws` found that a law is broken.
   * `leak`: `auditSight` found that a secret gets out.
   */
  readonly kind: 'fault' | 'refused' | 'endless' | 'replayed' | 'law' | 'leak'
  /** What it is, in words. */
  readonly says: string
  /** How often it was found. */
  readonly times: number
  /** The number of the match in which it was found first, from 0. */
  readonly match: number
  /** The record of that match, as text. */
  readonly record: string
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
  /** Matches whose winner was not leading at half of their time, of those that had scores then. */
  readonly comebacks: Share | undefined
  /** Match times in ms. */
  readonly lengths: Spread
  /** What seats had scored in the end; nothing in a mode without scores. */
  readonly scores: Spread | undefined
  /** Accepted actions, the most frequent first. */
  readonly actions: readonly Tally[]
  /** What was chosen in them, where a rule names what there is: 'brewery.walk to mill': action, cell, value. The most frequent first. */
  readonly choices: readonly Tally[]
  /** What has thrown. */
  readonly faults: readonly FaultKind[]
  /** What is wrong, each kind once. */
  readonly findings: readonly Finding[]
}

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
  /** What was chosen in them. */
  readonly choices: readonly Tally[]
  /** Wins and comebacks, without their intervals. */
  readonly wins: { readonly [of in 'seats' | 'sides' | 'starters' | 'comebacks']: readonly Won[] }
  /** Match times, in ms, in the order of the matches. */
  readonly lengths: readonly number[]
  /** Final scores of all seats. */
  readonly scores: readonly number[]
  /** What has thrown. */
  readonly faults: readonly FaultKind[]
  /** What is wrong. */
  readonly findings: readonly Finding[]
}
export type Won = Pick<Share, 'name' | 'times' | 'of'>
