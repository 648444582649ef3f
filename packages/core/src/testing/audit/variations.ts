import type { Chance } from '../../chance/index.ts'
import type { Snapshot } from '../../record/index.ts'
import type { RulebookDescription } from '../../rulebook/index.ts'
import { type CellPath, marked, secretsOf, type Varied, varied } from './secrets.ts'

/** What each viewer sees of a match as it stands: its cells by path. */
export type Eyes = ReadonlyMap<string, ReadonlyMap<CellPath, string>>

/** Something that a viewer may not know and that can be otherwise. */
export interface Variation {
  readonly name: string
  /**
   * Whose view must have the same cells in both matches, or there is nothing to compare: values that decide who sees a
   * row would show or hide others. Nobody's where the viewer's may not change at all.
   */
  readonly asks: 'everyone' | 'viewer' | 'nobody'
  ways(snapshot: Snapshot, seen: ReadonlyMap<CellPath, string>, chance: Chance): readonly Varied[]
}

/** What chance will give from here on. */
export const DRAWS = 'draws'

/** The same secrets with marks in them, where a mark fits. */
export const marksOf = (description: RulebookDescription, also: readonly string[]): Variation[] =>
  secretsOf(description, also).map((secret) => ({
    name: secret.name,
    asks: secret.kind === 'table' ? 'everyone' : 'viewer',
    ways: (snapshot, seen) => marked(snapshot, secret, seen),
  }))

/** Every cell that some may not see, every table with rows that some do not see, and what chance will give. */
export function variationsOf(description: RulebookDescription, also: readonly string[]): Variation[] {
  const secrets = secretsOf(description, also)
  const tables = new Set(secrets.filter(({ kind }) => kind === 'table').map(({ part }) => part))
  return [
    ...secrets.map(
      (secret): Variation => ({
        name: secret.name,
        asks: secret.kind === 'table' ? 'everyone' : 'viewer',
        ways: (snapshot, seen, chance) => varied(snapshot, secret, seen, chance),
      }),
    ),
    ...[...tables].map(
      (part): Variation => ({
        name: part,
        asks: 'nobody',
        ways: (snapshot, seen) => withoutOne(snapshot, part, seen),
      }),
    ),
    {
      name: DRAWS,
      asks: 'nobody',
      ways: (snapshot) => [{ snapshot: { ...snapshot, seed: 'another' }, where: () => [] }],
    },
  ]
}

/** The same match without the last row of a table of which the viewer sees nothing. */
function withoutOne(
  snapshot: Snapshot,
  part: string,
  seen: ReadonlyMap<CellPath, string>,
): readonly Varied[] {
  const saved = snapshot.parts[part]
  const path = `/${part.replace('.', '/')}/`
  const shown = new Set(
    [...seen.keys()]
      .filter((cell) => cell.startsWith(path))
      .map((cell) => cell.slice(path.length).split('/')[0]),
  )
  const hidden = saved?.rows.findLast(([, id]) => !shown.has(id))
  if (saved === undefined || hidden === undefined) return []
  const rows = saved.rows.filter((row) => row !== hidden)
  return [
    { snapshot: { ...snapshot, parts: { ...snapshot.parts, [part]: { ...saved, rows } } }, where: () => [] },
  ]
}
