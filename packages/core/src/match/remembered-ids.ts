import type { Seat } from '../state/index.ts'
import type { Ruling } from './ruling.ts'

const REMEMBERED = 8
export interface Decided {
  readonly id: string | number
  readonly payload: string
  readonly ruling: Ruling
}

/** The last action ids of each seat, so that a message sent twice is decided once and answered twice. */
export class RememberedIds {
  private readonly bySeat: Map<Seat, Decided[]> = new Map()

  find(seat: Seat, id: string | number): Decided | undefined {
    return this.bySeat.get(seat)?.find((decided) => String(decided.id) === String(id))
  }

  keep(seat: Seat, decided: Decided): void {
    const kept = this.bySeat.get(seat) ?? []
    kept.push(decided)
    if (kept.length > REMEMBERED) kept.shift()
    this.bySeat.set(seat, kept)
  }

  save(): [Seat, readonly Decided[]][] {
    return [...this.bySeat]
  }

  load(saved: readonly (readonly [Seat, readonly Decided[]])[]): void {
    for (const [seat, decided] of saved) this.bySeat.set(seat, [...decided])
  }
}
