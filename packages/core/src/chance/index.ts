export { chanceFrom } from './free-chance.ts'
export { type Chance, type Seed, Stream, seedKey } from './streams.ts'
