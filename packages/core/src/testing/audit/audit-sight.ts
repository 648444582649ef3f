import { type Chance, chanceFrom } from '../../chance/index.ts'
import { RefereeError } from '../../kit/index.ts'
import type { AnyRulebook, InputDescription, OpenMatch } from '../../rulebook/index.ts'
import type { AuditAsked, AuditedRecord, SightAudit, SightLeak, Through } from './asked.ts'
import { differences, type Found, patchesFit, runOn, type Still, type Stretch, stillOf } from './compare.ts'
import { Covered } from './coverage.ts'
import { assertKnown, Disclosures } from './disclosures.ts'
import { leavesOf, sameCells } from './leaves.ts'
import { type Moment, momentsOf } from './moments.ts'
import { played, recorded } from './sources.ts'
import { type TriedInput, triedInputs } from './tried-inputs.ts'
import { type Change, twinOf } from './twins.ts'
import { type Variation, variationsOf } from './variations.ts'

const CHECKS = 24
const STEPS = 30
const STRETCH = 60_000

/**
 * Plays a match, or takes one that was recorded, and checks whether a viewer can infer something that it must not see. At
 * many of its inputs, for every seat and for a spectator, what the viewer may not see is given other values. Then both
 * matches must show it the same, offer the same, and answer whatever it tries in the same way. And both go on with the
 * same inputs for a while, in which it must be sent the same, to the byte.
 *
 * Two matches are compared until the sights show the viewer what was varied, or something reveals it on purpose.
 *
 * @throws ZR_MATCH_MISUSED for seats with which no match begins, checks below 1 or a name that is not there; what
 *   `beginMatch` throws; and for a record what `replayRecord` throws
 */
export function auditSight(book: AnyRulebook, asked: AuditAsked | AuditedRecord): SightAudit {
  const { checks = CHECKS, steps = STEPS, stretch = STRETCH, also = [] } = asked
  const source = 'record' in asked ? recorded(book, asked.record) : played(book, asked)
  const description = source.begin().describe()
  const variations = variationsOf(description, also)
  const disclosures = new Disclosures([
    ...description.rules.flatMap((rule) => rule.discloses ?? []),
    ...(asked.discloses ?? []),
  ])
  assertAsked(checks, also, variations)
  assertKnown(disclosures.all, description)
  const { returning, usual, faults } = momentsOf(source, checks)
  const actions = description.rules.flatMap((rule) => rule.actions)
  const auditor = new Auditor(book, disclosures, { steps, ms: stretch }, asked.through, variations, actions)
  const chance = chanceFrom('seed' in asked ? (asked.seed ?? 'fair-1') : 'fair-1', 'audit')
  for (const leak of returning) if (!disclosures.always(leak.secret, leak.viewer)) auditor.take(leak)
  for (const [nth, moment] of usual.entries()) auditor.look(moment, nth, chance)
  return auditor.report(faults)
}

class Auditor {
  private readonly book: AnyRulebook
  private readonly disclosures: Disclosures
  private readonly stretch: Stretch
  private readonly through: Through
  private readonly variations: readonly Variation[]
  private readonly actions: readonly InputDescription[]
  private readonly covered: Covered
  private readonly leaks: Map<string, SightLeak> = new Map()
  private compared = 0

  constructor(
    book: AnyRulebook,
    disclosures: Disclosures,
    stretch: Stretch,
    through: Through | undefined,
    variations: readonly Variation[],
    actions: readonly InputDescription[],
  ) {
    this.actions = actions
    this.book = book
    this.disclosures = disclosures
    this.stretch = stretch
    this.through = through ?? ((update) => update)
    this.variations = variations
    this.covered = new Covered(variations)
  }

  /** Looks at one moment with everybody's eyes. */
  look(moment: Moment, nth: number, chance: Chance): void {
    const match = twinOf(this.book, moment.snapshot)
    for (const viewer of [...match.match.seats, 'spectator']) {
      const tried = match.match.seats.includes(viewer) ? triedInputs(match, viewer, this.actions, chance) : []
      const still = stillOf(match, viewer, tried)
      if (!patchesFit(twinOf(this.book, moment.snapshot), moment.deed, viewer, this.through))
        this.add({ by: 'patch', path: 'patch' }, 'patch', viewer, moment, moment.deed.name, [
          moment.deed.name,
        ])
      for (const variation of this.variations) {
        const ways = variation.ways(moment.snapshot, match, viewer, chance)
        for (const change of ways.still)
          this.compareStill(change, variation, viewer, moment, nth, still, tried)
        for (const change of ways.onward)
          this.compareOnward(change, variation, viewer, moment, nth, still, tried)
      }
    }
  }

  take(leak: SightLeak): void {
    const key = keyOf(leak)
    const known = this.leaks.get(key)
    if (known === undefined || leak.inputs.length < known.inputs.length) this.leaks.set(key, leak)
  }

  report(faults: readonly string[]): SightAudit {
    const { all } = this.disclosures
    return {
      leaks: [...this.leaks.values()],
      disclosed: all.map((each) => ({ ...each, times: this.disclosures.timesOf(each) })),
      secrets: this.covered.report(),
      compared: this.compared,
      incomplete: this.covered.incomplete(),
      faults,
    }
  }

  private compareStill(
    change: Change,
    variation: Variation,
    viewer: string,
    moment: Moment,
    nth: number,
    still: Still,
    tried: readonly TriedInput[],
    steps?: number,
  ): boolean {
    const other = stillOf(twinOf(this.book, moment.snapshot, change), viewer, tried)
    // A value that decides who sees a row would show or hide others: there is nothing to compare.
    if (variation.secret !== undefined && !haveSameCells(still, other)) return false
    this.compared += 1
    this.covered.count(variation.name, nth, viewer, steps)
    const found = [...differences(still, other, tried)]
    if (found.length > 0 && !this.disclosures.always(variation.name, viewer))
      for (const each of found) this.add(each, variation.name, viewer, moment, undefined, [])
    return found.length === 0
  }

  private compareOnward(
    change: Change,
    variation: Variation,
    viewer: string,
    moment: Moment,
    nth: number,
    still: Still,
    tried: readonly TriedInput[],
  ): void {
    const { secret, name } = variation
    if (secret === undefined || !this.compareStill(change, variation, viewer, moment, nth, still, tried))
      return
    const twins: readonly [OpenMatch, OpenMatch] = [
      twinOf(this.book, moment.snapshot),
      twinOf(this.book, moment.snapshot, change),
    ]
    const asks = { viewer, secret, rows: change.rows, name }
    const outcome = runOn(twins, moment.onward, asks, this.stretch, this.disclosures, this.through)
    this.covered.count(name, nth, viewer, outcome.steps)
    for (const each of outcome.found)
      this.add(each, name, viewer, moment, lastOf(outcome.inputs), outcome.inputs)
  }

  private add(
    found: Found,
    secret: string,
    viewer: string,
    { snapshot }: Moment,
    input: string | undefined,
    inputs: readonly string[],
  ): void {
    this.take({ ...found, viewer, at: snapshot.time.now, secret, input, inputs })
  }
}

const haveSameCells = (one: Still, other: Still): boolean =>
  one.view === other.view || sameCells(leavesOf(JSON.parse(one.view)), leavesOf(JSON.parse(other.view)))

/** The name of the last input; who gave it stands before it. */
const lastOf = (inputs: readonly string[]): string | undefined => inputs.at(-1)?.split(' ').at(-1)

function assertAsked(checks: number, also: readonly string[], variations: readonly Variation[]): void {
  if (!Number.isSafeInteger(checks) || checks < 1)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `An audit was asked for ${checks} checks`,
      mend: 'Look at one moment at least',
    })
  const unknown = also.find((cell) => variations.every(({ name }) => name !== cell))
  if (unknown !== undefined)
    throw new RefereeError('ZR_MATCH_MISUSED', {
      what: `No cell '${unknown}' is there to be varied`,
      mend: "Name it as 'rule.part.cell'",
    })
}

/** The same leak, met by another viewer or at another time, is reported once. */
const keyOf = ({ secret, by, path, input }: SightLeak): string =>
  [secret, by, path.replace(/^(\/[^/]+\/[^/]+)\/.*\//, '$1/*/'), input].join(' ')
