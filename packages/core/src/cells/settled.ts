import { RefereeError } from '../kit/index.ts'

const closed = (what: string): never => {
  throw new RefereeError('ZR_STATE_CLOSED_VALUE', { what })
}
const inOrder = (a: unknown, b: unknown): number => {
  if (typeof a === 'number' && typeof b === 'number') return a - b
  return String(a) < String(b) ? -1 : 1
}

/** The stored value of a set cell: frozen, and sorted so that its order does not tell how it was made. */
export class SettledSet<V extends string | number> extends Set<V> {
  constructor(items: Iterable<V>) {
    super()
    for (const item of [...items].sort(inOrder)) super.add(item)
  }
  override add(): never {
    return closed('set')
  }
  override delete(): never {
    return closed('set')
  }
  override clear(): never {
    return closed('set')
  }
}

/** The stored value of a map cell: sorted by key, and frozen. */
export class SettledMap<V> extends Map<string, V> {
  constructor(entries: Iterable<readonly [string, V]>) {
    super()
    for (const [key, value] of [...entries].sort(([a], [b]) => inOrder(a, b))) super.set(key, value)
  }
  override set(): never {
    return closed('map')
  }
  override delete(): never {
    return closed('map')
  }
  override clear(): never {
    return closed('map')
  }
}
