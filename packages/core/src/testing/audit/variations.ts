import { type CompiledRow, isOneName } from '../../rows/index.ts'
import type { RulebookDescription } from '../../rulebook/index.ts'
import { seesRow } from '../../sight/index.ts'
import { offeredBy } from './offered-variations.ts'
import { hiddenFrom, rowsOf, type Secret, secretsOf, waysOf } from './secrets.ts'
import { type Change, exchanged } from './twins.ts'
import type { Asker, WaysFor } from './ways.ts'

/** Something that a viewer may not know and that can be otherwise. */
export interface Variation {
  /** 'rule.part.cell', 'rule.part', 'rule.variation' or 'draws'. */
  readonly name: string
  /** The cell that is varied; nothing for other variations. */
  readonly secret?: Secret
  /** The kind of variation: values of rows, which row is which, or future results of chance. */
  readonly kind: 'values' | 'names' | 'draws'
  ways(asker: Asker): WaysFor
}

/** The secret that stands for future results of chance. */
export const DRAWS = 'draws'

/**
 * Returns the variations of a rulebook: each cell that somebody may not see, variations that rules offer, each table
 * with rows that somebody does not see, which row is which, and future results of chance.
 */
export function variationsOf(description: RulebookDescription, also: readonly string[]): Variation[] {
  const secrets = secretsOf(description, also)
  const tables = [...new Set(secrets.filter(({ kind }) => kind === 'table').map(({ part }) => part))]
  return [
    ...secrets.map(
      (secret): Variation => ({
        name: secret.name,
        secret,
        kind: 'values',
        ways({ snapshot, match, viewer, chance }) {
          const hidden = hiddenFrom(match, secret, viewer)
          const { mixed, few } = waysOf(snapshot, secret, hidden, chance)
          // All of them, so that the next one is among them; and a few, which stay hidden for long.
          const ways = { still: [], onward: [...mixed, ...few] }
          if (ways.onward.length > 0) return ways
          if (hidden.length > 0) return { ...ways, lack: 'no-other-value' }
          return { ...ways, lack: rowsOf(match, secret.part).length > 0 ? 'nothing-hidden' : 'no-row' }
        },
      }),
    ),
    ...description.rules.flatMap(({ name: rule, variations = [] }) =>
      variations.map(
        (variation): Variation => ({
          name: `${rule}.${variation}`,
          kind: 'values',
          ways(asker) {
            const onward = offeredBy(rule, variation, asker)
            return onward.length > 0 ? { still: [], onward } : { still: [], onward, lack: 'no-other-value' }
          },
        }),
      ),
    ),
    ...tables.map(
      (part): Variation => ({
        name: part,
        kind: 'names',
        ways: (asker) => ({ still: withoutOne(part, asker), onward: renamed(part, asker) }),
      }),
    ),
    {
      name: DRAWS,
      kind: 'draws',
      ways: ({ snapshot }) => ({ still: [], onward: [{ snapshot, seed: 'another', rows: new Map() }] }),
    },
  ]
}

/** The same match without the last row of a table of which the viewer sees nothing. */
function withoutOne(part: string, { snapshot, match, viewer }: Asker): readonly Change[] {
  const saved = snapshot.parts[part]
  const hidden = rowsOf(match, part).findLast((row) => !seesRow(row, viewer))
  if (saved === undefined || hidden === undefined) return []
  const rows = saved.rows.filter(({ number }) => number !== hidden.$number)
  const parts = { ...snapshot.parts, [part]: { ...saved, rows } }
  return [{ snapshot: { ...snapshot, parts }, rows: new Map() }]
}

/** The same match in which two rows that look alike to the viewer have one another's ids. */
function renamed(part: string, { snapshot, match, viewer }: Asker): readonly Change[] {
  const view = Object(match.match.view(viewer))
  const [rule = '', name = ''] = part.split('.')
  const rows: { readonly [id: string]: unknown } = Object(Object(view[rule])[name])
  const looks = new Map<string, CompiledRow>()
  for (const row of rowsOf(match, part)) {
    if (!seesRow(row, viewer) || !isOneName(row.$names)) continue
    const look = `${row.$names?.rest ?? 0} ${JSON.stringify(rows[row.$idUnder(row.$names?.rest ?? 0)])}`
    const alike = looks.get(look)
    if (alike !== undefined) {
      const ids = exchanged(match.engine.store.ids, row.$shape.tag, alike.$number, row.$number)
      return [{ snapshot, ids, rows: new Map([[part, [alike.$number, row.$number]]]) }]
    }
    looks.set(look, row)
  }
  return []
}
