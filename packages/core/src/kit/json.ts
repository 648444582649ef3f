/** The same text for the same value, whatever the order in which its members were written. */
export function canonicalJson(value: unknown): string {
  return (
    JSON.stringify(value, (_key, part: unknown) =>
      part !== null && typeof part === 'object' && !Array.isArray(part)
        ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)))
        : part,
    ) ?? 'null'
  )
}

/** Joins texts into one flat string: reading a character makes the engine flatten what it had joined lazily. */
export function flat(text: string): string {
  text.charCodeAt(0)
  return text
}

/** The JSON text of any value, also of one that was handed over and is none. */
export function jsonText(value: unknown): string {
  try {
    return JSON.stringify(value) ?? 'null'
  } catch {
    return '"(cannot be written)"'
  }
}

/**
 * Compares two JSON values, for an order that follows from content alone: numbers as numbers, texts by code unit,
 * lists item by item, objects member by member in the order of their names. Values of different kinds: nothing,
 * booleans, numbers, texts, lists, objects.
 */
export function compareJson(a: unknown, b: unknown): number {
  const kind = rankOf(a)
  if (kind !== rankOf(b)) return kind - rankOf(b)
  if (kind < LISTS) return a === b || kind === 0 ? 0 : (a as string) < (b as string) ? -1 : 1
  const [left, right] = kind === LISTS ? [a as unknown[], b as unknown[]] : [flatEntries(a), flatEntries(b)]
  for (let at = 0; at < Math.min(left.length, right.length); at++) {
    const order = compareJson(left[at], right[at])
    if (order !== 0) return order
  }
  return left.length - right.length
}

const LISTS = 4
function rankOf(value: unknown): number {
  if (value === null || value === undefined) return 0
  if (typeof value === 'boolean') return 1
  if (typeof value === 'number') return 2
  if (typeof value === 'string') return 3
  return Array.isArray(value) ? LISTS : 5
}

const flatEntries = (value: unknown): unknown[] =>
  Object.entries(Object(value))
    .filter(([, member]) => member !== undefined)
    .sort(([x], [y]) => (x < y ? -1 : 1))
    .flat()
