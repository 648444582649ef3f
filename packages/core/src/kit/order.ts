/**
 * Compares two JSON values by their content alone. Numbers compare as numbers, texts by code unit, lists item by
 * item, and objects member by member in the order of their names; a prefix comes first. Between kinds the order is:
 * nothing, booleans, numbers, texts, lists, objects.
 */
export function compareJson(a: unknown, b: unknown): number {
  if (a === b) return 0
  if (typeof a === 'number' && typeof b === 'number') return a - b
  if (typeof a === 'string' && typeof b === 'string') return a < b ? -1 : 1
  const kind = rankOf(a) - rankOf(b)
  if (kind !== 0) return kind
  if (Array.isArray(a)) return compareLists(a, b as readonly unknown[]) // both are of one kind
  return typeof a === 'object' ? compareMembers(Object(a), Object(b)) : a === false ? -1 : 1
}

/** Several JSON values in the order of their content, each once. */
export function sortedJson<T>(values: readonly T[]): T[] {
  const names = commonNames(values)
  const compare =
    names === undefined ? compareJson : (a: T, b: T) => compareNamed(Object(a), Object(b), names)
  const sorted = [...values].sort(compare)
  return sorted.filter((value, at) => at === 0 || compare(sorted[at - 1] as T, value) !== 0)
}

type Members = { readonly [name: string]: unknown }

function compareLists(a: readonly unknown[], b: readonly unknown[]): number {
  const length = Math.min(a.length, b.length)
  for (let at = 0; at < length; at++) {
    const order = compareJson(a[at], b[at])
    if (order !== 0) return order
  }
  return a.length - b.length
}

function compareMembers(a: Members, b: Members): number {
  const flat = (value: Members): unknown[] =>
    Object.keys(value)
      .sort()
      .flatMap((name) => [name, [value[name]]])
  return compareLists(flat(a), flat(b))
}

/** For objects that have exactly these members, so that names need not be compared. */
function compareNamed(a: Members, b: Members, names: readonly string[]): number {
  for (const name of names) {
    const order = compareJson(a[name], b[name])
    if (order !== 0) return order
  }
  return 0
}

/** Returns the member names that all of them share, sorted, or nothing if one is not an object or has others. */
function commonNames(values: readonly unknown[]): readonly string[] | undefined {
  const names = namesIn(values[0])
  if (names === undefined) return undefined
  for (const value of values) {
    const own = namesIn(value)
    if (own?.length !== names.length) return undefined
    for (let at = 0; at < own.length; at++) if (own[at] !== names[at]) return undefined
  }
  return names.sort()
}

const namesIn = (value: unknown): string[] | undefined =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.keys(value) : undefined

const kinds: readonly string[] = ['undefined', 'null', 'boolean', 'number', 'string', 'list', 'object']
const rankOf = (value: unknown): number =>
  kinds.indexOf(value === null ? 'null' : Array.isArray(value) ? 'list' : typeof value)
