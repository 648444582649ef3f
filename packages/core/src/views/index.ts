export { type InitialView, isSpectator, type Update, Viewing } from './viewing.ts'
