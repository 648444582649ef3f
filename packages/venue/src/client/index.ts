export { connect } from './client-match.ts'
export type {
  ActRuling,
  AnyActions,
  Client,
  ClientMatch,
  ClientState,
  ConnectOptions,
  PartAt,
  PathOf,
  Refused,
} from './client-types.ts'
export type { BareSocket, SocketClass } from './line.ts'
export { socketOver, type Way, type WayEvents } from './socket-over.ts'
