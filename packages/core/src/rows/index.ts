export { renameSeat } from './rename-seat.ts'
export type { CompiledRow, IdMaker, PolicyRow, RowNames, RowReference, RowShape } from './row.ts'
export { compileRow } from './row-class.ts'
export { MAX_FACETS } from './row-layout.ts'
export { RowMap } from './row-map.ts'
export {
  INNER,
  idFor,
  isOneName,
  loadNames,
  nameFor,
  type SavedNames,
  saveNames,
} from './row-names.ts'
export { cellsApart, type SavedPart } from './saved-part.ts'
export { Store } from './store.ts'
export { KeyedTable, SeatTable, SingleTable, type StoredPart } from './tables.ts'
export { lookAt, Trace } from './traced-row.ts'
export { type Undoable, type UndoableRow, UndoLog } from './undo.ts'
