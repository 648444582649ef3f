import type { Ruling } from './ruling.ts'

const REMEMBERED = 8
export interface Decided {
  readonly id: string | number
  readonly payload: string
  readonly ruling: Ruling
}

/**
 * The last action ids of each seat, so that a message sent twice is decided once and answered twice. They are kept by
 * player: whoever has the seat later has sent none of them.
 */
export class RememberedIds {
  private readonly byPlayer: Map<number, Decided[]> = new Map()

  find(player: number, id: string | number): Decided | undefined {
    return this.byPlayer.get(player)?.find((decided) => String(decided.id) === String(id))
  }

  keep(player: number, decided: Decided): void {
    const kept = this.byPlayer.get(player) ?? []
    kept.push(decided)
    if (kept.length > REMEMBERED) kept.shift()
    this.byPlayer.set(player, kept)
  }

  save(): [number, readonly Decided[]][] {
    return [...this.byPlayer]
  }

  load(saved: readonly (readonly [number, readonly Decided[]])[]): void {
    for (const [player, decided] of saved) this.byPlayer.set(player, [...decided])
  }
}
