import { chanceFrom } from '../../chance/index.ts'
import { RefereeError } from '../../kit/index.ts'
import type { AnyRulebook } from '../../rulebook/index.ts'
import type { AuditAsked, AuditedRecord, SightAudit, SightLeak } from './asked.ts'
import { Auditor, LeakList } from './auditor.ts'
import { type CoveredPart, gapIn, joinCovered, lackIn } from './coverage.ts'
import { AGAIN, assertKnown, Disclosures } from './disclosures.ts'
import { momentsOf } from './moments.ts'
import { played, recorded } from './sources.ts'
import { type Variation, variationsOf } from './variations.ts'

const CHECKS = 24
const STEPS = 30
/** So many take 15 s on two quiet cores in the regatta with eight rafts, the busiest example. */
const COMPARISONS = 720
const STRETCH = 60_000

/** One part of an audit, as JSON: parts may run in workers. */
export interface AuditPart {
  /** The leaks that this part found. */
  readonly leaks: readonly SightLeak[]
  /** For each disclosure, in order, how often it was made to each viewer. */
  readonly disclosed: SightAudit['disclosed']
  /** How thoroughly this part checked each secret. */
  readonly secrets: { readonly [secret: string]: CoveredPart }
  /** Number of pairs of matches that were compared. */
  readonly compared: number
  /** Faults of the match that was played. */
  readonly faults: SightAudit['faults']
  /** True if it was stopped early. */
  readonly stopped: boolean
}

/** Which part of an audit to run, and the listener for its progress. */
export interface PartAsked {
  /** From 0. Default: 0 of 1. */
  readonly part?: number
  /** Number of parts. */
  readonly of?: number
  /** Called before each moment. Return false to stop there. */
  readonly goOn?: (moment: number, moments: number) => boolean
}

/**
 * Plays a match, or takes a recorded one, and checks whether a viewer can infer something it must not see. At many of
 * its inputs, for every seat and for a spectator, it gives what the viewer may not see other values. Both matches
 * must then show it the same, offer the same, and answer whatever it tries in the same way. They also go on with the
 * same inputs for a while, in which it must be sent the same, to the byte, except for the names of rows that first
 * appear.
 *
 * Two matches are compared until the sights show the viewer what was varied, or something reveals it on purpose.
 *
 * @example
 * ```ts
 * const audit = auditSight(ferry, { seats: ['otter', 'heron'], crowd: () => randomCrowd('fair-1') })
 * ```
 * @throws ZR_MATCH_MISUSED if no match begins with these seats, for checks below 1 or an unknown name; what `beginMatch`
 * throws; and for a record what `replayRecord` throws
 */
export function auditSight(book: AnyRulebook, asked: AuditAsked | AuditedRecord): SightAudit {
  return joinAudits([auditPart(book, asked)])
}

/**
 * Does one part of an audit: every so many moments of the match. All parts together find the same, however many there
 * are.
 */
export function auditPart(
  book: AnyRulebook,
  asked: AuditAsked | AuditedRecord,
  { part = 0, of = 1, goOn = () => true }: PartAsked = {},
): AuditPart {
  const {
    checks = CHECKS,
    steps = STEPS,
    stretch = STRETCH,
    comparisons = COMPARISONS,
    also = [],
    through = (update) => update,
  } = asked
  const source = 'record' in asked ? recorded(book, asked.record) : played(book, asked)
  const description = source.begin().describe()
  const variations = variationsOf(description, also)
  // Cells that everyone sees by the rulebook's settings are not secret.
  const isSecret = (secret: string): boolean => variations.some(({ name }) => name === secret)
  const disclosures = new Disclosures([
    ...description.rules.flatMap((rule) => rule.discloses ?? []).filter(({ secret }) => isSecret(secret)),
    ...(asked.discloses ?? []),
  ])
  assertAsked(checks, also, variations)
  assertKnown([...description.rules.flatMap((rule) => rule.discloses ?? []), ...disclosures.all], description)
  const { returning, usual, faults } = momentsOf(source, checks)
  const auditor = new Auditor({
    book,
    variations,
    actions: description.rules.flatMap((rule) => rule.actions),
    disclosures,
    stretch: { steps, ms: stretch },
    through,
  })
  if (part === 0)
    for (const leak of returning) if (!disclosures.allows(AGAIN, leak.secret, leak.viewer)) auditor.take(leak)
  const seed = 'seed' in asked ? (asked.seed ?? 'fair-1') : 'fair-1'
  const own = usual.flatMap((moment, nth) => (nth % of === part ? [{ moment, nth }] : []))
  const pairs = variations.reduce((sum, { secret }) => sum + (secret === undefined ? 1 : 2), 0)
  const viewers = Math.ceil(comparisons / (usual.length * pairs))
  let stopped = false
  for (const [at, { moment, nth }] of own.entries()) {
    stopped ||= !goOn(at, own.length)
    // Each moment has a stream of its own, so that the inputs tried do not depend on how the audit is split.
    if (!stopped) auditor.look(moment, nth, viewers, chanceFrom(seed, `audit ${nth}`))
  }
  return { ...auditor.part(), disclosed: disclosures.report(), faults, stopped }
}

/** Joins the parts of an audit. */
export function joinAudits(parts: readonly AuditPart[]): SightAudit {
  const leaks = new LeakList()
  for (const part of parts) for (const leak of part.leaks) leaks.add(leak)
  const [first] = parts
  const secrets = Object.fromEntries(
    Object.keys(first?.secrets ?? {}).map((name) => [
      name,
      joinCovered(parts.flatMap((part) => part.secrets[name] ?? [])),
    ]),
  )
  const gaps = Object.entries(secrets).flatMap(
    ([name, coverage]) =>
      gapIn(name, coverage, lackIn(parts.flatMap(({ secrets }) => secrets[name] ?? []))) ?? [],
  )
  return {
    leaks: leaks.all(),
    disclosed: (first?.disclosed ?? []).map((each, at) => ({ ...each, times: timesOf(parts, at) })),
    secrets,
    compared: parts.reduce((sum, { compared }) => sum + compared, 0),
    incomplete: [
      ...(parts.some(({ stopped }) => stopped) ? ['It was stopped before it was through.'] : []),
      ...gaps,
    ],
    faults: first?.faults ?? [],
  }
}

function timesOf(parts: readonly AuditPart[], at: number): { readonly [viewer: string]: number } {
  const times: Record<string, number> = {}
  for (const part of parts)
    for (const [viewer, count] of Object.entries(part.disclosed[at]?.times ?? {}))
      times[viewer] = (times[viewer] ?? 0) + count
  return times
}

function assertAsked(checks: number, also: readonly string[], variations: readonly Variation[]): void {
  if (!Number.isSafeInteger(checks) || checks < 1)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `An audit was asked for ${checks} checks`,
      fix: 'Look at one moment at least',
    })
  const unknown = also.find((cell) => variations.every(({ name }) => name !== cell))
  if (unknown !== undefined)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `No cell '${unknown}' is there to be varied`,
      fix: "Name it as 'rule.part.cell'",
    })
}
