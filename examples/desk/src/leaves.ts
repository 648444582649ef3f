/** The cells of views by their paths, such as `vitals.body.otter.health`. */
export type Leaves = ReadonlyMap<string, unknown>
type Parts = { readonly [rule: string]: { readonly [part: string]: unknown } }

/** How deep cells are: rule, part, row, cell. */
const DEEP = 4
const known: WeakMap<object, Leaves> = new WeakMap()

/** The cells of one rule in a view. */
export function cellsOf(view: object | undefined, rule: string): Leaves {
  const leaves = new Map<string, unknown>()
  for (const [part, within] of Object.entries((view as Parts | undefined)?.[rule] ?? {}))
    for (const [path, value] of partLeaves(within)) leaves.set(`${rule}.${part}${path}`, value)
  return leaves
}

/** The paths of the cells in which two views differ. Parts that are one object do not. */
export function changedIn(before: object | undefined, now: object | undefined): readonly string[] {
  const [was, is] = [(before ?? {}) as Parts, (now ?? {}) as Parts]
  const changed: string[] = []
  for (const rule of new Set([...Object.keys(was), ...Object.keys(is)])) {
    if (was[rule] === is[rule]) continue
    for (const part of new Set([...Object.keys(was[rule] ?? {}), ...Object.keys(is[rule] ?? {})])) {
      const [old, fresh] = [was[rule]?.[part], is[rule]?.[part]]
      if (old === fresh) continue
      const [had, has] = [partLeaves(old), partLeaves(fresh)]
      for (const path of new Set([...had.keys(), ...has.keys()]))
        if (had.get(path) !== has.get(path) && textOf(had.get(path)) !== textOf(has.get(path)))
          changed.push(`${rule}.${part}${path}`)
    }
  }
  return changed
}

export const textOf = (value: unknown): string =>
  value === null || value === undefined ? '–' : (JSON.stringify(value) ?? '')

/** Those of a part. They are kept for as long as the part does not change. */
function partLeaves(part: unknown): Leaves {
  if (part === undefined) return new Map()
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
