import type { ServerEvent } from '../engine/index.ts'
import type { AnyMatch } from '../rulebook/index.ts'
import type { Update } from '../views/index.ts'
import type { HostClock } from './clock.ts'

/** Receives one viewer's updates. */
export type Listener = (update: Update) => void

/** A game's own simulation, played by the host at a steady rate: it needs no timer of its own. */
export interface Beat {
  /** Time between two beats, in ms. */
  readonly every: number
  /**
   * Plays one beat: moves the simulation on by `passed` ms and reports its facts. `orders`: the events of the rules since
   * the last beat, whoever sees them. Updates leave right after it. A match that is paused has no beats.
   */
  play(match: AnyMatch, orders: readonly ServerEvent[], passed: number): void
}

/** Options of `MatchHost`. */
export interface HostOptions {
  /** The clock that the match runs on. */
  readonly clock: HostClock
  /** Delay for spectators, in ms. Default: 0. */
  readonly spectatorDelay?: number
  /**
   * Calls `send` once all that the match has recorded so far is safe, in the order in which it was asked. Rulings and
   * updates leave by it. Default: at once.
   */
  readonly whenSafe?: (send: () => void) => void
  /** The game's simulation. With one, updates leave at its beats; rulings do not wait. Default: none. */
  readonly beat?: Beat
  /** How long one call may take before `onSlow` is called, in ms. Default: 50. */
  readonly budget?: number
  /** Called when a call took longer than its budget, with the ms that it took. */
  readonly onSlow?: (ms: number) => void
}
