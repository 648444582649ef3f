/** Returns the same text for the same value, in whatever order its members were written. */
export function canonicalJson(value: unknown): string {
  return textOf(value) ?? 'null'
}

/** Nothing for what JSON leaves out. */
function textOf(value: unknown): string | undefined {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value)
  if ('toJSON' in value && typeof value.toJSON === 'function') return textOf(value.toJSON())
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`
  const members: string[] = []
  for (const name of Object.keys(value).sort()) {
    const text = textOf(value[name as never])
    if (text !== undefined) members.push(`${JSON.stringify(name)}:${text}`)
  }
  return `{${members.join(',')}}`
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
