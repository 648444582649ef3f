import { applyPatch, type Operation, operationsOf } from '../replica/index.ts'
import type { AnyMatch, Match } from '../rulebook/index.ts'
import { differing, leavesOf } from './leaves.ts'

/** A place where a viewer's copy differs from its view. */
export interface ViewDifference {
  /** The viewer whose copy it is. */
  readonly viewer: string
  /** Path in the view. */
  readonly path: string
  /** The copy's value as JSON text, or nothing if it has none. */
  readonly copy: string | undefined
  /** The view's value as JSON text, or nothing if it has none. */
  readonly view: string | undefined
}

/** Applies a patch to a view and returns the new view. */
export type ApplyPatch = (view: object, operations: readonly Operation[]) => object

/**
 * Copies of views, kept only from what their viewers are sent, as a client keeps them.
 *
 * @example
 * ```ts
 * const copies = new ViewCopies(match)
 * copies.addViewer('otter')
 * match.report('raft.rammed', { target: 'otter', by: 'heron' })
 * copies.flush()
 * copies.differences() // → []
 * ```
 */
export class ViewCopies {
  readonly #match: AnyMatch
  readonly #apply: ApplyPatch
  readonly #copies: Map<string, object> = new Map()

  /** `apply`: the function that applies patches. Default: `applyPatch` of 'zinc-referee/replica'. */
  constructor(match: AnyMatch | Match, apply: ApplyPatch = applyPatch) {
    this.#match = match as AnyMatch
    this.#apply = apply
  }

  /** Adds viewers to the match, each with a copy of its first view. */
  addViewer(...viewers: readonly string[]): void {
    for (const viewer of viewers)
      this.#copies.set(viewer, JSON.parse(this.#match.addViewer(viewer).view) as object)
  }

  /** Removes a viewer from the match, and its copy. */
  removeViewer(viewer: string): void {
    this.#match.removeViewer(viewer)
    this.#copies.delete(viewer)
  }

  /** Returns what a viewer's copy shows; nothing if it was not added or has lost its seat. */
  of(viewer: string): object | undefined {
    return this.#copies.get(viewer)
  }

  /** Flushes the match and updates the copies. `all`: with cells that may wait. Default: true. Returns the updates. */
  flush({ all = true }: { readonly all?: boolean } = {}): ReturnType<AnyMatch['flush']> {
    const updates = this.#match.flush({ all })
    const views = new Set(this.#match.viewers)
    for (const viewer of this.#copies.keys()) if (!views.has(viewer)) this.#copies.delete(viewer)
    for (const { viewer, patch, latest } of updates) {
      const copy = this.#copies.get(viewer)
      if (copy !== undefined) this.#copies.set(viewer, this.#apply(copy, operationsOf({ patch, latest })))
    }
    return updates
  }

  /** Returns where copies differ from what their viewers may see now. After a flush the list is empty. */
  differences(): readonly ViewDifference[] {
    return [...this.#copies].flatMap(([viewer, kept]) => {
      const [copy, view] = [leavesOf(kept), leavesOf(this.#match.view(viewer))]
      return differing(copy, view).map((path) => ({
        viewer,
        path,
        copy: copy.get(path),
        view: view.get(path),
      }))
    })
  }
}
