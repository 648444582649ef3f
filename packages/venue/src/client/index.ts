export { type ClientMatch, type ConnectOptions, connect, type Refused } from './client-match.ts'
