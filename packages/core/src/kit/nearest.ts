import { distance } from 'fastest-levenshtein'
import { RefereeError } from './errors.ts'

/** Returns the known name with the most similar spelling, or nothing if none is similar enough. */
export function nearest(name: string, known: readonly string[]): string | undefined {
  const [best] = known
    .map((each) => ({ each, far: distance(name.toLowerCase(), each.toLowerCase()) }))
    .sort((a, b) => a.far - b.far)
  return best !== undefined && best.far <= Math.max(2, Math.floor(name.length / 2)) ? best.each : undefined
}

/** Says of each name that is not known that there is none, and which, of those known elsewhere too, may be meant. */
export const unknownAmong = (
  names: readonly string[],
  what: string,
  known: readonly string[],
  elsewhere: readonly string[] = [],
): string[] =>
  names.flatMap((name) => {
    if (known.includes(name)) return []
    const near = nearest(name, [...known, ...elsewhere])
    const hint =
      near === undefined
        ? `; there are ${known.map((each) => `'${each}'`).join(', ') || 'none'}`
        : ` (did you mean '${near}'?)`
    return `there is no ${what} '${name}'${hint}`
  })

/**
 * A misspelt option would change nothing, and nobody would notice.
 * @throws ZR_OPTION_UNKNOWN
 */
export function assertOptions(where: string, given: object, known: readonly string[]): void {
  const issues = unknownAmong(Object.keys(given), 'option', known)
  if (issues.length > 0) throw new RefereeError('ZR_OPTION_UNKNOWN', { where, issues })
}
