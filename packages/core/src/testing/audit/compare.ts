import type { Chance } from '../../chance/index.ts'
import { applyPatch, type Operation } from '../../replica/index.ts'
import { randomInputOf } from '../random-crowd.ts'
import type { SightLeak, Through } from './asked.ts'
import { differing, leavesOf } from './leaves.ts'
import type { Moment } from './moments.ts'
import type { Pair } from './pair.ts'
import type { Deed } from './sources.ts'

const PROBES = 1

/** What tells the two matches of a pair from one another: as they stand, and in the next step. */
export function* compare(
  pair: Pair,
  { deed }: Moment,
  chance: Chance,
  through: Through,
): Iterable<SightLeak> {
  const { viewer, secret, isOtherMatch } = pair
  const { one, other } = pair.as()
  const at = one.now
  const leak = (by: SightLeak['by'], path: string, input?: string): SightLeak => ({
    viewer,
    at,
    secret,
    by,
    path,
    input,
  })
  for (const path of differing(leavesOf(one.view(viewer)), leavesOf(other.view(viewer))))
    yield leak('view', path)
  if (viewer !== 'spectator') {
    const actions = one.describe().rules.flatMap((rule) => rule.actions)
    for (const { name, offers } of actions)
      if (offers && text(one.options(viewer, name)) !== text(other.options(viewer, name)))
        yield leak('options', name)
    // What is done next may go by what chance gives, or by what there is: only what is shown before may not.
    if (isOtherMatch) return
    for (const { name, input } of Array.from({ length: PROBES }, () =>
      randomInputOf(chance, actions, one),
    ).filter((each) => each !== undefined)) {
      const copies = pair.as()
      const rulings = [copies.one, copies.other].map((each) => text(each.submit(viewer, name, input)))
      if (rulings[0] !== rulings[1]) yield leak('ruling', name, name)
    }
  }
  if (!isOtherMatch) yield* step(pair, deed, { one, other }, leak, through)
}

/** What the next step tells: first what timers do until its input comes, and then the input. */
function* step(
  { viewer, where }: Pair,
  deed: Deed,
  { one, other }: ReturnType<Pair['as']>,
  leak: (by: SightLeak['by'], path: string, input: string) => SightLeak,
  through: Through,
): Iterable<SightLeak> {
  for (const match of [one, other]) {
    match.open(viewer)
    match.flush({ all: true })
  }
  const seen = one.view(viewer)
  const before = leavesOf(seen)
  const rulings = [one, other].map((each) => deed.does(each))
  // Another ruling is another input of whoever made it: it knows its own secrets.
  if (text(rulings[0]) !== text(rulings[1])) {
    if (deed.seat === viewer) yield leak('ruling', deed.name, deed.name)
    return
  }
  const [a, b] = [leavesOf(one.view(viewer)), leavesOf(other.view(viewer))]
  const [updateA, updateB] = [one, other].map((each) =>
    through(
      each.flush({ all: true }).find((update) => update.viewer === viewer),
      each,
    ),
  )
  if (!leadsTo(seen, updateA?.patch, one.view(viewer))) yield leak('patch', 'patch', deed.name)
  const others = differing(a, b)
  const notices = [updateA, updateB].map((update) => update?.notices ?? [])
  if (others.length === 0 && text(updateA) === text(updateB)) return
  if (isShown(where(one.snapshot()), before, a) || isShown(where(other.snapshot()), before, b)) return
  for (const path of others) yield leak('view', path, deed.name)
  if (text(notices[0]) !== text(notices[1]))
    yield leak('notice', noticePath(notices[0], notices[1]), deed.name)
  else if (others.length === 0) yield leak('patch', 'patch', deed.name)
}

/** Whether a varied cell has come into the view, or its row has: by the sights themselves. */
function isShown(
  paths: readonly string[],
  before: ReadonlyMap<string, string>,
  now: ReadonlyMap<string, string>,
): boolean {
  const [rowsBefore, rowsNow] = [rowsOf(before), rowsOf(now)]
  return paths.some(
    (path) =>
      (!before.has(path) && now.has(path)) || (!rowsBefore.has(rowOf(path)) && rowsNow.has(rowOf(path))),
  )
}

const rowOf = (path: string): string => path.slice(0, path.lastIndexOf('/'))
const rowsOf = (leaves: ReadonlyMap<string, string>): ReadonlySet<string> =>
  new Set([...leaves.keys()].map(rowOf))

/** Whether a patch takes the view that a viewer had to the one it has now, and touches nothing that it never had. */
function leadsTo(seen: object, patch: string | undefined, view: object): boolean {
  try {
    const operations: readonly Operation[] = patch === undefined ? [] : JSON.parse(patch)
    return differing(leavesOf(applyPatch(seen, operations)), leavesOf(view)).length === 0
  } catch {
    return false
  }
}

const text = (value: unknown): string => JSON.stringify(value) ?? ''

function noticePath(
  a: readonly { readonly name: string }[] = [],
  b: readonly { readonly name: string }[] = [],
): string {
  const at = a.findIndex((notice, nth) => text(notice) !== text(b[nth]))
  return (a[at] ?? b.at(-1))?.name ?? ''
}
