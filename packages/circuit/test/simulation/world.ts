import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus'
import type { HostClock } from 'zinc-referee/host'

/** Draws: the same from the same seed. */
export function dice(seed: number) {
  const generator = xoroshiro128plus(seed)
  const next = (): number => (generator.next() >>> 0) / 2 ** 32
  return {
    /** A number from `from` up to and without `to`. */
    between: (from: number, to: number): number => from + next() * (to - from),
    chance: (share: number): boolean => next() < share,
    pick: <T>(all: readonly T[]): T => all[Math.floor(next() * all.length)] as T,
  }
}
export type Dice = ReturnType<typeof dice>

interface Due {
  readonly at: number
  readonly order: number
  readonly act: () => void
  isOff: boolean
}

/** Virtual time: what is due is done in its order, and between two things every promise goes as far as it can. */
export class World {
  now = 0
  private readonly heap: Due[] = []
  private order = 0

  after(ms: number, act: () => void): () => void {
    const due = { at: this.now + Math.max(0, ms), order: this.order++, act, isOff: false }
    this.push(due)
    return () => {
      due.isOff = true
    }
  }

  async run(until: number, isDone: () => boolean = () => false): Promise<void> {
    for (let due = this.heap[0]; due !== undefined && due.at <= until && !isDone(); due = this.heap[0]) {
      this.pop()
      if (due.isOff) continue
      this.now = due.at
      due.act()
      await new Promise(setImmediate)
    }
    if (!isDone()) this.now = Math.max(this.now, until)
  }

  private push(due: Due): void {
    const { heap } = this
    let at = heap.push(due) - 1
    while (at > 0) {
      const up = (at - 1) >> 1
      if (isBefore(heap[up] as Due, due)) break
      heap[at] = heap[up] as Due
      at = up
    }
    heap[at] = due
  }

  private pop(): void {
    const { heap } = this
    const last = heap.pop() as Due
    if (heap.length === 0) return
    let at = 0
    for (;;) {
      let down = 2 * at + 1
      if (down >= heap.length) break
      if (down + 1 < heap.length && isBefore(heap[down + 1] as Due, heap[down] as Due)) down++
      if (isBefore(last, heap[down] as Due)) break
      heap[at] = heap[down] as Due
      at = down
    }
    heap[at] = last
  }
}
const isBefore = (a: Due, b: Due): boolean => a.at < b.at || (a.at === b.at && a.order < b.order)

/** A machine: what it does waits while it is frozen, and is never done once it is gone. Its clock may be slow. */
export class Machine {
  isGone = false
  /** It cannot be reached, and reaches nobody. */
  isCutOff = false
  private isFrozen = false
  private held: (() => void)[] = []
  private readonly world: World
  private readonly rate: number

  /** `rate`: by how much its clock goes slower than time. */
  constructor(world: World, rate: number) {
    this.world = world
    this.rate = rate
  }

  /** Does something on it, now or when it thaws. */
  do(act: () => void): void {
    if (this.isGone) return
    if (this.isFrozen) this.held.push(act)
    else act()
  }

  freeze(): void {
    this.isFrozen = true
  }

  thaw(): void {
    this.isFrozen = false
    const { held } = this
    this.held = []
    for (const act of held) this.world.after(0, () => this.do(act))
  }

  /** Its clock goes on while it is frozen: then everything is due at once. */
  readonly clock: HostClock = {
    now: () => this.world.now * this.rate,
    wakeAfter: (ms, wake) => {
      let isOff = false
      const off = this.world.after(ms / this.rate, () => this.do(() => isOff || wake()))
      return () => {
        isOff = true
        off()
      }
    },
  }
}
