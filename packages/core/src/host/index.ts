export type { HostClock } from './clock.ts'
export type { Beat, HostOptions, Listener } from './host-options.ts'
export { MatchHost } from './match-host.ts'
