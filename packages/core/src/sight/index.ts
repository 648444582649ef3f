export { MergeBox } from './merge-box.ts'
export { NamedRows } from './named-rows.ts'
export { noticesFor, partingNotices, sortForAll } from './notice-order.ts'
export { type Notice, PendingNotice, type SavedNotice } from './notices.ts'
export { Outbox } from './outbox.ts'
export { type Boxes, PartPatch } from './part-patch.ts'
export {
  inSendingOrder,
  isSteady,
  writePlainRow,
  writePlainRowForServer,
  writeSteadyRows,
} from './plain-rows.ts'
export { writeRow, writeRowForServer } from './policy-rows.ts'
export { clockText, type ViewedRule, viewText } from './view.ts'
export { presence, seesCell, seesRow } from './who-sees.ts'
