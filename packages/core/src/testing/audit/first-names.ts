import type { Operation } from '../../replica/index.ts'

const text = (value: unknown): string => JSON.stringify(value) ?? ''

/** What a viewer is sent in one step. */
export interface Sent {
  readonly patch: readonly Operation[]
  readonly notices: readonly { readonly name: string; readonly cells: object }[]
}

/**
 * The names of rows in one of two matches by those in the other. Rows that come into sight in both with the same contents
 * are the same to a viewer, whichever they are: it has not known either by a name before.
 */
export class FirstNames {
  private readonly known: Map<string, string> = new Map()

  /** True if both are the same except for the names of rows that first appear in them. */
  areSame(one: Sent, other: Sent): boolean {
    this.pair(one.patch, other.patch)
    return (
      linesOf(one.patch) === this.renamed(linesOf(other.patch)) &&
      linesOf(one.notices) === this.renamed(linesOf(other.notices))
    )
  }

  /** Rows that were added with the same contents, each with one that has the same. */
  private pair(one: readonly Operation[], other: readonly Operation[]): void {
    const waiting = new Map<string, string[]>()
    for (const { key, id } of rowsAdded(one)) waiting.set(key, [...(waiting.get(key) ?? []), id])
    const added = rowsAdded(other)
    // A row with the same name in both matches keeps it.
    for (const { key, id } of added) {
      const ids = waiting.get(key)
      if (ids?.includes(id)) ids.splice(ids.indexOf(id), 1)
    }
    for (const { key, id } of added) {
      if (rowsAdded(one).some((row) => row.id === id && row.key === key)) continue
      const name = waiting.get(key)?.shift()
      if (name !== undefined) this.known.set(id, name)
    }
  }

  /** Returns the lines with the first match's names. Lists that are sorted by names may be in another order. */
  private renamed(lines: string): string {
    if (this.known.size === 0) return lines
    let renamed = lines
    for (const [id, name] of this.known) renamed = renamed.replaceAll(id, `\u0001${name}`)
    return renamed.replaceAll('\u0001', '').split('\n').sort().join('\n')
  }
}

const linesOf = (items: readonly object[]): string => items.map(text).sort().join('\n')

/** Rows of tables that a patch adds whole: where they are and what they hold, and their names. */
const rowsAdded = (patch: readonly Operation[]): readonly { readonly key: string; readonly id: string }[] =>
  patch.flatMap(({ op, path, value }: Operation & { readonly value?: unknown }) => {
    const [, rule, part, id, cell] = path.split('/')
    return op === 'add' && id !== undefined && cell === undefined
      ? [{ key: `/${rule}/${part} ${text(value)}`, id }]
      : []
  })
