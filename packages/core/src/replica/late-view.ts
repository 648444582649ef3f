import type { Notice } from '../sight/index.ts'
import { applyPatch, type Operation } from './patch.ts'

/** What a match gives one of its viewers. */
interface Flushed {
  readonly at: number
  /** JSON Patch (RFC 6902) as text. */
  readonly patch: string
  readonly notices: readonly Notice[]
}

/**
 * What a viewer sees, so many ms late: for spectators who must not help those who play. One for all of them: it keeps the
 * view as it was then and the updates since, and hands each update on unchanged when its time has come.
 *
 * @example
 * ```ts
 * const late = new LateView(match.open('spectator-late'), 30_000)
 * for (const update of match.flush()) if (update.viewer === 'spectator-late') late.hear(update)
 * for (const update of late.due(match.now)) send(update)
 * ```
 */
export class LateView<U extends Flushed> {
  private readonly delay: number
  private view: object
  private notices: readonly Notice[]
  private readonly waiting: U[] = []

  /** The delay in ms; begin it with the match, so that nothing is seen too soon. */
  constructor(opening: { readonly view: string; readonly notices: readonly Notice[] }, delay: number) {
    this.delay = delay
    this.view = JSON.parse(opening.view)
    this.notices = opening.notices
  }

  hear(update: U): void {
    this.waiting.push(update)
  }

  /** Match time (ms) at which the next update is due, or nothing while none waits. */
  get nextDue(): number | undefined {
    const [next] = this.waiting
    return next && next.at + this.delay
  }

  /** The updates whose time has come, oldest first: each is given once, for all who watch. */
  due(now: number): readonly U[] {
    const first = this.waiting.findIndex(({ at }) => at + this.delay > now)
    return this.handOn(first === -1 ? this.waiting.length : first)
  }

  /** All that is left, when the match is closed and nothing in it is secret any more. */
  rest(): readonly U[] {
    return this.handOn(this.waiting.length)
  }

  /** How somebody begins who comes now; `at` lies before 0 for as long as the match has not begun for them. */
  open(now: number): { readonly at: number; readonly view: string; readonly notices: readonly Notice[] } {
    const at = now - this.delay
    return { at, view: JSON.stringify(this.view), notices: this.notices.filter(({ until }) => until > at) }
  }

  private handOn(count: number): readonly U[] {
    const updates = this.waiting.splice(0, count)
    for (const { at, patch, notices } of updates) {
      const operations: readonly Operation[] = JSON.parse(patch)
      this.view = applyPatch(this.view, operations)
      this.notices = [...this.notices.filter(({ until }) => until > at), ...notices]
    }
    return updates
  }
}
