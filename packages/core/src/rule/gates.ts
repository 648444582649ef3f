import type { Seat } from '../cells/index.ts'
import { RefereeError, unknownAmong } from '../kit/index.ts'
import type { Refusal } from './ruling.ts'

/** The places of a gate among the checks of an action, in their order. The rule's own `decide` comes after them. */
export type GatePlace = 'phase' | 'here' | 'presence' | 'life' | 'up' | 'turn' | 'role'
export const gatePlaces: readonly GatePlace[] = ['phase', 'here', 'presence', 'life', 'up', 'turn', 'role']
const gateApplies = ['asked', 'unasked', 'always'] as const
/** The places that also apply to facts, which have no seat of their own. */
export const factPlaces: readonly GatePlace[] = ['phase', 'life']

/** A condition for an action. Rules export it as a value, so that you can't misspell it. */
export interface Gate {
  /** Such as `vitals.up`. */
  readonly gate: string
  /** The value that the gate is asked with. */
  readonly given: readonly string[]
}

/**
 * Returns a gate of a rule, for an action's `when`: of the rule itself by its whole name, of another rule by handle.
 * The gate's `check` gets the values that follow.
 *
 * @example
 * ```ts
 * const whileOpen = gate('stall.open')
 * const withKey = (colour: string) => gate(stall, 'key', colour)
 * ```
 */
export function gate(name: string): Gate
export function gate(rule: { readonly name: string }, name: string, ...given: readonly string[]): Gate
export function gate(
  rule: string | { readonly name: string },
  name?: string,
  ...given: readonly string[]
): Gate {
  return { gate: typeof rule === 'string' ? rule : `${rule.name}.${name}`, given }
}

/** In which lives and which turn the sender saw what it acts on. */
export interface Tags {
  readonly lives?: { readonly [seat: Seat]: number } | undefined
  readonly turn?: number | undefined
}
/** Who asks, and in which lives and turn they saw what they act on. A fact has no seat. */
export interface Asked extends Tags {
  /** The seat whose action it is; nothing for a fact. */
  readonly seat: Seat | undefined
  /** How much of a budget the action costs. */
  readonly cost: number
  /** The value that the action named the gate with. */
  readonly given: readonly string[]
}

/** A check that a rule puts before actions and facts of any rule. */
export interface GateRule<M> {
  /** Where it comes among the checks. */
  readonly place: GatePlace
  /**
   * Which inputs it applies to. `asked`: actions that name it. `unasked`: actions and facts that name no gate of this
   * place. `always`: every action and fact.
   */
  readonly applies?: (typeof gateApplies)[number]
  /** Refuses, or returns nothing. */
  check(match: M, asked: Asked): Refusal | void
  /**
   * Runs when an action that named this gate has been accepted, in the same step. It may charge what the action
   * costs.
   */
  accepted?(match: M, asked: Asked): void
}

/**
 * A gate in an unknown place, or that applies in an unknown way, would let everyone through. @throws ZR_RULE_BAD_GATE
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
