/** Returns the same text for the same value, in whatever order its members were written. */
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

/** The JSON text of any value, also of one that is not JSON. */
export function jsonText(value: unknown): string {
  try {
    return JSON.stringify(value) ?? 'null'
  } catch {
    return '"(cannot be written)"'
  }
}
