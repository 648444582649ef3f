import { type Gate, gate } from '../rule/index.ts'

/** The phase of a match. */
export type Phase = 'lobby' | 'countdown' | 'live' | 'break' | 'over'

/** Allows an action in these phases, paused or not. Default: only in live play. */
export const inPhase = (...phases: readonly Phase[]): Gate => gate({ name: 'phases' }, 'among', ...phases)

/** Allows an action for absent seats too. */
export const evenAbsent: Gate = gate('roster.even-absent')

/** Allows an action for sidelined seats too. Default: only for seats in play. */
export const evenOut: Gate = gate('roster.even-out')

/** A move: also allowed in a break, after the verdict, and in a freeze that lets seats move. */
export const moving: Gate = gate('phases.moving')

/** Allows an action in a break and a freeze too, such as a vote, but not in a pause. */
export const evenFrozen: Gate = gate('phases.even-frozen')

/** Allows an action only for seats that are up. */
export const whileUp: Gate = gate('vitals.up')
