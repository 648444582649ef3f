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

// The interfaces between a row, its layout and its store. The functions are in the files next to this one.

/** Members of a row of any table. The compiler adds accessors for its cells. */
export interface CompiledRow {
  readonly id: string
  readonly $store: RowStore
  /** The inner id: a seat for its rows; for those of tables '' until somebody asks for it. */
  $id: string
  /** Never sent: references and the hash use it. */
  readonly $number: number
  /** The path of a row with a fixed id in a view. */
  $where: string
  $live: boolean
  /** True if those who may see it have been sent it. */
  $sent: boolean
  $listed: boolean
  /** The names by which viewers know a table's row, now and when it was last sent. */
  $names: RowNames | undefined
  $sentNames: RowNames | undefined
  /** Its part of the hash, cached until it is written. For rows of tables: most of them never change again. */
  $lanes: Lanes | undefined
  /** Keeps the indexes of the row's table, while it is in one that has any. */
  $index: RowIndex | undefined
  $restore(code: number, old: unknown): void
  $keep(code: number, old: unknown): void
  /** A cell as handlers read it, and as it is kept. */
  $cell(name: string): unknown
  $kept(name: string): unknown
  /**
   * Returns all values in the order of the cells, with null for nothing. Its counterpart loads them as already sent,
   * for a match that resumes from a snapshot.
   */
  $save(): unknown[]
  $load(values: readonly unknown[]): void
  $reset(): void
  /** The public id of one of its names, and the path of the row in a view under it. Both are kept: they cost microseconds. */
  $idUnder(name: number): string
  $pathUnder(name: number): string
  /** A facet's members as the inside of a JSON object; and operations, at a path of the row, on its dirty cells or on all, and their removal. */
  $members(facet: number): string
  $edit(facet: number, op: 'add' | 'replace', path: string): string
  /** A facet's changed cells that are sent as members of a JSON Merge Patch: `$edit` leaves them out. */
  $merged(facet: number): string
  $drop(facet: number, path: string): string
  /** Takes all dirty marks off. */
  $clean(): void
  $text(): string
  readonly $shape: RowShape
}
/** A row whose audience depends on itself. By facet: who sees it since the last step, and who was sent it. */
export interface PolicyRow extends CompiledRow {
  $touched: boolean
  /** Audiences of the facets, then of the masks. */
  $sights: readonly Audience[]
  /** The masks' values as JSON texts, now and when they were last sent. */
  $masks: readonly string[]
  $sentMasks: readonly string[]
  $sentSights: readonly Audience[]
}
/** Keeps a table's indexes current while its rows change. */
export interface RowIndex {
  moved(row: CompiledRow, cell: string, old: unknown): void
}
/** Makes the text of a row's id. It gives the same text each time. */
export interface IdMaker {
  text(table: number, row: number, name: number): string
}
/**
 * The name by which each viewer knows a row. Names are numbered from 0, and a name's public id is a keyed function of
 * table, row and name. It depends only on who could see the row before and after each step.
 */
export interface RowNames {
  /** The name that a new viewer of the row gets. It grows when anybody loses sight of the row, and is never undone. */
  readonly next: number
  /** The name for spectators, and for each seat without an entry of its own. */
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
  /** The effect on the cell when a row that it names is removed. */
  readonly gone: Gone
  /** Keeps, saves and writes the numbers. */
  readonly form: CellForm
  /** Returns ids as handlers read them. A removed row is left out. */
  read(store: RowStore, kept: unknown): unknown
  /** Returns the stored form of these ids, or nothing if one of them names no row. */
  write(store: RowStore, ids: unknown): unknown
  /** True if the row of this number is named. */
  names(kept: unknown, number: number): boolean
  /** The JSON text for somebody who knows rows by these ids, and does not see those without one. */
  text(kept: unknown, idOf: (number: number) => string | undefined): string
}
/** Cells of the same sight. */
export interface Facet {
  readonly names: readonly string[]
  /** Cells that name rows. A viewer gets them by the rows that it sees. */
  readonly references: readonly string[]
  readonly policy: (row: CompiledRow, look: SightContext) => Audience
}
/**
 * Shown in place of a cell to those who get the mask and do not see the cell. If no cell has its name, it is an
 * additional member.
 */
export interface MaskPlan {
  readonly name: string
  /** The facet of the cell that it replaces; −1 if nobody sees that cell or there is none. */
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
  /** True if somebody may see it, so that changes are marked. */
  readonly seen: boolean
  readonly indexed: boolean
  readonly reference: RowReference | undefined
  /** Sent at most once in this many ms. Undefined: each change is sent. */
  readonly every: number | undefined
  /** True if a change is sent in a JSON Merge Patch (RFC 7396): only the latest counts, and it is never nothing. */
  readonly merges: boolean
}
/** The layout of a part's rows, for both ways of making their class. */
export interface RowLayout {
  readonly path: string
  readonly keyed: boolean
  readonly cells: Cells
  readonly each: readonly PlacedCell[]
  /** Number of words of dirty marks. */
  readonly words: number
  readonly facets: readonly Facet[]
  readonly masks: readonly MaskPlan[]
  /** True if any cell is sent in merge patches. */
  readonly merges: boolean
  /** True if anybody may see anything of its rows. */
  readonly isSeen: boolean
  /** The facets of plain parts, where who sees a cell does not depend on the row; −1 where there is none. */
  readonly everyone: number
  readonly owned: number
  /** True if a row's audience depends on the row. */
  readonly byRow: boolean
  readonly wakes: number
  /** The place of the part among all parts of a rulebook. */
  readonly place: number
  /** True for a table, whose rows get ids that are made, not given. */
  readonly drawn: boolean
  /** Tells its rows' ids apart from those of other tables. */
  readonly tag: number
  readonly indexed: readonly string[]
  /** Initial values of a part of the state. */
  readonly firsts: { readonly [cell: string]: unknown }
  /** Ends the step: the value does not fit the cell. */
  wrong(store: RowStore, name: string, value: unknown): never
  /** Ends the step: unknown cell. */
  unknown(store: RowStore, name: string): never
}
export type RowClass = new (store: RowStore, id: string, number: number, given?: object) => CompiledRow
export interface RowShape extends RowLayout {
  readonly RowOf: RowClass
}
/** Declarations of a part about its rows, besides their cells. */
export interface RowPlan {
  /** The path of its rows in a view, such as `/vitals/body`. */
  readonly path: string
  /** True if there is a row per key, false if there is one row. */
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
/** The store as rows need it. */
export interface RowStore {
  readonly ids: IdMaker
  readonly undo: UndoLog
  readonly latest: LatestRows
  /** By 'rule.part'. */
  readonly tables: ReadonlyMap<string, RowFinder>
  /** True while a step may write. */
  readonly open: boolean
  /** True if this step has marked a cell as dirty, or has written one that was dirty before. */
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
  releaseReferences(path: string, number: number): void
  /** Ends the step: something is written that may not be. */
  refuse(what: string): never
  fail(error: RefereeError): never
}
/** The rows that wait for a later flush. */
export interface LatestRows {
  readonly now: number
  /** True if a changed cell must wait that was last sent at `sent`. */
  waits(sent: number, every: number): boolean
  until(due: number): void
  keep(row: CompiledRow): void
}
/** Rows of a table by their numbers and inner ids. */
export interface RowFinder {
  idOf(number: number): string | undefined
  numberOf(id: string): number | undefined
}
