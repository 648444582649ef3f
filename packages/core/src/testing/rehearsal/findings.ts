import { type AnyMatch, type AnyRulebook, insideOf, replayRecord } from '../../rulebook/index.ts'
import { auditSight } from '../audit/audit-sight.ts'
import { checkLaws, type LawsRequest } from '../check-laws.ts'
import type { Deed } from '../deeds.ts'
import type { FaultKind } from '../fault-kinds.ts'
import type { Finding } from './rehearsal.ts'

/** A finding before it is known which match it was in. */
type Found = Pick<Finding, 'kind' | 'says'>

/** Collects what is wrong, each kind once. */
export class Findings {
  readonly #known: Map<string, Finding> = new Map()

  /** `record` is called for the first of a kind alone. */
  add({ kind, says }: Found, match: number, record: () => string, times = 1): void {
    const key = `${kind} ${says}`
    const known = this.#known.get(key) ?? { kind, says, times: 0, match, record: record() }
    this.#known.set(key, { ...known, times: known.times + times })
  }

  all(): readonly Finding[] {
    return [...this.#known.values()]
  }
}

export const faultFound = ({ handler, error }: Pick<FaultKind, 'handler' | 'error'>): Found => ({
  kind: 'fault',
  says: `${handler} throws: ${error}`,
})

/**
 * Says whether an action was refused though its rule offers it with this input. To be asked right after it was done. Of
 * other actions nobody lists the options, and what throws when they are listed is no fault of the match.
 */
export function refusedThoughOffered(match: AnyMatch, deed: Deed, ruling: unknown): Found | undefined {
  const { ok, code } = Object(ruling) as { readonly ok?: boolean; readonly code?: string }
  if (deed.kind !== 'action' || deed.seat === undefined || ok !== false || code === 'fault') return undefined
  const plan = insideOf(match)?.engine.plan.inputs.get(deed.name)
  if (plan?.kind !== 'action' || !plan.offered) return undefined
  const wanted = JSON.stringify(deed.input)
  const isOffered = match
    .options(deed.seat, deed.name)
    .some((option: unknown) => JSON.stringify(option) === wanted)
  return isOffered ? { kind: 'refused', says: `${deed.name} is offered and refused: ${code}` } : undefined
}

/** Plays a record again, and says if it gives another match. */
export function differsWhenReplayed(book: AnyRulebook, record: string): Found | undefined {
  const { differs } = replayRecord(book, record)
  if (differs === undefined) return undefined
  return {
    kind: 'replayed',
    says: 'a record, played again, gives another match; zinc-referee replay says where',
  }
}

/** Plays one match with all that may happen to it. Returns the laws that are broken, and the record of that match. */
export function lawsBroken(
  book: AnyRulebook,
  request: LawsRequest,
): { readonly found: readonly Found[]; readonly record: string } {
  const { breaks, record } = checkLaws(book, { ...request, moments: 2 })
  const laws = new Set(breaks.map(({ law }) => law))
  return {
    found: [...laws].map((law) => ({
      kind: 'law',
      says: `the law '${law}' is broken; checkLaws says where`,
    })),
    record,
  }
}

/** How closely the record of one match is looked at for secrets: a glance, beside what `auditSight` does by itself. */
const GLANCE = { checks: 3, steps: 10, stretch: 10_000, comparisons: 60 }

/** Returns which secrets get out in a match that was recorded. */
export function leaksIn(book: AnyRulebook, record: string): readonly Found[] {
  const { leaks } = auditSight(book, { record, ...GLANCE })
  const places = new Set(leaks.map(({ secret, by, path }) => `${secret} gets out by a ${by}, at ${path}`))
  return [...places].map((says) => ({ kind: 'leak', says }))
}
