export { NamedRows } from './named-rows.ts'
export {
  NOTICE_LASTS,
  type Notice,
  noticesFor,
  PendingNotice,
  partingNotices,
  type SavedNotice,
  sortForAll,
} from './notices.ts'
export { Outbox } from './outbox.ts'
export { PartPatch } from './part-patch.ts'
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
