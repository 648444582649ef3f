export { chanceFrom } from './free-chance.ts'
export { KeyedIds } from './keyed-ids.ts'
export { type Chance, type Seed, Stream, seedKey } from './streams.ts'
