import type {
  AnyCell,
  Audience,
  CellForm,
  Cells,
  Gone,
  Masks,
  Policies,
  Seat,
  SightContext,
} from '../cells/index.ts'
import type { Lanes, RefereeError } from '../kit/index.ts'
import type { UndoLog } from './undo.ts'

// What a row, its layout and its store are to each other. The functions are in the files beside.

/** What the engine asks of a row of any table; the cells themselves are accessors that the compiler adds. */
export interface CompiledRow {
  readonly id: string
  readonly $store: RowStore
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
/** Makes the text of a row's id, the same whenever it is asked for. */
export interface IdMaker {
  text(table: number, row: number, name: number): string
}
/**
 * Which of a row's names each viewer knows it by. Names are numbered from 0, and a name's public id is a keyed function
 * of table, row and name. It depends on nothing but who could see the row before and after each step.
 */
export interface RowNames {
  /** What a viewer gets that comes to see the row. It grows when anybody loses sight of it, and is never taken back. */
  readonly next: number
  /** What spectators know it by, and every seat without an entry of its own. */
  readonly rest: number
  /** Seats that have kept sight of the row since it had an older name. */
  readonly seats: ReadonlyMap<Seat, number>
}
/** A cell that names rows of a table, at any depth: it keeps their numbers, and is read and written by their inner ids. */
export interface RowReference {
  /** Such as `market.crates`. */
  readonly table: string
  /** True for a bare reference or a maybe, whose rows an index can find. */
  readonly single: boolean
  /** What becomes of the cell when a row that it names is removed. */
  readonly gone: Gone
  /** How the numbers are kept, saved and written as text. */
  readonly form: CellForm
  /** Ids as handlers read them, from what is kept. A row that has gone is left out. */
  read(store: RowStore, kept: unknown): unknown
  /** What is kept, from ids. Returns nothing if one of them names no row. */
  write(store: RowStore, ids: unknown): unknown
  /** True if the row of this number is named. */
  names(kept: unknown, number: number): boolean
  /** The JSON text for somebody who knows rows by these ids, and does not see those without one. */
  text(kept: unknown, idOf: (number: number) => string | undefined): string
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
/** A cell in its place in a row. */
export interface PlacedCell {
  readonly name: string
  readonly cell: AnyCell
  readonly form: CellForm
  /** Its number, and its dirty mark: a bit of the word of that number. */
  readonly at: number
  readonly word: number
  readonly bit: number
  /** Whether somebody may see it, so that it is marked. */
  readonly seen: boolean
  readonly indexed: boolean
  readonly reference: RowReference | undefined
  /** Sent at most once in this many ms; nothing where each change is sent. */
  readonly every: number | undefined
}
/** How the rows of a part are laid out, for either way of making their class. */
export interface RowLayout {
  readonly path: string
  readonly keyed: boolean
  readonly cells: Cells
  readonly each: readonly PlacedCell[]
  /** How many words of dirty marks there are. */
  readonly words: number
  readonly facets: readonly Facet[]
  readonly masks: readonly MaskPlan[]
  /** Whether anybody may see anything of its rows. */
  readonly isSeen: boolean
  /** The facets of plain parts, where who sees a cell does not depend on the row; −1 where there is none. */
  readonly everyone: number
  readonly owned: number
  /** Whether who sees a row depends on it. */
  readonly byRow: boolean
  readonly wakes: number
  /** The place of the part among all parts of a rulebook. */
  readonly place: number
  /** True for a table, whose rows get ids that are made, not given. */
  readonly drawn: boolean
  /** Tells its rows' ids apart from those of other tables. */
  readonly tag: number
  readonly indexed: readonly string[]
  /** What a part of the state begins with. */
  readonly firsts: { readonly [cell: string]: unknown }
  /** Ends the step: the value does not fit the cell. */
  wrong(store: RowStore, name: string, value: unknown): never
  /** Ends the step: there is no such cell. */
  unknown(store: RowStore, name: string): never
}
export type RowClass = new (store: RowStore, id: string, number: number, given?: object) => CompiledRow
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
/** What rows need of the store that they are in. */
export interface RowStore {
  readonly ids: IdMaker
  readonly undo: UndoLog
  readonly latest: LatestRows
  /** By 'rule.part'. */
  readonly tables: ReadonlyMap<string, RowFinder>
  /** True while a step may write. */
  readonly open: boolean
  /** Whether this step has marked a cell as dirty, and whether it has written one that was so already. */
  fresh: boolean
  again: boolean
  /** Bits of the settle handlers that this step has woken. */
  woken: number
  list(row: CompiledRow): void
  touch(row: PolicyRow): void
  /** Gives a row its inner id and returns it. */
  identify(row: CompiledRow): string
  /** The seat that a handler asked for and that does not exist, where that fails the step. */
  missing: string | undefined
  /** Rows that this step has brought back, or given back the names that they had before. */
  broughtBack: ReadonlySet<CompiledRow> | undefined
  /** A row of a part has been removed: nothing may name it any more. */
  letGo(path: string, number: number): void
  /** Ends the step: something is written that may not be. */
  refuse(what: string): never
  fail(error: RefereeError): never
}
/** Which rows wait for a later flush. */
export interface LatestRows {
  readonly now: number
  /** True if a changed cell must wait that was last sent at `told`. */
  waits(told: number, every: number): boolean
  until(due: number): void
  keep(row: CompiledRow): void
}
/** Rows of a table by their numbers and inner ids. */
export interface RowFinder {
  idOf(number: number): string | undefined
  numberOf(id: string): number | undefined
}
