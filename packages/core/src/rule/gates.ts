import type { Seat } from '../cells/index.ts'
import { RefereeError, unknownAmong } from '../kit/index.ts'
import type { Refusal } from './ruling.ts'

/** The places of a gate among the checks of an action, in their order; the rule's own `decide` comes after them. */
export type GatePlace = 'phase' | 'here' | 'presence' | 'life' | 'up' | 'turn' | 'role'
export const gatePlaces: readonly GatePlace[] = ['phase', 'here', 'presence', 'life', 'up', 'turn', 'role']
const gateApplies = ['asked', 'unasked', 'always'] as const
/** Those that a fact meets too: it has no seat of its own. */
export const factPlaces: readonly GatePlace[] = ['phase', 'life']

/** When an action may be done. A value that rules export, so that it cannot be misspelt. */
export interface Gate {
  /** Such as `vitals.up`. */
  readonly gate: string
  /** What is asked of the gate. */
  readonly given: readonly string[]
}

/** In which lives and in which turn a sender saw what it acts on. */
export interface Tags {
  readonly lives?: { readonly [seat: Seat]: number } | undefined
  readonly turn?: number | undefined
}
/** Who asks, and in which lives and turn they saw what they act on. A fact has no seat. */
export interface Asked extends Tags {
  /** Whose action it is; nothing for a fact. */
  readonly seat: Seat | undefined
  /** How much of a budget the action costs. */
  readonly cost: number
  /** What the gate was given where it was named. */
  readonly given: readonly string[]
}

/** A check that a rule puts before actions and facts of any rule. */
export interface GateRule<M> {
  /** Where among the checks it is made. */
  readonly place: GatePlace
  /** `asked`: for actions that name it. `unasked`: for actions and facts that name no gate of this place. `always`: for every action and fact. */
  readonly applies?: (typeof gateApplies)[number]
  /** Refuses, or returns nothing. */
  check(match: M, asked: Asked): Refusal | void
  /** Runs when an action that named this gate has been accepted, in the same step: it may take what the action costs. */
  accepted?(match: M, asked: Asked): void
}

/**
 * A gate in a place that there is not, or that applies in a way that there is not, would let everyone through.
 * @throws ZR_RULE_BAD_GATE
 */
export function assertGates(
  rule: string,
  gates: { readonly [gate: string]: Pick<GateRule<never>, 'place' | 'applies'> } = {},
): void {
  for (const [gate, { place, applies = 'asked' }] of Object.entries(gates)) {
    const issues = [
      ...unknownAmong([place], 'place', gatePlaces),
      ...unknownAmong([applies], 'way to apply', gateApplies),
    ]
    if (issues.length > 0) throw new RefereeError('ZR_RULE_BAD_GATE', { gate: `${rule}.${gate}`, issues })
  }
}
