export { type Harness, playMatch } from './play-match.ts'
