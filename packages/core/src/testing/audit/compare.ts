import type { OpenMatch } from '../../rulebook/index.ts'
import type { Deed } from '../deeds.ts'
import { differing, leavesOf } from '../leaves.ts'
import { type Course, type Followed, OwnCourse, type Step, sentBy } from './course.ts'
import type { Disclosures } from './disclosures.ts'
import { FirstNames, type Sent } from './first-names.ts'
import { cellsSeen } from './secrets.ts'
import type { Found } from './still.ts'
import type { Change } from './twins.ts'

const text = (value: unknown): string => JSON.stringify(value) ?? ''

/** Limits on running twins on. */
export interface Stretch {
  readonly steps: number
  /** Match time, in ms. */
  readonly ms: number
}

/** The result of running twins on: how far they went, and what told them apart. */
export interface Outcome {
  readonly steps: number
  readonly found: readonly Found[]
  /** The inputs that led there. The last one gave it away. */
  readonly inputs: readonly string[]
}

/** A match and its twin, which go on together. */
export interface Pair extends Followed {
  readonly course: Course
  /** The viewer is open in it. */
  readonly twin: OpenMatch
  /** The secret's name. */
  readonly name: string
}

/** The rows and cells that were varied. */
export interface Varied {
  readonly rows: Change['rows']
  /** True if two rows have one another's ids: by an input that names rows, others would mean another row. */
  readonly isRenamed: boolean
}

/**
 * Runs twins on with the same inputs and compares what the viewer is sent and answered. It stops where they differ. A
 * difference is not a leak if more of a varied row has come into sight in either, or if something reveals the secret
 * to the viewer on purpose. An input of another seat that one twin would refuse is left out, because that seat may
 * know the secret.
 */
export function runOn(
  pair: Pair,
  { rows, isRenamed }: Varied,
  { steps: most, ms }: Stretch,
  disclosures: Disclosures,
): Outcome {
  const { deeds, viewer, twin, name } = pair
  const inputs: string[] = []
  const names = new FirstNames()
  const seen = cellsSeen(twin, rows, viewer)
  const until = twin.match.now + ms
  const second = new OwnCourse(twin, pair)
  let first = pair.course
  let steps = 0
  for (const [nth, deed] of deeds.entries()) {
    if (steps >= most || deed.at > until) break
    const isOwn = deed.seat === viewer
    if (
      deed.kind !== 'other' &&
      !isOwn &&
      ((isRenamed && namesRows(twin, deed)) || first.tried(nth) !== second.tried(nth))
    ) {
      first = first.skipping(nth)
      continue
    }
    inputs.push(inputOf(deed))
    const [one, other] = [first.step(nth), second.step(nth)]
    const isAnswered = isOwn && one.ruling !== other.ruling
    const isSame = !isAnswered && one.said === other.said
    // The same bytes give the same view, so the twin's view will do for both.
    const twins = [isSame ? twin : first.matchAfter(nth), twin] as const
    // If one of the varied rows comes into sight, differences may follow from it, and twins are no longer alike.
    const now = twins.map((each) => cellsSeen(each, rows, viewer))
    if (now.some((cells) => cells > seen || (isRenamed && cells < seen))) break
    if (isSame || (!isAnswered && names.areSame(sentBy(one.update), sentBy(other.update)))) {
      steps += 1
      continue
    }
    if (isRevealed(disclosures, name, viewer, deed, [one, other], twins)) break
    const found: readonly Found[] = isAnswered
      ? [{ by: 'ruling', path: deed.name }]
      : foundIn(twins, viewer, [sentBy(one.update), sentBy(other.update)])
    return { steps: steps + 1, inputs, found }
  }
  return { steps, inputs, found: [] }
}

/**
 * Runs twins on in which chance gives something else, until what the viewer is sent differs. What chance decides may well
 * show in cells that it sees; but where its views are the same and it is sent something else, what was drawn has leaked.
 */
export function runOnOtherChance(pair: Pair, { steps: most }: Stretch, disclosures: Disclosures): Outcome {
  const { course, deeds, viewer, twin, name } = pair
  const inputs: string[] = []
  const second = new OwnCourse(twin, pair)
  for (const [nth, deed] of deeds.slice(0, most).entries()) {
    inputs.push(inputOf(deed))
    const [one, other] = [course.step(nth), second.step(nth)]
    if (one.ruling !== other.ruling) break
    if (one.said === other.said) continue
    const twins = [course.matchAfter(nth), twin] as const
    const [a, b] = twins.map(({ match }) => text(match.view(viewer)))
    const isPurpose = isRevealed(disclosures, name, viewer, deed, [one, other], twins)
    if (a !== b || isPurpose) break
    const found = foundIn(twins, viewer, [sentBy(one.update), sentBy(other.update)])
    return { steps: inputs.length, inputs, found }
  }
  return { steps: inputs.length, inputs, found: [] }
}

const inputOf = ({ seat, name }: Deed): string => (seat === undefined ? name : `${seat} ${name}`)

const namesRows = ({ engine }: OpenMatch, { name }: Deed): boolean =>
  (engine.plan.inputs.get(name)?.rowCells.length ?? 0) > 0

/** True if what happened in either reveals the secret to the viewer on purpose. */
function isRevealed(
  disclosures: Disclosures,
  secret: string,
  viewer: string,
  deed: Deed,
  steps: readonly [Step, Step],
  twins: readonly [OpenMatch, OpenMatch],
): boolean {
  return twins.some((twin, at) =>
    disclosures.reach(secret, viewer, { deed, events: steps[at]?.events ?? [] }, twin),
  )
}

function foundIn(
  twins: readonly [OpenMatch, OpenMatch],
  viewer: string,
  [one, other]: readonly [Sent, Sent],
): Found[] {
  const [a, b] = twins.map(({ match }) => leavesOf(match.view(viewer)))
  const paths = differing(a ?? new Map(), b ?? new Map())
  if (paths.length > 0) return paths.map((path) => ({ by: 'view', path }))
  const at = one.notices.findIndex((notice, nth) => text(notice) !== text(other.notices[nth]))
  const notice = one.notices[at] ?? other.notices.at(one.notices.length)
  return [notice === undefined ? { by: 'patch', path: 'patch' } : { by: 'notice', path: notice.name }]
}
