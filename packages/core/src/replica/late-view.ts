import type { Notice } from '../sight/index.ts'
import { operationsOf } from './latest.ts'
import { applyPatch } from './patch.ts'

/** The parts of an update that a late view reads. */
interface Flushed {
  readonly at: number
  /** JSON Patch (RFC 6902) as text. */
  readonly patch: string
  /** JSON Merge Patch (RFC 7396) as text. */
  readonly latest?: string
  readonly notices: readonly Notice[]
}

/**
 * What a viewer sees, with a delay: for spectators who must not help players. One serves all of them: it keeps the
 * view as it was and the updates since, and passes on each update unchanged when its time has come.
 *
 * @example
 * ```ts
 * const late = new LateView(match.addViewer('spectator-late'), 30_000)
 * for (const update of match.flush()) if (update.viewer === 'spectator-late') late.receive(update)
 * for (const update of late.due(match.now)) send(update)
 * ```
 */
export class LateView<U extends Flushed> {
  private readonly delay: number
  private view: object
  private notices: readonly Notice[]
  private readonly waiting: (U | Flushed)[] = []

  /**
   * The delay is in ms. What the match began with is shown at once. A view from later on, such as that of a restored
   * match, waits for its time like any update: until then there is nothing to see.
   */
  constructor({ at, view, notices }: Omit<Flushed, 'patch'> & { readonly view: string }, delay: number) {
    this.delay = delay
    this.view = at === 0 ? JSON.parse(view) : {}
    this.notices = at === 0 ? notices : []
    if (at > 0) this.waiting.push({ at, patch: additionsOf(view), notices })
  }

  /** Takes an update, to be shown when its time has come. */
  receive(update: U): void {
    this.waiting.push(update)
  }

  /** Match time (ms) at which the next update is due, or nothing while none waits. */
  get nextDue(): number | undefined {
    const [next] = this.waiting
    return next && next.at + this.delay
  }

  /** Returns the updates whose time has come, oldest first: each once, for all who watch. */
  due(now: number): readonly (U | Flushed)[] {
    const first = this.waiting.findIndex(({ at }) => at + this.delay > now)
    return this.handOn(first === -1 ? this.waiting.length : first)
  }

  /** Returns all that is left, once the match is closed and nothing in it is secret any more. */
  rest(): readonly (U | Flushed)[] {
    return this.handOn(this.waiting.length)
  }

  /** Returns the view for somebody who joins now. `at` is below 0 while the match has not begun for them. */
  open(now: number): { readonly at: number; readonly view: string; readonly notices: readonly Notice[] } {
    const at = now - this.delay
    return { at, view: JSON.stringify(this.view), notices: this.notices.filter(({ until }) => until > at) }
  }

  private handOn(count: number): readonly (U | Flushed)[] {
    const updates = this.waiting.splice(0, count)
    for (const { at, patch, latest, notices } of updates) {
      this.view = applyPatch(this.view, operationsOf({ patch, latest }))
      this.notices = [...this.notices.filter(({ until }) => until > at), ...notices]
    }
    return updates
  }
}

/** A whole view as a patch on nothing. */
const additionsOf = (view: string): string =>
  JSON.stringify(
    Object.entries(JSON.parse(view)).map(([name, value]) => ({ op: 'add', path: `/${name}`, value })),
  )
