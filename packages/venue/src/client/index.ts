export { connect, type ClientMatch, type ConnectOptions, type Refused } from './client-match.ts'
