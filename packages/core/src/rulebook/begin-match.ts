import type { Seed } from '../chance/index.ts'
import type { Fault } from '../engine/index.ts'
import { assertOptions } from '../kit/index.ts'
import type { Sink } from '../record/index.ts'
import type { Spec } from '../rule/index.ts'
import type { AnyRulebook, Rulebook } from './define-rulebook.ts'
import type { AnyMatch, Match, SettingsOf } from './match-type.ts'
import { start } from './start-match.ts'

const beginning = ['seed', 'with', 'preset', 'settings', 'record', 'onFault'] as const

/** Options of `beginMatch`. */
export interface BeginOptions<S extends Spec, O extends Spec = never> {
  /** The seed of all random draws of the match: text, or 32 bytes. */
  readonly seed: Seed
  /** The optional rules that the match uses. */
  readonly with?: readonly O['name'][]
  /** The name of a preset: settings of the rulebook, over its own. */
  readonly preset?: string
  /** Settings by rule, over those of the rulebook and of the preset. */
  readonly settings?: SettingsOf<S | O>
  /** Takes the record, one line at a time. */
  readonly record?: Sink
  /** Called at once for each fault: code of the rulebook that threw. If it throws itself, that is a fault too. */
  readonly onFault?: (fault: Fault) => void
}

/**
 * Begins a match: an empty lobby at 0 ms.
 *
 * @example
 * ```ts
 * const match = beginMatch(regatta, { seed: 'fair-1' })
 * match.direct('roster.join', { seat: 'otter', name: 'Otter' })
 * ```
 * @throws ZR_CHANCE_BAD_SEED, ZR_SETTING_INVALID, ZR_SETTING_UNKNOWN_RULE, ZR_SETTING_FIXED,
 *   ZR_RULEBOOK_UNKNOWN_OPTION, ZR_RULEBOOK_UNKNOWN_PRESET, ZR_OPTION_UNKNOWN
 */
export function beginMatch<S extends Spec, O extends Spec = never>(
  book: Rulebook<S, O>,
  given: BeginOptions<NoInfer<S>, NoInfer<O>>,
): Match<S, O> {
  assertOptions('beginMatch', given, beginning)
  return start(book, given).match as object as Match<S, O> // the rulebook's types promise what the engine does by name
}

/** Begins a match of a rulebook whose types are not known, as hosts and tools do. */
export function beginAnyMatch(
  book: AnyRulebook,
  given: {
    readonly seed: Seed
    readonly with?: readonly string[]
    readonly preset?: string
    readonly settings?: object
    readonly record?: Sink
    readonly onFault?: (fault: Fault) => void
  },
): AnyMatch {
  assertOptions('beginAnyMatch', given, beginning)
  return start(book, given).match
}

/** True if a match is one of this rulebook, and so has its types. */
export function isMatchOf<S extends Spec, O extends Spec = never>(
  book: Rulebook<S, O>,
  match: object,
): match is Match<S, O> {
  return 'rulebook' in match && match.rulebook === book.name
}
