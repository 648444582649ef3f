export { type Chance, type Seed, Stream, seedKey } from './streams.ts'
