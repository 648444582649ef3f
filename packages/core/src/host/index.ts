export type { HostClock } from './clock.ts'
export { type Beat, type HostOptions, type Listener, MatchHost } from './match-host.ts'
