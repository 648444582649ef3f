export { type Crowd, type Demo, type Line, playOut } from './crowd.ts'
export { type Harness, playMatch } from './play-match.ts'
export { randomCrowd, randomValue } from './random-crowd.ts'
