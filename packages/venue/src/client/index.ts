export { connect } from './client-match.ts'
export type {
  ActRuling,
  AnyActions,
  Client,
  ClientMatch,
  ClientState,
  ConnectOptions,
  Described,
  PartAt,
  PathOf,
  Refused,
} from './client-types.ts'
export type { BareSocket, SocketClass } from './line.ts'
export type { SettingField, SettingFields } from './setting-field.ts'
export { socketOver, type Way, type WayEvents } from './socket-over.ts'
