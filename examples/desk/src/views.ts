import type { AnyView } from 'zinc-referee'
import { applyPatch } from 'zinc-referee/replica'
import type { Track } from 'zinc-referee/testing'

/** A whole view is kept at every so many changes: to go back takes that many at most. */
const KEPT_EVERY = 250

/** What one viewer saw, at any position. Parts that did not change are the same objects. */
export class SeenBy {
  readonly viewer: string
  private readonly track: Track
  /** Views after every so many changes, from none on; as far as somebody has looked. */
  private readonly kept: AnyView[] = []
  private last: { readonly count: number; readonly view: AnyView } | undefined

  constructor(track: Track) {
    this.viewer = track.viewer
    this.track = track
    if (track.view !== undefined) this.kept.push(track.view)
  }

  /** The view at a position; nothing before it came, and after its seat was given up. */
  at(position: number): AnyView | undefined {
    const { from, until = Number.POSITIVE_INFINITY, changes } = this.track
    const [first] = this.kept
    if (first === undefined || position < from || position > until) return undefined
    const count = countUpTo(changes, position)
    let near = Math.min(Math.floor(count / KEPT_EVERY), this.kept.length - 1)
    let view = this.kept[near] ?? first
    let done = near * KEPT_EVERY
    if (this.last !== undefined && this.last.count <= count && this.last.count > done) {
      view = this.last.view
      done = this.last.count
      near = Math.floor(done / KEPT_EVERY)
    }
    while (done < count) {
      view = applyPatch(view, changes[done]?.[1] ?? [])
      done++
      if (done % KEPT_EVERY === 0) this.kept[done / KEPT_EVERY] ??= view
    }
    this.last = { count, view }
    return view
  }
}

/** How many changes there are up to a position. */
function countUpTo(changes: Track['changes'], position: number): number {
  let [from, to] = [0, changes.length]
  while (from < to) {
    const middle = (from + to) >> 1
    if ((changes[middle]?.[0] ?? 0) <= position) from = middle + 1
    else to = middle
  }
  return from
}
