import type { Seat } from '../cells/index.ts'
import { flat } from '../kit/index.ts'

/** Operations for one viewer alone, and how many of those for everyone come before them. */
interface Own {
  readonly after: number
  readonly operations: string
}

/**
 * The operations of one flush. Each is written once for everyone who may see it. A viewer gets its operations in the
 * order in which they were written, whoever else gets some of them, so that their order reveals nothing.
 */
export class Outbox {
  private shared = ''
  private own: Map<Seat, Own[]> | undefined

  everyone(operations: string): void {
    this.shared += operations
  }

  only(seat: Seat, operations: string): void {
    if (operations === '') return
    const each = { after: this.shared.length, operations }
    this.own ??= new Map()
    const before = this.own.get(seat)
    if (before === undefined) this.own.set(seat, [each])
    else before.push(each)
  }

  /**
   * Empties the box into a reader: the JSON Patch (RFC 6902) of one viewer as text, or nothing. Viewers who see the
   * same get the same string.
   */
  close(): (viewer: string) => string | undefined {
    const shared = flat(this.shared)
    const whole = shared === '' ? undefined : flat(`[${shared.slice(1)}]`)
    const { own } = this
    this.shared = ''
    this.own = undefined
    return (viewer) => {
      const more = own?.get(viewer)
      if (more === undefined) return whole
      let text = ''
      let at = 0
      for (const { after, operations } of more) {
        if (after > at) text = joined(text, shared.slice(at, after))
        text = joined(text, operations)
        at = after
      }
      return `[${at < shared.length ? joined(text, shared.slice(at)) : text}]`
    }
  }
}

/** The comma before the very first operation falls away. */
const joined = (text: string, operations: string): string =>
  text === '' ? operations.slice(1) : text + operations
