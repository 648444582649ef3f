import type { RowShape } from '../rows/index.ts'
import type { MergeBox } from './merge-box.ts'
import type { Outbox } from './outbox.ts'

/** Where the operations of one flush go, and the cells of which only the latest counts. */
export interface Boxes {
  readonly patches: Outbox
  readonly merges: MergeBox
}

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
  private removals: Entries | undefined
  private changes: Entries | undefined
  private additions: Entries | undefined
  private merges: Entries | undefined

  /** Keys are ids of rows, or numbers of seats: everyone knows those. */
  remove(key: string | number, text: string, to?: readonly string[]): void {
    this.removals ??= new Entries()
    this.removals.push(key, text, to)
  }

  change(key: string | number, text: string, to?: readonly string[]): void {
    if (text === '') return
    this.changes ??= new Entries()
    this.changes.push(key, text, to)
  }

  add(key: string | number, text: string, to?: readonly string[]): void {
    this.additions ??= new Entries()
    this.additions.push(key, text, to)
  }

  /** Members of a row in a merge patch, which is applied after all others. */
  merge(key: string | number, text: string, to?: readonly string[]): void {
    if (text === '') return
    this.merges ??= new Entries()
    this.merges.push(key, text, to)
  }

  writeTo({ patches, merges }: Boxes, shape: RowShape): void {
    this.removals?.writeTo(patches)
    this.changes?.writeTo(patches)
    this.additions?.writeTo(patches)
    this.merges?.writeTo(merges.part(shape))
  }
}

class Entries {
  private readonly all: Entry[] = []
  private isSorted = true

  push(key: string | number, text: string, to: readonly string[] | undefined): void {
    const { all } = this
    const last = all[all.length - 1]
    if (last !== undefined && last.key > key) this.isSorted = false
    all.push({ key, text, to })
  }

  writeTo(outbox: Outbox): void {
    const { all } = this
    if (!this.isSorted) all.sort(byKey)
    for (let at = 0; at < all.length; at++) {
      const { text, to } = all[at] as Entry
      if (to === undefined) outbox.everyone(text)
      else for (const viewer of to) outbox.only(viewer, text)
    }
  }
}

const byKey = (a: Entry, b: Entry): number => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0)
