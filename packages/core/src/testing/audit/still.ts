import { applyPatch, operationsOf } from '../../replica/index.ts'
import type { OpenMatch } from '../../rulebook/index.ts'
import type { Update } from '../../views/index.ts'
import { differing, leavesOf } from '../leaves.ts'
import type { SightLeak } from './asked.ts'
import type { Course } from './course.ts'
import type { TriedInput } from './tried-inputs.ts'

/** A place where two matches differ for a viewer. */
export type Found = Pick<SightLeak, 'by' | 'path'>

const text = (value: unknown): string => JSON.stringify(value) ?? ''

/** What one viewer is shown and answered at one moment. */
export interface Still {
  /** Its whole view as text. */
  readonly view: string
  /** By action, the options as text. */
  readonly options: ReadonlyMap<string, string>
  /** The rulings on inputs that are tried, as text. */
  readonly rulings: readonly string[]
}

/** Looks at a match, in which the viewer is open from then on. */
export function stillOf(twin: OpenMatch, viewer: string, tried: readonly TriedInput[]): Still {
  const { match, inbox, engine } = twin
  const { view } = match.addViewer(viewer)
  const isSeat = match.allSeats.includes(viewer)
  const offering = [...engine.plan.inputs.values()].filter(
    (plan) => plan.kind === 'action' && (plan.isListable || plan.options !== undefined),
  )
  return {
    view,
    options: new Map(isSeat ? offering.map(({ name }) => [name, text(match.options(viewer, name))]) : []),
    rulings: isSeat ? tried.map(({ name, input }) => text(inbox.tried('action', name, input, viewer))) : [],
  }
}

/** Yields the differences between two matches at one moment. */
export function* differences(one: Still, other: Still, tried: readonly TriedInput[]): Iterable<Found> {
  if (one.view !== other.view) {
    const paths = differing(leavesOf(JSON.parse(one.view)), leavesOf(JSON.parse(other.view)))
    yield* (paths.length === 0 ? [''] : paths).map((path): Found => ({ by: 'view', path }))
  }
  for (const [name, options] of one.options)
    if (other.options.get(name) !== options) yield { by: 'options', path: name }
  for (const [at, ruling] of one.rulings.entries())
    if (other.rulings[at] !== ruling) yield { by: 'ruling', path: tried[at]?.name ?? '' }
}

/**
 * Yields errors in what the first deed of a course sends, whatever the secrets are: a patch that does not lead from
 * the viewer's view before to its view after, and an inner id of a row, which only the server may know.
 */
export function* wrongIn(course: Course, { view }: Still, viewer: string): Iterable<Found> {
  const { update, said } = course.step(0)
  const twin = course.matchAfter(0)
  const inner = innerIdIn(twin, view + said)
  if (inner !== undefined) yield { by: 'inner-id', path: inner }
  if (!leadsTo(JSON.parse(view), update, twin.match.view(viewer))) yield { by: 'patch', path: 'patch' }
}

/** The table whose row's inner id is in a text. */
function innerIdIn({ engine }: OpenMatch, sent: string): string | undefined {
  for (const [table, rows] of engine.store.tables)
    if (rows.shape.isSeen)
      for (const { $id } of rows.rows())
        if ($id !== '' && sent.includes($id)) return `/${table.replace('.', '/')}`
  return undefined
}

function leadsTo(seen: object, update: Update | undefined, view: object): boolean {
  try {
    const shown = applyPatch(seen, operationsOf(update ?? { patch: '[]' }))
    return differing(leavesOf(shown), leavesOf(view)).length === 0
  } catch {
    return false
  }
}
