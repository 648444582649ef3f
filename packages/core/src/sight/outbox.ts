import type { Seat } from '../cells/index.ts'
import { flat } from '../kit/index.ts'

/** Operations for one viewer alone, and how many of those for everyone come before them. */
interface Own {
  readonly behind: number
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
    const each = { behind: this.shared.length, operations }
    this.own ??= new Map()
    const before = this.own.get(seat)
    if (before === undefined) this.own.set(seat, [each])
    else before.push(each)
  }

  /**
   * Empties the box into a reader: one viewer's operations between these texts, or nothing. Viewers who see the same
   * get the same string. By default they are a JSON Patch (RFC 6902).
   */
  close(before = '[', after = ']'): (viewer: string) => string | undefined {
    const shared = flat(this.shared)
    const whole = shared === '' ? undefined : flat(`${before}${shared.slice(1)}${after}`)
    const { own } = this
    this.shared = ''
    this.own = undefined
    return (viewer) => {
      const more = own?.get(viewer)
      if (more === undefined) return whole
      let text = ''
      let at = 0
      for (const { behind, operations } of more) {
        if (behind > at) text = joined(text, shared.slice(at, behind))
        text = joined(text, operations)
        at = behind
      }
      return `${before}${at < shared.length ? joined(text, shared.slice(at)) : text}${after}`
    }
  }
}

/** The comma before the very first operation falls away. */
const joined = (text: string, operations: string): string =>
  text === '' ? operations.slice(1) : text + operations
