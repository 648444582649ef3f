import type { Gate } from '../rule/index.ts'

/** Where a match stands. */
export type Phase = 'lobby' | 'countdown' | 'live' | 'break' | 'over'

/** An action that is done in these phases, paused or not. Default: only in live play. */
export const inPhase = (...phases: readonly Phase[]): Gate => ({ gate: 'phases.among', given: phases })

/** An action for seats that are marked as away, too. */
export const evenAbsent: Gate = { gate: 'roster.even-absent', given: [] }

/** An action for seats that are out, too. Default: only for those in play. */
export const evenOut: Gate = { gate: 'roster.even-out', given: [] }

/** A move: allowed in a break and after the verdict too, and in a freeze that lets seats move. */
export const moving: Gate = { gate: 'phases.moving', given: [] }

/** What goes on in a break and a freeze too, such as a vote; not in a pause. */
export const evenFrozen: Gate = { gate: 'phases.even-frozen', given: [] }

/** An action for seats that are up. */
export const whileUp: Gate = { gate: 'vitals.up', given: [] }
