import type { Lanes } from '../kit/index.ts'
import type { Audience } from './audience.ts'
import type { Cells } from './cell.ts'
import type { Masks, Policies } from './parts.ts'
import { closureRow } from './row-closures.ts'
import { type RowLayout, rowLayout } from './row-layout.ts'
import type { RowNames } from './row-names.ts'
import { generatedRow } from './row-source.ts'
import type { SightContext } from './sights.ts'
import type { Store } from './store.ts'

/** What the engine asks of a row of any table; the cells themselves are accessors that the compiler adds. */
export interface CompiledRow {
  readonly id: string
  readonly $store: Store
  /** The inner id: a seat for its rows; for those of tables '' until somebody asks for it. */
  $id: string
  /** Never sent: references and the hash use it. */
  readonly $number: number
  /** Where a row with an id that never changes is in a view. */
  $where: string
  $live: boolean
  /** Whether those who may see it have been told of it. */
  $told: boolean
  $listed: boolean
  /** The names by which viewers know a row of a table, now and when they were last told of it. */
  $names: RowNames | undefined
  $toldNames: RowNames | undefined
  /** What it adds to the hash, kept until it is written, for rows of tables: most of them never change again. */
  $lanes: Lanes | undefined
  /** Keeps the indexes of the row's table, while it is in one that has any. */
  $index: RowIndex | undefined
  $restore(code: number, old: unknown): void
  $keep(code: number, old: unknown): void
  /** A cell as handlers read it, and as it is kept. */
  $cell(name: string): unknown
  $kept(name: string): unknown
  /** All values in the order of the cells, null for nothing; and back, told of, for a match that goes on from a snapshot. */
  $save(): unknown[]
  $load(values: readonly unknown[]): void
  $reset(): void
  /** The public id of one of its names, and the path of the row in a view under it. Both are kept: they cost microseconds. */
  $idUnder(name: number): string
  $pathUnder(name: number): string
  /** A facet's members as the inside of a JSON object; and operations, at a path of the row, on its dirty cells or on all, and their removal. */
  $members(facet: number): string
  $edit(facet: number, op: 'add' | 'replace', path: string): string
  $drop(facet: number, path: string): string
  /** Takes all dirty marks off. */
  $clean(): void
  $text(): string
  readonly $shape: RowShape
}
/** A row whose sight depends on itself: by facet, who sees it since the last step, and as the viewers were told. */
export interface PolicyRow extends CompiledRow {
  $touched: boolean
  /** Audiences of the facets, then of the masks. */
  $sights: readonly Audience[]
  /** What the masks show, as JSON texts; and as the viewers were told. */
  $masks: readonly string[]
  $toldMasks: readonly string[]
  $toldSights: readonly Audience[]
}
/** What keeps a table's indexes while its rows change. */
export interface RowIndex {
  moved(row: CompiledRow, cell: string, old: unknown): void
}
/** Cells of the same sight. */
export interface Facet {
  readonly names: readonly string[]
  /** Those of them that name rows: what a viewer gets depends on which rows it sees. */
  readonly references: readonly string[]
  readonly policy: (row: CompiledRow, look: SightContext) => Audience
}
/** What replaces a cell for those who get it and do not see the cell; or is added to the cells, where there is none of its name. */
export interface MaskPlan {
  readonly name: string
  /** The facet of the cell that it stands for; −1 where nobody sees that cell, or there is none. */
  readonly facet: number
  readonly policy: Facet['policy']
  readonly as: (row: CompiledRow, look: SightContext) => unknown
}
export type RowClass = new (store: Store, id: string, number: number, given?: object) => CompiledRow

export interface RowShape extends RowLayout {
  readonly RowOf: RowClass
}

/** What a part says of its rows beside their cells. */
export interface RowPlan {
  /** Where its rows are in a view, such as `/vitals/body`. */
  readonly path: string
  /** Whether there is a row for each key; else there is one. */
  readonly keyed: boolean
  readonly cells: Cells
  /** The bits of the settle handlers that a change here wakes. */
  readonly wakes?: number
  readonly place?: number
  readonly drawn?: boolean
  readonly owner?: string | undefined
  readonly policies?: Policies | undefined
  readonly masks?: Masks | undefined
  readonly indexed?: readonly string[] | undefined
}

/**
 * Makes the class of a part's rows: accessors with undo and dirty marks, and the text of its operations. Once per
 * rulebook, never per match, so that all matches share one shape. Where code may not be generated it is built of
 * closures, with the same behaviour.
 */
export function compileRow(plan: RowPlan, generated: boolean): RowShape {
  const layout = rowLayout(plan)
  const RowOf = generated ? generatedRow(layout) : closureRow(layout)
  const shape: RowShape = { ...layout, RowOf }
  Object.defineProperty(RowOf.prototype, '$shape', { value: shape })
  return shape
}
