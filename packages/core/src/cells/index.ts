export {
  type Audience,
  anyOf,
  except,
  noViewers,
  only,
  reaches,
  SERVER,
  type Seat,
  SPECTATOR,
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
  OnClock,
  Reference,
} from './cell.ts'
export { type CellForm, formOf } from './cell-form.ts'
export { json, list, map, maybe, set } from './collections.ts'
export { editMembers, escapeInPath } from './edits.ts'
export { fewValues } from './few-values.ts'
export {
  InvalidInput,
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
  type Policies,
  perSeat,
  type Single,
  type Span,
  type State,
  single,
  type Table,
  table,
} from './parts.ts'
export { compileDefaults, type Values } from './payload.ts'
export { rowCell, tableOf, withEach } from './row-cells.ts'
export type { Flat, Given, MarkOf, Row, Rows, Seats, Settled, WithId } from './row-types.ts'
export { amount, choice, flag, int, num, rowOf, seatRef, text, time } from './scalars.ts'
export {
  audienceOf,
  bySetting,
  everyone,
  group,
  near,
  nobody,
  owner,
  type Reach,
  reachOf,
  type Sight,
  type SightContext,
  side,
  sightKey,
} from './sights.ts'
