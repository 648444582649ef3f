import type { Ruling } from '../rule/index.ts'

/** So many rulings of a client that counts its actions, and of one that names them otherwise. */
const COUNTED = 32
const NAMED = 64

export interface Decided {
  readonly id: string | number
  readonly payload: string
  readonly ruling: Ruling
}

/** The remembered action ids of one player. */
interface Memory {
  /** The highest number that was decided. A lower number that is not remembered is too old to be told from a new one. */
  highest: number
  readonly counted: Map<number, Decided>
  readonly named: Map<string, Decided>
}
export interface SavedIds {
  readonly player: number
  readonly highest: number
  readonly decided: readonly Decided[]
}

/** True if an id is one that a counting client would give. */
const isCount = (id: string | number): id is number =>
  typeof id === 'number' && Number.isSafeInteger(id) && id >= 0

/**
 * The last action ids of each seat, so that a message that arrives twice is decided once and answered twice. They are
 * kept by player: the next player in the seat has sent none of them.
 */
export class RememberedIds {
  private readonly byPlayer: Map<number, Memory> = new Map()

  /** Returns how an id was decided, or 'stale' if its number is older than those remembered. */
  find(player: number, id: string | number): Decided | 'stale' | undefined {
    const memory = this.byPlayer.get(player)
    if (!isCount(id)) return memory?.named.get(String(id))
    const decided = memory?.counted.get(id)
    return decided === undefined && memory !== undefined && id <= memory.highest ? 'stale' : decided
  }

  keep(player: number, decided: Decided): void {
    const memory = this.byPlayer.get(player) ?? { highest: -1, counted: new Map(), named: new Map() }
    this.byPlayer.set(player, memory)
    if (isCount(decided.id)) {
      memory.highest = decided.id
      remember(memory.counted, decided.id, decided, COUNTED)
    } else remember(memory.named, String(decided.id), decided, NAMED)
  }

  save(): SavedIds[] {
    return [...this.byPlayer].map(([player, { highest, counted, named }]) => ({
      player,
      highest,
      decided: [...counted.values(), ...named.values()],
    }))
  }

  load(saved: readonly SavedIds[]): void {
    for (const { player, highest, decided } of saved) {
      for (const each of decided) this.keep(player, each)
      const memory = this.byPlayer.get(player)
      if (memory !== undefined) memory.highest = highest
    }
  }
}

/** The oldest is forgotten where there are too many. */
function remember<K>(among: Map<K, Decided>, id: K, decided: Decided, most: number): void {
  among.set(id, decided)
  if (among.size <= most) return
  const [oldest] = among.keys()
  if (oldest !== undefined) among.delete(oldest)
}
