import { beginMatch, defineRulebook, type RuleLike } from 'zinc-referee'

/** A match of these rules whose inputs are not typed, for tests that build rules on the spot. */
export const begin = (...rules: RuleLike[]) =>
  beginMatch(defineRulebook({ name: 'workshop', seats: { min: 1, max: 3 }, rules } as any), {
    seed: 'fair-1',
  }) as any
