import type { Chance } from '../../chance/index.ts'
import type { AnyRulebook, InputDescription, OpenMatch } from '../../rulebook/index.ts'
import type { SightLeak, Through } from './asked.ts'
import {
  differences,
  type Found,
  runOn,
  runOnOtherChance,
  type Still,
  type Stretch,
  stillOf,
  wrongIn,
} from './compare.ts'
import { Covered, type CoveredPart } from './coverage.ts'
import type { Disclosures } from './disclosures.ts'
import type { Moment } from './moments.ts'
import { isShown } from './secrets.ts'
import { type TriedInput, triedInputs } from './tried-inputs.ts'
import { type Change, twinOf } from './twins.ts'
import type { Variation } from './variations.ts'

/** What an audit goes by. */
export interface AuditPlan {
  readonly book: AnyRulebook
  readonly variations: readonly Variation[]
  readonly actions: readonly InputDescription[]
  readonly disclosures: Disclosures
  readonly stretch: Stretch
  readonly through: Through
}

/** One viewer at one moment. */
interface Look {
  readonly moment: Moment
  /** The number of the moment. */
  readonly nth: number
  readonly viewer: string
  readonly still: Still
  readonly tried: readonly TriedInput[]
}

/** Looks at moments of a match with everybody's eyes, and gathers what tells of a secret. */
export class Auditor {
  private readonly plan: AuditPlan
  private readonly covered: ReadonlyMap<string, Covered>
  private readonly leaks = new LeakList()
  private compared = 0

  constructor(plan: AuditPlan) {
    this.plan = plan
    this.covered = new Map(
      plan.variations.map(({ name, secret }) => [name, new Covered(secret !== undefined)]),
    )
  }

  /** Looks at a moment with the eyes of some viewers: of others at the next one, so that each has its turn. */
  look(moment: Moment, nth: number, viewers: number, chance: Chance): void {
    const { book, actions, variations, through } = this.plan
    const match = twinOf(book, moment.snapshot)
    const all = [...match.match.seats, 'spectator']
    const count = Math.min(viewers, all.length)
    for (let at = 0; at < count; at++) {
      const viewer = all[(nth * count + at) % all.length] ?? ''
      const tried = match.match.seats.includes(viewer) ? triedInputs(match, viewer, actions, chance) : []
      const look: Look = { moment, nth, viewer, tried, still: stillOf(match, viewer, tried) }
      for (const found of wrongIn(twinOf(book, moment.snapshot), moment.deed, viewer, through))
        this.add(found, found.by, look, [moment.deed.name])
      for (const variation of variations) {
        const { still, onward } = variation.ways(moment.snapshot, match, viewer, chance)
        for (const change of still) this.compareStill(change, variation, look)
        for (const change of onward) this.compareOnward(change, variation, look)
      }
    }
  }

  take(leak: SightLeak): void {
    this.leaks.add(leak)
  }

  part(): {
    readonly leaks: readonly SightLeak[]
    readonly secrets: { readonly [secret: string]: CoveredPart }
    readonly compared: number
  } {
    const secrets = Object.fromEntries([...this.covered].map(([name, covered]) => [name, covered.part()]))
    return { leaks: this.leaks.all(), secrets, compared: this.compared }
  }

  /** Returns the twin if nothing tells the two apart, so that they can go on. */
  private compareStill(change: Change, { name, secret }: Variation, look: Look): OpenMatch | undefined {
    const { book, disclosures } = this.plan
    const twin = twinOf(book, look.moment.snapshot, change)
    // A value that decides who sees it may show itself: then there is nothing to compare.
    if (secret !== undefined && isShown(twin, secret, change.rows, look.viewer)) return undefined
    const other = stillOf(twin, look.viewer, look.tried)
    this.compared += 1
    this.covered.get(name)?.count(look.nth, look.viewer)
    const found = [...differences(look.still, other, look.tried)]
    if (found.length > 0 && !disclosures.always(name, look.viewer))
      for (const each of found) this.add(each, name, look, [])
    return found.length === 0 ? twin : undefined
  }

  private compareOnward(change: Change, variation: Variation, look: Look): void {
    const other = this.compareStill(change, variation, look)
    if (other === undefined) return
    const { secret, name, part = secret?.part } = variation
    const { book, stretch, disclosures, through } = this.plan
    const { moment, viewer } = look
    const twins: readonly [OpenMatch, OpenMatch] = [twinOf(book, moment.snapshot), other]
    const { steps, found, inputs } =
      part === undefined
        ? runOnOtherChance(twins, moment.onward, { viewer, name }, stretch, disclosures, through)
        : runOn(
            twins,
            moment.onward,
            { viewer, name, part, rows: change.rows, isRenamed: secret === undefined },
            stretch,
            disclosures,
            through,
          )
    this.covered.get(name)?.went(steps)
    for (const each of found) this.add(each, name, look, inputs)
  }

  private add(found: Found, secret: string, { viewer, moment }: Look, inputs: readonly string[]): void {
    const input = inputs.at(-1)?.split(' ').at(-1) // who gave it stands before it
    this.take({ ...found, viewer, at: moment.snapshot.time.now, secret, input, inputs })
  }
}

/** Leaks, each once: of those that are alike, the one with the fewest inputs, and of those the first. */
export class LeakList {
  private readonly byKey: Map<string, SightLeak> = new Map()

  add(leak: SightLeak): void {
    const key = keyOf(leak)
    const known = this.byKey.get(key)
    if (known === undefined || isShorter(leak, known)) this.byKey.set(key, leak)
  }

  all(): SightLeak[] {
    return [...this.byKey].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, leak]) => leak)
  }
}

const isShorter = (one: SightLeak, other: SightLeak): boolean =>
  one.inputs.length === other.inputs.length
    ? one.at < other.at || (one.at === other.at && one.viewer < other.viewer)
    : one.inputs.length < other.inputs.length

/** The same leak, met by another viewer or at another time, is reported once. */
const keyOf = ({ secret, by, path, input }: SightLeak): string =>
  [secret, by, path.replace(/^(\/[^/]+\/[^/]+)\/.*\//, '$1/*/'), input].join(' ')
