import type { Notice } from 'zinc-referee/replica'

/** Who hears of changes: of parts of the view, and of notices. */
export class Listeners<V, N extends Notice> {
  private readonly parts: Set<{
    readonly path: string
    readonly handler: (part: never) => void
    last: unknown
  }> = new Set()
  private readonly notices: Set<(notice: N) => void> = new Set()
  /** Ids of notices that were told. */
  private told: ReadonlySet<string> = new Set()
  private wasGuessed = false

  /** Returns what ends it. */
  on(path: string, handler: (part: never) => void, view: V): () => void {
    const entry = { path, handler, last: partAt(view, path) }
    this.parts.add(entry)
    handler(entry.last as never)
    return () => this.parts.delete(entry)
  }

  onNotice(handler: (notice: N) => void): () => void {
    this.notices.add(handler)
    return () => this.notices.delete(handler)
  }

  /**
   * Tells what has changed. `standing`: the notices that are shown now, each with its id. `isGuessed`: a guess makes its
   * parts again for each view, so they are passed on only if they differ.
   */
  changed(view: V, standing: readonly (N & { readonly id: string })[], isGuessed: boolean): void {
    const mayBeSame = isGuessed || this.wasGuessed
    this.wasGuessed = isGuessed
    for (const each of this.parts) {
      const part = partAt(view, each.path)
      if (part === each.last) continue
      const isTold = mayBeSame && isSame(part, each.last)
      each.last = part
      if (!isTold) each.handler(part as never)
    }
    const fresh = standing.filter(({ id }) => !this.told.has(id))
    this.told = new Set(standing.map(({ id }) => id))
    for (const notice of fresh) for (const handler of this.notices) handler(notice)
  }
}

/** Parts that did not change are the same object: the replica shares them. */
const partAt = (view: unknown, path: string): unknown =>
  path.split('.').reduce<unknown>((at, name) => Object(at)[name], view)
const isSame = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other)
