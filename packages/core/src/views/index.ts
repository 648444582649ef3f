export type { InitialView, Update } from './update.ts'
export { isSpectator, Viewing } from './viewing.ts'
