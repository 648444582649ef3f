import { flat } from '../kit/index.ts'
import type { Seat } from '../state/index.ts'

/** The operations of one flush, each written once for all who may see it. */
export class Outbox {
  private shared = ''
  private readonly own: Map<Seat, string> = new Map()

  everyone(operations: string): void {
    this.shared += operations
  }

  only(seat: Seat, operations: string): void {
    if (operations !== '') this.own.set(seat, (this.own.get(seat) ?? '') + operations)
  }

  /**
   * Empties the box into a reader: the JSON Patch (RFC 6902) of one viewer as text, or nothing. Viewers who see the
   * same get the same string.
   */
  close(): (viewer: string) => string | undefined {
    const shared = flat(this.shared)
    const whole = shared === '' ? undefined : flat(`[${shared.slice(1)}]`)
    const own = new Map(this.own)
    this.shared = ''
    this.own.clear()
    return (viewer) => {
      const more = own.get(viewer)
      return more === undefined ? whole : flat(`[${(shared + more).slice(1)}]`)
    }
  }
}
