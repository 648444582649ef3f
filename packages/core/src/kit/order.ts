/**
 * Several JSON objects in the order of their content, each once. They compare member by member in the order of their names,
 * numbers as numbers, texts by code unit, lists item by item; a prefix comes first. Between kinds the order is: nothing,
 * booleans, numbers, texts, lists, objects.
 */
export function sortedJson<T extends object>(values: readonly T[]): T[] {
  const names = commonNames(values)
  const compare: (a: T, b: T) => number =
    names === undefined ? compareJson : (a, b) => compareNamed(Object(a), Object(b), names)
  const sorted = [...values].sort(compare)
  return sorted.filter((value, at) => at === 0 || compare(sorted[at - 1] as T, value) !== 0)
}

type Members = { readonly [name: string]: unknown }

function compareJson(a: unknown, b: unknown): number {
  if (a === b) return 0
  if (typeof a === 'number' && typeof b === 'number') return a - b
  if (typeof a === 'string' && typeof b === 'string') return a < b ? -1 : 1
  const kind = rankOf(a) - rankOf(b)
  if (kind !== 0) return kind
  if (Array.isArray(a)) return compareLists(a, b as readonly unknown[]) // both are of one kind
  return typeof a === 'object' ? compareMembers(Object(a), Object(b)) : a === false ? -1 : 1
}

/** Behind the end of a list is nothing, which comes before everything. */
function compareLists(a: readonly unknown[], b: readonly unknown[]): number {
  for (let at = 0; at < a.length || at < b.length; at++) {
    const order = compareJson(a[at], b[at])
    if (order !== 0) return order
  }
  return 0
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

/** Returns the member names that all of them share, sorted, or nothing if one has others. */
function commonNames(values: readonly object[]): readonly string[] | undefined {
  const names = Object.keys(values[0] ?? {})
  for (const value of values) {
    const own = Object.keys(value)
    if (own.length !== names.length || own.some((name, at) => name !== names[at])) return undefined
  }
  return names.sort()
}

const kinds: readonly string[] = ['undefined', 'null', 'boolean', 'number', 'string', 'list', 'object']
const rankOf = (value: unknown): number =>
  kinds.indexOf(value === null ? 'null' : Array.isArray(value) ? 'list' : typeof value)
