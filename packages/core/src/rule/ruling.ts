import { RefereeError } from '../kit/index.ts'

/** Why an input was not allowed, as data: a stable code and, if it helps, details, whose type goes with the code. */
export interface Refusal<C extends string = string, D extends Details = Details> {
  /** Tells it from a ruling that allows. */
  readonly ok: false
  /** A code. `match.explain` returns its text. */
  readonly code: C
  /** Which seat, row or issues it is about, with ids that the asker knows. */
  readonly details?: D
}
/** Details of a refusal besides its code, such as which seat or why. */
export interface Details {
  readonly [name: string]: unknown
}
/** A refusal that has no details. */
export type NoDetails = { readonly [name: string]: never }
/** The answer to an action, fact or directive. Once you know the code of a refusal, you know its details. */
export type Ruling<R extends Refusal = Refusal> = Allowed | R
/** The ruling on an input that was carried out. */
export interface Allowed {
  /** Tells it from a refusal. */
  readonly ok: true
  /** True if it was allowed but had no effect (a blow that protection stopped): `whenApplied` does not run. */
  readonly idle?: true
}

/** Refuses with a kebab-case code and, if you like, typed details. Everything that the step wrote is undone. */
export function refuse<const C extends string, D extends Details = NoDetails>(
  code: C,
  details?: D,
): Refusal<C, D> {
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

/** The refusals that any input can get. */
export type AnyInputRefusal =
  | Refusal<
      | 'closed'
      | 'unknown-seat'
      | 'left'
      | 'id-reused'
      | 'stale-id'
      | 'unknown-action'
      | 'not-started'
      | 'on-break'
      | 'over'
      | 'paused'
      | 'frozen'
      | 'absent'
      | 'sidelined'
      | 'stale-life'
      | 'down'
      | 'fault-limit',
      NoDetails
    >
  | Refusal<'bad-input', { readonly issues: readonly string[] }>
  | Refusal<'no-such-target', { readonly seat: string }>
  | Refusal<'fault', { readonly fault: string }>

/** A refusal passed on from another rule. A plain `Refusal` would swallow the rule's own ones in a return type. */
export type AnyRefusal = Refusal<string & { readonly passedOn: true }>
/**
 * The refusals among what a handler returns. One that is passed on adds nothing here: the rulebook adds every rule's
 * vetoes to every ruling.
 */
export type RefusalOf<R> =
  R extends Refusal<infer C, infer D> ? (C extends AnyRefusal['code'] ? never : Refusal<C, D>) : never
