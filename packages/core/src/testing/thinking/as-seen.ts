import type { Chance } from '../../chance/index.ts'
import type { Snapshot } from '../../record/index.ts'
import type { AnyMatch, AnyRulebook, OpenMatch, RulebookDescription } from '../../rulebook/index.ts'
import type { Secret } from '../audit/secrets.ts'
import { hiddenFrom, secretsOf, waysOf } from '../audit/secrets.ts'
import { Twins } from '../audit/twins.ts'

/**
 * Makes matches that are as one seat knows them: what it may not see is drawn again each time, and so is what chance will
 * give. The values that are hidden from it change places among one another, so that what holds of all of them still holds;
 * a choice that is hidden alone may be any of its values. Numbers that nobody sees stay as they are.
 */
export class AsSeen {
  private readonly twins: Twins
  private readonly secrets: readonly Secret[]

  constructor(book: AnyRulebook, match: AnyMatch) {
    this.twins = new Twins(book)
    const description = match.describe()
    this.secrets = secretsOf(description, choicesOfNobody(description))
  }

  /** Returns what makes such matches for a seat as it is now. */
  maker(match: AnyMatch, seat: string, chance: Chance): () => OpenMatch {
    const snapshot = match.snapshot()
    const now = this.twins.at(snapshot)
    const hidden = this.secrets.map((secret) => ({ secret, numbers: hiddenFrom(now, secret, seat) }))
    return () => {
      let drawn: Snapshot = snapshot
      for (const { secret, numbers } of hidden) {
        const { mixed, few } = waysOf(drawn, secret, numbers, chance)
        // One that has nothing to change places with may be any of its values.
        const isAlone = numbers.length === 1 && secret.of.kind === 'choice'
        const change = isAlone ? chance.pick([undefined, ...few]) : mixed[0]
        if (change !== undefined) drawn = change.snapshot
      }
      return this.twins.at(snapshot, {
        snapshot: drawn,
        seed: `thought ${chance.int(0, 2 ** 31)}`,
        rows: new Map(),
      })
    }
  }
}

/** Choices that nobody sees, in a part that has one row. */
const choicesOfNobody = ({ rules }: RulebookDescription): readonly string[] =>
  rules.flatMap(({ name: rule, state }) =>
    Object.entries(state).flatMap(([part, { kind, cells }]) =>
      Object.entries(cells).flatMap(([cell, of]) =>
        kind === 'single' && of.kind === 'choice' && of.seenBy === 'nobody' ? `${rule}.${part}.${cell}` : [],
      ),
    ),
  )
