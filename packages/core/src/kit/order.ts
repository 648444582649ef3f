type Scalar = undefined | null | boolean | number | string
/** A JSON value as one list of scalars, so that it is quick to compare. */
export type SortKey = readonly Scalar[]

/**
 * What a JSON value is sorted by: its content alone. Numbers compare as numbers, texts by code unit, lists item by item
 * and objects member by member in the order of their names. Of different kinds, nothing comes first, then booleans,
 * numbers and texts.
 */
export function sortKey(value: unknown): SortKey {
  const key: Scalar[] = []
  push(key, value)
  return key
}

export function compareKeys(a: SortKey, b: SortKey): number {
  const length = Math.min(a.length, b.length)
  for (let at = 0; at < length; at++) {
    const [x, y] = [a[at], b[at]]
    if (x === y) continue
    if (typeof x === 'number' && typeof y === 'number') return x - y
    const kind = rankOf(x) - rankOf(y)
    if (kind !== 0) return kind
    return (x as string) < (y as string) ? -1 : 1 // both are of one kind
  }
  return a.length - b.length
}

/** Several JSON values in the order of their content, each once. */
export function sortedJson<T>(values: readonly T[]): T[] {
  const keyed = values.map((value) => ({ value, key: sortKey(value) }))
  keyed.sort((a, b) => compareKeys(a.key, b.key))
  return keyed.flatMap(({ value, key }, at) => {
    const before = keyed[at - 1]?.key
    return before !== undefined && compareKeys(before, key) === 0 ? [] : [value]
  })
}

function push(key: Scalar[], value: unknown): void {
  if (typeof value !== 'object' || value === null) {
    key.push(value as Scalar)
    return
  }
  if (Array.isArray(value)) for (const item of value) push(key, item)
  else
    for (const name of namesOf(value)) {
      key.push(name)
      push(key, (value as Record<string, unknown>)[name])
    }
  key.push(undefined) // its end: a list that goes on comes later
}

function namesOf(value: object): string[] {
  const names = Object.keys(value)
  for (let at = 1; at < names.length; at++)
    if ((names[at] as string) < (names[at - 1] as string)) return names.sort()
  return names
}

const ranks: readonly string[] = ['undefined', 'object', 'boolean', 'number', 'string']
const rankOf = (scalar: Scalar): number => ranks.indexOf(typeof scalar)
