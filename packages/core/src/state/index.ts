export {
  type Audience,
  allViewers,
  anyOf,
  except,
  noViewers,
  only,
  reaches,
  someoneLost,
} from './audience.ts'
export {
  type AnyCell,
  amount,
  type Bounded,
  type Cell,
  type CellKind,
  type Cells,
  type Choice,
  choice,
  flag,
  int,
  list,
  type Mark,
  maybe,
  num,
  type Reach,
  rowOf,
  type Seat,
  type Sight,
  seatRef,
  shown,
  text,
  time,
} from './cell.ts'
export {
  type Complete,
  type LookAt,
  type Own,
  type Part,
  type PerSeat,
  perSeat,
  type Single,
  type Span,
  type State,
  single,
  type Table,
  table,
} from './parts.ts'
export { compileFill, type Known as KnownNames, type Parsed, parseCells, type Values } from './payload.ts'
export {
  type CompiledRow,
  compileRow,
  escapeInPath,
  type Facet,
  type Out,
  type PolicyRow,
  type RowClass,
  type RowShape,
} from './row-class.ts'
export type { Flat, Given, MarkOf, Row, Rows, Seats, Settled, WithId } from './rows.ts'
export { Store } from './store.ts'
export { KeyedTable, type SavedPart, SeatTable, SingleTable, type StoredPart } from './tables.ts'
export { type Undoable, UndoLog } from './undo.ts'
