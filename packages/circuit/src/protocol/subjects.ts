import { tokenOf } from './places.ts'

/** The subject of a match, which has all its messages. */
export const subjectOf = (match: string): string => `match.${tokenOf(match)}`
