import type { Outbox } from './outbox.ts'

/** Operations on one row, and who is sent them; everyone where nobody is named. */
interface Entry {
  readonly key: string | number
  readonly text: string
  readonly to: readonly string[] | undefined
}

/**
 * The operations of one flush on the rows of one part: first removals, then changes, then additions, each by the ids
 * that viewers know. So their order says nothing about the order of work, or about rows that were renamed.
 */
export class PartPatch {
  private readonly removals: Entry[] = []
  private readonly changes: Entry[] = []
  private readonly additions: Entry[] = []

  /** Keys are ids of rows, or numbers of seats: everyone knows those. */
  remove(key: string | number, text: string, to?: readonly string[]): void {
    this.removals.push({ key, text, to })
  }

  change(key: string | number, text: string, to?: readonly string[]): void {
    if (text !== '') this.changes.push({ key, text, to })
  }

  add(key: string | number, text: string, to?: readonly string[]): void {
    this.additions.push({ key, text, to })
  }

  writeTo(outbox: Outbox): void {
    for (const entries of [this.removals, this.changes, this.additions]) {
      if (entries.length > 1) entries.sort(byKey)
      for (const { text, to } of entries)
        if (to === undefined) outbox.everyone(text)
        else for (const viewer of to) outbox.only(viewer, text)
    }
  }
}

const byKey = (a: Entry, b: Entry): number => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0)
