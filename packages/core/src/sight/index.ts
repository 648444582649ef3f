export { eventSight, type EventSight, NOTICE_LASTS, type Notice, noticeFor, type Telling, telling } from './notices.ts'
export { Outbox } from './outbox.ts'
export { bySetting, everyone, nobody, owner } from './sights.ts'
export { clockText, clocksText, type NamedPart, type NamedParts, viewText } from './view.ts'
