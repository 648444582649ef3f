export {
  type ClientMatch,
  type ClientState,
  type ConnectOptions,
  connect,
  type Refused,
} from './client-match.ts'
export type { BareSocket, SocketClass } from './line.ts'
