/** A cell of a view: where it is, and what it holds. */
export type Leaves = ReadonlyMap<string, unknown>

/** How deep cells are: rule, part, row, cell. */
const DEEP = 4
const known: WeakMap<object, Leaves> = new WeakMap()

/** The cells of a view by their paths, such as `vitals.body.otter.health`. Of parts that did not change they are known. */
export function leavesOf(view: object | undefined): Leaves {
  const leaves = new Map<string, unknown>()
  for (const [rule, parts] of Object.entries(view ?? {}))
    for (const [part, within] of Object.entries(Object(parts)))
      for (const [path, value] of partLeaves(within)) leaves.set(`${rule}.${part}${path}`, value)
  return leaves
}

function partLeaves(part: unknown): Leaves {
  if (typeof part !== 'object' || part === null) return new Map([['', part]])
  const before = known.get(part)
  if (before !== undefined) return before
  const leaves = new Map<string, unknown>()
  walk(part, '', 2, leaves)
  known.set(part, leaves)
  return leaves
}

function walk(value: unknown, path: string, depth: number, leaves: Map<string, unknown>): void {
  if (depth < DEEP && typeof value === 'object' && value !== null && !Array.isArray(value))
    for (const [key, inner] of Object.entries(value)) walk(inner, `${path}.${key}`, depth + 1, leaves)
  else leaves.set(path, value)
}
