import type { Place } from '../modes/own-sources.ts'

/** Such as `stall.ts:7`. */
export const placeText = (place: Place | undefined): string =>
  place === undefined ? '' : `${place.file}:${place.line}`
