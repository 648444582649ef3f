import type { Fault } from '../engine/index.ts'

/** Faults that are alike: the first of them, and how many there were. */
export interface FaultKind {
  /** The handler that threw, and the input or timer whose step it was, or what was asked. */
  readonly handler: string
  /** The input or timer whose step it was, or what was asked. */
  readonly during: string
  /** Match time of the first, ms. */
  readonly at: number
  /** The error as text. */
  readonly error: string
  /** The stack of the error, as JavaScript gives it. */
  readonly stack?: string
  /** Number of times that it was thrown. */
  readonly times: number
}

/** Collects faults by handler and error. Pass its `add` as `onFault`. */
export class FaultKinds {
  readonly #kinds: Map<string, FaultKind> = new Map()

  readonly add = ({
    handler,
    during,
    at,
    error,
  }: Pick<Fault, 'handler' | 'during' | 'at' | 'error'>): void => {
    const text = String(error)
    const key = `${handler} ${text}`
    const known = this.#kinds.get(key)
    const stack = error instanceof Error ? error.stack : undefined
    const first = known ?? {
      handler,
      during,
      at,
      error: text,
      ...(stack !== undefined && { stack }),
      times: 0,
    }
    this.#kinds.set(key, { ...first, times: first.times + 1 })
  }

  /** In the order in which they first came. */
  all(): readonly FaultKind[] {
    return [...this.#kinds.values()]
  }
}
