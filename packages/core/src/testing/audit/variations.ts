import type { Chance } from '../../chance/index.ts'
import type { Snapshot } from '../../record/index.ts'
import { idsOf, type OpenMatch, type RulebookDescription } from '../../rulebook/index.ts'
import { seesRow } from '../../sight/index.ts'
import { type CompiledRow, isOneName } from '../../state/index.ts'
import { hiddenFrom, rowsOf, type Secret, secretsOf, waysOf } from './secrets.ts'
import { type Change, exchanged } from './twins.ts'

/** Something that a viewer may not know and that can be otherwise. */
export interface Variation {
  /** 'rule.part.cell', 'rule.part' or 'draws'. */
  readonly name: string
  /** The cell that is varied; nothing for other variations. */
  readonly secret?: Secret
  /** The table of which it is varied which row is which. */
  readonly part?: string
  ways(snapshot: Snapshot, match: OpenMatch, viewer: string, chance: Chance): WaysFor
}

/** Changes whose twins are compared as they are, and those whose twins go on. */
export interface WaysFor {
  readonly still: readonly Change[]
  readonly onward: readonly Change[]
}

/** What chance will give from here on. */
export const DRAWS = 'draws'

/** Every cell that some may not see, every table with rows that some do not see, which row is which, and what chance will give. */
export function variationsOf(description: RulebookDescription, also: readonly string[]): Variation[] {
  const secrets = secretsOf(description, also)
  const tables = [...new Set(secrets.filter(({ kind }) => kind === 'table').map(({ part }) => part))]
  return [
    ...secrets.map(
      (secret): Variation => ({
        name: secret.name,
        secret,
        ways(snapshot, match, viewer, chance) {
          const { mixed, few } = waysOf(snapshot, secret, hiddenFrom(match, secret, viewer), chance)
          // All of them, so that what comes next is among them; and few, which stay hidden for long.
          return { still: [], onward: [...mixed, ...few] }
        },
      }),
    ),
    ...tables.map(
      (part): Variation => ({
        name: part,
        part,
        ways: (snapshot, match, viewer) => ({
          still: withoutOne(snapshot, part, match, viewer),
          onward: renamed(snapshot, part, match, viewer),
        }),
      }),
    ),
    {
      name: DRAWS,
      ways: (snapshot) => ({ still: [], onward: [{ snapshot, seed: 'another', rows: [] }] }),
    },
  ]
}

/** The same match without the last row of a table of which the viewer sees nothing. */
function withoutOne(snapshot: Snapshot, part: string, match: OpenMatch, viewer: string): readonly Change[] {
  const saved = snapshot.parts[part]
  const hidden = rowsOf(match, part).findLast((row) => !seesRow(row, viewer))
  if (saved === undefined || hidden === undefined) return []
  const rows = saved.rows.filter(([number]) => number !== hidden.$number)
  return [{ snapshot: { ...snapshot, parts: { ...snapshot.parts, [part]: { ...saved, rows } } }, rows: [] }]
}

/** The same match in which two rows that look alike to the viewer have one another's ids. */
function renamed(snapshot: Snapshot, part: string, match: OpenMatch, viewer: string): readonly Change[] {
  const view = Object(match.match.view(viewer))
  const [rule = '', name = ''] = part.split('.')
  const rows: { readonly [id: string]: unknown } = Object(Object(view[rule])[name])
  const looks = new Map<string, CompiledRow>()
  for (const row of rowsOf(match, part)) {
    if (!seesRow(row, viewer) || !isOneName(row.$names)) continue
    const look = `${row.$names?.rest ?? 0} ${JSON.stringify(rows[row.$idUnder(row.$names?.rest ?? 0)])}`
    const alike = looks.get(look)
    if (alike !== undefined)
      return [
        {
          snapshot,
          ids: exchanged(idsOf(snapshot), row.$shape.tag, alike.$number, row.$number),
          rows: [alike.$number, row.$number],
        },
      ]
    looks.set(look, row)
  }
  return []
}
