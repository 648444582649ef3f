import { canonicalJson } from '../kit/index.ts'

/** Each cell of a view by its path, as JSON text. */
export function leavesOf(view: object): ReadonlyMap<string, string> {
  const leaves = new Map<string, string>()
  walk(view, '', 0)
  return leaves

  function walk(value: unknown, path: string, depth: number): void {
    if (depth < 4 && typeof value === 'object' && value !== null && !Array.isArray(value))
      for (const [key, inner] of Object.entries(value)) walk(inner, `${path}/${key}`, depth + 1)
    else leaves.set(path, canonicalJson(value))
  }
}

/** The paths at which two views differ. */
export function differing(a: ReadonlyMap<string, string>, b: ReadonlyMap<string, string>): string[] {
  const paths = [...new Set([...a.keys(), ...b.keys()])]
  return paths.filter((path) => a.get(path) !== b.get(path))
}
