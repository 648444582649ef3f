/** A change that the page shows before the venue has decided. */
interface Guess<V> {
  readonly id: string
  readonly change: (view: V) => V
}

/** The guesses that are shown, in the order in which they were made. */
export class Guesses<V> {
  private all: readonly Guess<V>[] = []
  private before: V | undefined
  private shown: V | undefined

  /** How many are shown. */
  get size(): number {
    return this.all.length
  }

  add(id: string, change: (view: V) => V): void {
    this.all = [...this.all, { id, change }]
    this.before = undefined
  }

  /** Takes a guess back. */
  drop(id: string | number | undefined): void {
    this.all = this.all.filter((each) => each.id !== id)
    this.before = undefined
  }

  /** Returns a view with all guesses. A guess that throws, since the view is another one now, is left out. */
  on(view: V): V {
    if (this.all.length === 0) return view
    if (this.before !== view || this.shown === undefined) {
      this.shown = this.all.reduce((now, { change }) => attempt(change, now), view)
      this.before = view
    }
    return this.shown
  }
}

function attempt<V>(change: (view: V) => V, view: V): V {
  try {
    return change(view)
  } catch {
    return view
  }
}
