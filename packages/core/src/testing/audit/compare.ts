import type { Update } from '../../match/index.ts'
import { applyPatch, type Operation } from '../../replica/index.ts'
import type { AnyMatch, OpenMatch } from '../../rulebook/index.ts'
import type { SightLeak, Through } from './asked.ts'
import type { Disclosures } from './disclosures.ts'
import { FirstNames, type Sent } from './first-names.ts'
import { differing, leavesOf } from './leaves.ts'
import { cellsSeen } from './secrets.ts'
import type { Deed } from './sources.ts'
import type { TriedInput } from './tried-inputs.ts'

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

export function stillOf(twin: OpenMatch, viewer: string, tried: readonly TriedInput[]): Still {
  const { match, inbox, engine } = twin
  const { view } = match.open(viewer)
  const isSeat = match.seats.includes(viewer)
  const offering = [...engine.plan.inputs.values()].filter((plan) => plan.options !== undefined)
  return {
    view,
    options: new Map(isSeat ? offering.map(({ name }) => [name, text(match.options(viewer, name))]) : []),
    rulings: isSeat ? tried.map(({ name, input }) => text(inbox.tried('action', name, input, viewer))) : [],
  }
}

/** What tells the two apart as they are. */
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

export type Found = Pick<SightLeak, 'by' | 'path'>

/** How long twins go on. */
export interface Stretch {
  readonly steps: number
  /** Match time, ms. */
  readonly ms: number
}

/** How far two twins went, and what told them apart. */
export interface Outcome {
  readonly steps: number
  readonly found: readonly Found[]
  /** The inputs that led there, the last one told. */
  readonly inputs: readonly string[]
}

/** What was varied, and for whom. */
export interface Asks {
  readonly viewer: string
  /** The secret's name. */
  readonly name: string
  /** The part of the state and the rows in which it was. */
  readonly part: string
  readonly rows: readonly number[]
  /** True if two rows have one another's ids: by an input that names rows, others would mean another row. */
  readonly isRenamed: boolean
}

/**
 * Runs twins on with the same inputs and compares what the viewer is sent and answered. It ends where more of
 * a varied row comes into sight in either, or where something reveals the secret to the viewer on purpose. An input of somebody else that
 * one of them would refuse is left out: whoever gives it may know the secret.
 */
export function runOn(
  twins: readonly [OpenMatch, OpenMatch],
  deeds: readonly Deed[],
  { viewer, part, rows, name, isRenamed }: Asks,
  { steps: most, ms }: Stretch,
  disclosures: Disclosures,
  through: Through,
): Outcome {
  const inputs: string[] = []
  const names = new FirstNames()
  const seen = cellsSeen(twins[0], part, rows, viewer)
  let steps = 0
  const until = twins[0].match.now + ms
  for (const { match, engine } of twins) {
    match.open(viewer)
    match.flush({ all: true })
    engine.heard = []
  }
  for (const deed of deeds) {
    if (steps >= most || deed.at > until) break
    const isOwn = deed.seat === viewer
    if (deed.kind !== 'other' && !isOwn) {
      if (isRenamed && namesRows(twins[0], deed)) continue
      const { kind, input, seat } = deed
      const [a, b] = twins.map(({ inbox }) => text(inbox.tried(kind, deed.name, input, seat)))
      if (a !== b) continue
    }
    inputs.push(deed.seat === undefined ? deed.name : `${deed.seat} ${deed.name}`)
    const rulings = twins.map(({ match }) => text(deed.does(match)))
    const happened = twins.map(({ engine }) => ({ deed, events: engine.heard?.splice(0) ?? [] }))
    const updates = twins.map(({ match }) => sentTo(match, viewer, through))
    // What comes into sight of these rows may follow from what was varied in them; and two that were alike are so no more.
    const now = twins.map((twin) => cellsSeen(twin, part, rows, viewer))
    if (now.some((cells) => cells > seen || (isRenamed && cells < seen))) break
    const isAnswered = isOwn && rulings[0] !== rulings[1]
    const [one, other] = updates
    if (!isAnswered && (said(one) === said(other) || names.areSame(sentBy(one), sentBy(other)))) {
      steps += 1
      continue
    }
    if (twins.some((twin, at) => disclosures.reach(name, viewer, happened[at] ?? { deed, events: [] }, twin)))
      break
    const found: readonly Found[] = isAnswered
      ? [{ by: 'ruling', path: deed.name }]
      : foundIn(twins, viewer, updates.map(sentBy))
    return { steps: steps + 1, inputs, found }
  }
  return { steps, inputs, found: [] }
}

const namesRows = ({ engine }: OpenMatch, { name }: Deed): boolean =>
  (engine.plan.inputs.get(name)?.rowCells.length ?? 0) > 0

function sentTo(match: AnyMatch, viewer: string, through: Through): Update | undefined {
  return through(
    match.flush({ all: true }).find((each) => each.viewer === viewer),
    match,
  )
}

const sentBy = (update: Update | undefined): Sent => ({
  patch: JSON.parse(update?.patch ?? '[]'),
  notices: update?.notices ?? [],
})
const said = (update: Update | undefined): string => text([update?.patch ?? '[]', update?.notices ?? []])

function foundIn(twins: readonly [OpenMatch, OpenMatch], viewer: string, updates: readonly Sent[]): Found[] {
  const [a, b] = twins.map(({ match }) => leavesOf(match.view(viewer)))
  const paths = differing(a ?? new Map(), b ?? new Map())
  if (paths.length > 0) return paths.map((path) => ({ by: 'view', path }))
  const [one, other] = updates.map(({ notices }) => notices)
  const at = (one ?? []).findIndex((notice, nth) => text(notice) !== text(other?.[nth]))
  const notice = one?.[at] ?? other?.at(one?.length ?? 0)
  return [notice === undefined ? { by: 'patch', path: 'patch' } : { by: 'notice', path: notice.name }]
}

/**
 * What is wrong in what the next deed sends, whatever the secrets are: a patch that does not lead from the view that the
 * viewer had to the one it has then, and an inner id of a row, which no viewer but the server knows.
 */
export function* wrongIn(twin: OpenMatch, deed: Deed, viewer: string, through: Through): Iterable<Found> {
  const { match } = twin
  const { view } = match.open(viewer)
  match.flush({ all: true })
  deed.does(match)
  const update = sentTo(match, viewer, through)
  const inner = innerIdIn(twin, view + said(update))
  if (inner !== undefined) yield { by: 'inner-id', path: inner }
  if (!leadsTo(JSON.parse(view), update, match.view(viewer))) yield { by: 'patch', path: 'patch' }
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
    const operations: readonly Operation[] = JSON.parse(update?.patch ?? '[]')
    return differing(leavesOf(applyPatch(seen, operations)), leavesOf(view)).length === 0
  } catch {
    return false
  }
}

/**
 * Runs twins on in which chance gives something else, until what the viewer is sent differs. What chance decides may well
 * show in cells that it sees; but where its views are the same and it is sent something else, what was drawn has leaked.
 */
export function runOnOtherChance(
  twins: readonly [OpenMatch, OpenMatch],
  deeds: readonly Deed[],
  { viewer, name }: { readonly viewer: string; readonly name: string },
  { steps: most }: Stretch,
  disclosures: Disclosures,
  through: Through,
): Outcome {
  const inputs: string[] = []
  for (const { match, engine } of twins) {
    match.open(viewer)
    match.flush({ all: true })
    engine.heard = []
  }
  for (const deed of deeds.slice(0, most)) {
    inputs.push(deed.seat === undefined ? deed.name : `${deed.seat} ${deed.name}`)
    const rulings = twins.map(({ match }) => text(deed.does(match)))
    const happened = twins.map(({ engine }) => ({ deed, events: engine.heard?.splice(0) ?? [] }))
    const [one, other] = twins.map(({ match }) => sentTo(match, viewer, through))
    if (rulings[0] !== rulings[1]) break
    if (said(one) === said(other)) continue
    const [a, b] = twins.map(({ match }) => text(match.view(viewer)))
    const isRevealed = twins.some((twin, at) =>
      disclosures.reach(name, viewer, happened[at] ?? { deed, events: [] }, twin),
    )
    if (a !== b || isRevealed) break
    return { steps: inputs.length, inputs, found: foundIn(twins, viewer, [one, other].map(sentBy)) }
  }
  return { steps: inputs.length, inputs, found: [] }
}
