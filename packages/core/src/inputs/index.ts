export { Inbox } from './inbox.ts'
export type { ActionOptions, InputTags, ReportOptions } from './input-tags.ts'
export type { Entry, Journal } from './journal.ts'
