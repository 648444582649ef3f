import { RefereeError } from '../kit/index.ts'

/** Why an input was not allowed, as data: a stable code and, if it helps, details. */
export interface Refusal<C extends string = string> {
  /** Tells it from a ruling that allows. */
  readonly ok: false
  /** A code. `match.explain` returns its text. */
  readonly code: C
  /** Which seat, row or issues it is about, with ids that the asker knows. */
  readonly details?: Details
}
/** Details of a refusal besides its code, such as which seat or why. */
export interface Details {
  readonly [name: string]: unknown
}
/** The answer to an action, fact or directive. */
export type Ruling<C extends string = string> = Allowed | Refusal<C>
/** The ruling on an input that was carried out. */
export interface Allowed {
  /** Tells it from a refusal. */
  readonly ok: true
  /** True if it was allowed but had no effect (a blow that protection stopped): `whenApplied` does not run. */
  readonly idle?: true
}

/** Refuses with a kebab-case code and, if you like, typed details. Everything that the step wrote is undone. */
export function refuse<const C extends string>(code: C, details?: Details): Refusal<C> {
  return details === undefined ? { ok: false, code } : { ok: false, code, details }
}

export const allowed: Allowed = Object.freeze({ ok: true })
export const idle: Allowed = Object.freeze({ ok: true, idle: true })

/**
 * Returns the ruling for what a rule returned. Anything that is neither nothing nor a ruling must not pass for one.
 * @throws ZR_RULE_BAD_ANSWER
 */
export function asRuling(input: string, answer: Ruling | void): Ruling {
  if (answer === undefined) return allowed
  if (typeof answer?.ok !== 'boolean') throw new RefereeError('ZR_RULE_BAD_ANSWER', { input, answer })
  return answer
}

/** The codes that any input can get. */
export type AnyInputCode =
  | 'closed'
  | 'unknown-seat'
  | 'left'
  | 'id-reused'
  | 'stale-id'
  | 'unknown-action'
  | 'bad-input'
  | 'not-started'
  | 'on-break'
  | 'over'
  | 'paused'
  | 'frozen'
  | 'absent'
  | 'sidelined'
  | 'stale-life'
  | 'down'
  | 'no-such-target'
  | 'fault'
  | 'fault-limit'

/**
 * The code of a refusal passed on from another rule. A plain `string` would swallow the rule's own codes in a return
 * type.
 */
export type AnyCode = string & { readonly passedOn: true }
/** A passed-on code adds nothing here: the rulebook adds every rule's vetoes to every ruling. */
export type CodeOf<R> = R extends Refusal<infer C> ? (C extends AnyCode ? never : C) : never
