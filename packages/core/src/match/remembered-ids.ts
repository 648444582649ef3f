import type { Ruling } from './ruling.ts'

const REMEMBERED = 8
export interface Decided {
  readonly id: string | number
  readonly payload: string
  readonly ruling: Ruling
}

/**
 * The last action ids of each seat, so that a message sent twice is decided once and answered twice. They are kept by
 * the number of the seat: whoever gets its id later has sent none of them.
 */
export class RememberedIds {
  private readonly bySeat: Map<number, Decided[]> = new Map()

  find(seat: number, id: string | number): Decided | undefined {
    return this.bySeat.get(seat)?.find((decided) => String(decided.id) === String(id))
  }

  keep(seat: number, decided: Decided): void {
    const kept = this.bySeat.get(seat) ?? []
    kept.push(decided)
    if (kept.length > REMEMBERED) kept.shift()
    this.bySeat.set(seat, kept)
  }

  save(): [number, readonly Decided[]][] {
    return [...this.bySeat]
  }

  load(saved: readonly (readonly [number, readonly Decided[]])[]): void {
    for (const [seat, decided] of saved) this.bySeat.set(seat, [...decided])
  }
}
