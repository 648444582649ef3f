import type { AnyMatch } from '../../rulebook/index.ts'
import type { SightLeak } from './asked.ts'
import { leavesOf } from './leaves.ts'
import type { Pair } from './pair.ts'
import { MARK } from './secrets.ts'
import type { Deed } from './sources.ts'

/** How many deeds after the mark was planted are looked through. */
const DEEDS = 10
const marks = new RegExp(`(?<!\\d)${MARK}(?!\\d)`, 'g')
const count = (text: string): number => text.match(marks)?.length ?? 0

/**
 * Looks for a mark that was planted in a secret in all that the viewer is sent while the match goes on: a leak that
 * comes later than the next step. It ends where the sights themselves show the marked cell.
 */
export function* search({ viewer, secret, where, as }: Pair, deeds: readonly Deed[]): Iterable<SightLeak> {
  const { one, other } = as()
  for (const match of [one, other]) match.open(viewer)
  for (const deed of deeds.slice(0, DEEDS)) {
    const at = other.now
    const [usual, sent] = [one, other].map((match) => sentBy(match, deed, viewer))
    if (count(sent ?? '') <= count(usual ?? '')) continue
    const view = leavesOf(other.view(viewer))
    if (where(other.snapshot()).some((path) => view.has(path))) return
    const path = [...view].find(([, value]) => count(value) > 0)?.[0] ?? ''
    yield { viewer, at, secret, by: 'mark', path, input: deed.name }
    return
  }
}

/** What a viewer is sent of a deed: its update, and the ruling if it is the viewer's own. */
function sentBy(match: AnyMatch, deed: Deed, viewer: string): string {
  const ruling = deed.does(match)
  const update = match.flush({ all: true }).find((each) => each.viewer === viewer)
  return JSON.stringify([update?.patch, update?.notices, deed.seat === viewer ? ruling : undefined])
}
