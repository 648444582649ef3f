export {
  type Audience,
  allViewers,
  anyOf,
  except,
  noViewers,
  only,
  reaches,
  SERVER,
  type Seat,
  sameAudience,
  someoneLost,
} from './audience.ts'
export type {
  AnyCell,
  Bounded,
  Cell,
  CellKind,
  Cells,
  Choice,
  Gone,
  Mark,
  Numeric,
  Reference,
} from './cell.ts'
export { shown } from './cell.ts'
export { json, list, map, maybe, set } from './collections.ts'
export { editMembers, escapeInPath } from './edits.ts'
export {
  InvalidInput,
  type Known as KnownNames,
  type Parse,
  type Parsed,
  prepareParse,
  preparePart,
  prepareShow,
  type Show,
} from './parse.ts'
export {
  type Complete,
  type Derived,
  type LookAt,
  type Mask,
  type Masks,
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
export { compileFill, type Values } from './payload.ts'
export type { RowReference } from './references.ts'
export { renameSeat } from './rename-seat.ts'
export { rowCell, tableOf, withEach } from './row-cells.ts'
export { type CompiledRow, compileRow, type Facet, type PolicyRow, type RowShape } from './row-class.ts'
export type { IdMaker } from './row-ids.ts'
export { MAX_FACETS } from './row-layout.ts'
export { RowMap } from './row-map.ts'
export {
  INNER,
  idFor,
  isOneName,
  loadNames,
  nameFor,
  type RowNames,
  type SavedNames,
  saveNames,
} from './row-names.ts'
export type { Flat, Given, MarkOf, Row, Rows, Seats, Settled, WithId } from './rows.ts'
export { cellsApart, type SavedPart, type SavedRow } from './saved-part.ts'
export { amount, choice, flag, int, num, rowOf, seatRef, text, time } from './scalars.ts'
export {
  audienceOf,
  bySetting,
  everyone,
  group,
  nobody,
  owner,
  type Reach,
  reachOf,
  type Sight,
  type SightContext,
  side,
  sightKey,
} from './sights.ts'
export { Store } from './store.ts'
export { KeyedTable, SeatTable, SingleTable, type StoredPart } from './tables.ts'
export { lookAt, Trace } from './traced-row.ts'
export { type Undoable, UndoLog } from './undo.ts'
