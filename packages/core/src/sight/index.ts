export { NamedRows } from './named-rows.ts'
export {
  type EventSight,
  eventSight,
  NOTICE_LASTS,
  type Notice,
  noticeFor,
  type Telling,
  telling,
} from './notices.ts'
export { Outbox } from './outbox.ts'
export { tellPlainRow } from './plain-rows.ts'
export { presence, seesRow, tellRow } from './policy-rows.ts'
export { bySetting, everyone, nobody, owner } from './sights.ts'
export { clocksText, clockText, type NamedPart, type NamedParts, viewText } from './view.ts'
