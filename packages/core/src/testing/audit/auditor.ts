import type { Chance } from '../../chance/index.ts'
import type { AnyRulebook, InputDescription, OpenMatch } from '../../rulebook/index.ts'
import type { SightLeak, Through } from './asked.ts'
import { runOn, runOnOtherChance, type Stretch } from './compare.ts'
import { type Course, SharedCourse } from './course.ts'
import { Covered, type CoveredPart } from './coverage.ts'
import { ALWAYS, type Disclosures } from './disclosures.ts'
import type { Moment } from './moments.ts'
import { isShown } from './secrets.ts'
import { differences, type Found, type Still, stillOf, wrongIn } from './still.ts'
import { type TriedInput, triedInputs } from './tried-inputs.ts'
import { type Change, Twins } from './twins.ts'
import type { Variation } from './variations.ts'

/** The plan of an audit. */
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
  /** The course of the match from there on. */
  readonly course: Course
}

/** Looks at moments of a match as every viewer, and collects the leaks. */
export class Auditor {
  private readonly plan: AuditPlan
  private readonly covered: ReadonlyMap<string, Covered>
  private readonly leaks = new LeakList()
  private readonly twins: Twins
  private compared = 0

  constructor(plan: AuditPlan) {
    this.plan = plan
    this.twins = new Twins(plan.book)
    this.covered = new Map(plan.variations.map(({ name, kind }) => [name, new Covered(kind === 'values')]))
  }

  /** Looks at a moment as some of the viewers. The next moment is looked at as others, so that each gets its turn. */
  look(moment: Moment, nth: number, viewers: number, chance: Chance): void {
    const { actions, variations, through } = this.plan
    const match = this.twins.at(moment.snapshot)
    const all = [...match.match.allSeats, 'spectator']
    const count = Math.min(viewers, all.length)
    for (let at = 0; at < count; at++) {
      const viewer = all[(nth * count + at) % all.length] ?? ''
      const tried = match.match.allSeats.includes(viewer) ? triedInputs(match, viewer, actions, chance) : []
      const followed = { deeds: moment.onward, viewer, through }
      const course = new SharedCourse(() => this.twins.at(moment.snapshot), followed)
      const still = stillOf(match, viewer, tried)
      const look: Look = { moment, nth, viewer, tried, still, course }
      for (const found of wrongIn(course, still, viewer)) this.add(found, found.by, look, [moment.deed.name])
      for (const variation of variations) {
        const { twins } = this
        const { still, onward, lack } = variation.ways({
          snapshot: moment.snapshot,
          match,
          viewer,
          chance,
          twins,
        })
        if (lack !== undefined) this.covered.get(variation.name)?.lacked(lack)
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

  /** Returns the twin if nothing tells it from the match, so that the two can be run on. */
  private compareStill(change: Change, { name, secret }: Variation, look: Look): OpenMatch | undefined {
    const { disclosures } = this.plan
    const twin = this.twins.at(look.moment.snapshot, change)
    // A value that decides who sees it may show itself. Then there is nothing to compare.
    if (secret !== undefined && isShown(twin, secret, change.rows, look.viewer)) return undefined
    const other = stillOf(twin, look.viewer, look.tried)
    this.compared += 1
    this.covered.get(name)?.count(look.nth, look.viewer)
    const found = [...differences(look.still, other, look.tried)]
    if (found.length > 0 && !disclosures.allows(ALWAYS, name, look.viewer))
      for (const each of found) this.add(each, name, look, [])
    return found.length === 0 ? twin : undefined
  }

  private compareOnward(change: Change, variation: Variation, look: Look): void {
    const other = this.compareStill(change, variation, look)
    if (other === undefined) return
    const { name, kind } = variation
    const { stretch, disclosures, through } = this.plan
    const { moment, viewer, course } = look
    const pair = { course, twin: other, deeds: moment.onward, viewer, through, name }
    const { steps, found, inputs } =
      kind === 'draws'
        ? runOnOtherChance(pair, stretch, disclosures)
        : runOn(pair, { rows: change.rows, isRenamed: kind === 'names' }, stretch, disclosures)
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
