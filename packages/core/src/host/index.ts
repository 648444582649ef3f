export type { HostClock } from './clock.ts'
export { type HostOptions, type Listener, MatchHost } from './match-host.ts'
